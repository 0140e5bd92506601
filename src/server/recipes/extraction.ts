import { randomUUID } from 'node:crypto';
import { Readable } from 'node:stream';
import { finished } from 'node:stream/promises';
import yazl from 'yazl';
import { entryUnder } from '@/core/archive';
import { collect, FormatError, refOfBytes, type BytesRef } from '@/core/bytes';
import { Recipe, type Conversion } from '@/core/recipe';
import { conversionOf, converterOf, type ToConvert } from '@/platform/node/convert';
import { MEDIA_WAYS } from '@/media/ways';
import { besideEntry, describedIn } from '@/platform/node/media-scripts';
import { LOG_NAME, logText, type RunItem } from '@/platform/node/run-log';
import { ArchivesInTurn } from '../opening/opened';
import { AS_THEY_ARE, planEntries, planRun, type Plan, type Ways } from './plan';
import { recipeRow } from './recipes';
import { mediaScriptFor } from '../opening/scripts';
import { UserError } from '@/platform/user-error';

export interface EntryRef {
  readonly archiveId: number;
  readonly index: number;
}

interface Ticket {
  readonly gameId: number;
  readonly ways: Pick<Ways, 'convert'>;
  /** Looked for when the download begins. */
  readonly plan: () => Promise<Plan>;
  readonly expires: number;
}

declare global {
  var zeroLatchTickets: Map<string, Ticket> | undefined;
}

const TICKET_MS = 10 * 60_000;
const tickets = (): Map<string, Ticket> => (globalThis.zeroLatchTickets ??= new Map<string, Ticket>());

function issue(ticket: Omit<Ticket, 'expires'>): string {
  const now = Date.now();
  for (const [id, { expires }] of tickets()) if (expires < now) tickets().delete(id);
  const id = randomUUID();
  tickets().set(id, { ...ticket, expires: now + TICKET_MS });
  return id;
}

/** A pick kept for a moment, so that the browser can fetch the download by a plain address. */
export function issueTicket(gameId: number, refs: readonly EntryRef[], convert: Ways['convert']): string {
  const ways = { ...AS_THEY_ARE, convert };
  return issue({ gameId, ways, plan: () => planEntries(gameId, refs, ways) });
}

/** What a recipe picks now, converted and named as it says, as a download instead of files in its folder. */
export async function issueRecipeTicket(gameId: number, recipeId: number): Promise<string> {
  const recipe = Recipe.parse((await recipeRow(gameId, recipeId)).recipe);
  return issue({ gameId, ways: recipe, plan: () => planRun(gameId, recipe) });
}

/** Up to this length an entry is held while it goes into the ZIP; a longer one is read twice. */
const CHECKED_WHOLE_BYTES = 32 * 1024 * 1024;
const MOST_CONVERTED_BYTES = 256 * 1024 * 1024;

/** A ZIP of a pick as a stream; what cannot be decoded is listed in it instead of breaking it. */
export function zipOf(ticketId: string): Readable {
  const ticket = tickets().get(ticketId);
  if (!ticket) throw new UserError(410, 'This download has expired. Pick the entries and start it again.');
  const zip = new yazl.ZipFile();
  const output = zip.outputStream as Readable;
  const fail = (error: unknown): void =>
    void output.destroy(error instanceof Error ? error : new Error(String(error)));
  zip.on('error', fail);
  void fillZip(zip, output, ticket).catch(fail);
  return output;
}

async function fillZip(zip: yazl.ZipFile, output: Readable, { gameId, ways, plan }: Ticket): Promise<void> {
  const { files, missing } = await plan();
  const failed: RunItem[] = missing.map((path) => ({
    ...{ state: 'missing', path, archive: '', file: '', reason: 'no open archive has it' },
  }));
  // One after the other, each to its end, so that no more than one is held and its archive stays open as long as it is read.
  const inTurn = new ArchivesInTurn(gameId);
  for (const { record, file } of files) {
    try {
      const { archive } = await inTurn.archive(record.archiveId);
      const found = archive.entries[record.index];
      if (!found) throw new UserError(410, 'It is no longer in its archive. Scan the folder again.');
      const plain = archive.plain(entryUnder(found, record.path));
      const conversion = conversionOf(ways, record.kind);
      if (conversion === 'stored') await addStored(zip, output, plain, file);
      else
        await add(
          zip,
          output,
          await converted(conversion, {
            plain,
            path: record.path,
            beside: besideEntry(archive, record.path),
            described: describedIn(archive, found),
          }),
          file,
          !PACKED.has(conversion),
        );
    } catch (error) {
      if (!(error instanceof FormatError || error instanceof UserError)) {
        inTurn.end();
        throw error;
      }
      const { path, archive } = record;
      failed.push({ state: 'failed', path, archive, file, reason: error.message });
    }
  }
  inTurn.end();
  if (failed.length > 0) zip.addBuffer(Buffer.from([...logText(failed)].join('')), LOG_NAME);
  zip.end();
}

async function addStored(zip: yazl.ZipFile, output: Readable, plain: BytesRef, name: string): Promise<void> {
  if (plain.length <= CHECKED_WHOLE_BYTES) return add(zip, output, refOfBytes(collect(plain)), name, true);
  await goThrough(plain, output);
  await add(zip, output, plain, name, true);
}

/** What an entry becomes, in memory. Throws FormatError where it cannot be converted or is too large for that. */
async function converted(conversion: Conversion, item: ToConvert): Promise<BytesRef> {
  const { plain, path } = item;
  let result: BytesRef | FormatError = plain;
  const context = { mediaScripts: mediaScriptFor, check: () => undefined };
  await converterOf(conversion)?.convert([item], context, (_i, made) => {
    if (made instanceof FormatError) result = made;
    else if (made.length <= MOST_CONVERTED_BYTES) result = refOfBytes(collect(made));
    else
      result = new FormatError('budget', {
        file: path,
        expected: `at most ${MOST_CONVERTED_BYTES / 2 ** 20} MB once it is converted`,
        actual: `${made.length} bytes`,
        remedy: 'Run the recipe into a folder',
      });
  });
  if ((result as unknown) instanceof FormatError) throw result;
  return result;
}

/** Reads all of something that is too long to be held, so that what is broken is known before its beginning is sent. */
async function goThrough(ref: BytesRef, output: Readable): Promise<void> {
  for (const chunk of ref.chunks()) {
    if (output.destroyed || chunk.length === 0) return;
    // Others are served in between.
    await new Promise(setImmediate);
  }
}

/** What is packed already gains nothing in a ZIP. */
const PACKED: ReadonlySet<Conversion> = new Set(
  MEDIA_WAYS.flatMap(([, { ways }]) => ways.filter(({ isPacked }) => isPacked).map(({ name }) => name)),
);
const GIVEN_UP = 'The download was given up.';

/** Puts something into the ZIP and waits until it has been read to its end; throws where whoever reads it has gone. */
async function add(
  zip: yazl.ZipFile,
  output: Readable,
  content: BytesRef,
  name: string,
  compress: boolean,
): Promise<void> {
  const stream = streamOf(content);
  if (output.destroyed) throw new Error(GIVEN_UP);
  const gone = (): void => void stream.destroy(new Error(GIVEN_UP));
  output.once('close', gone);
  try {
    const ended = finished(stream);
    zip.addReadStream(stream, name, { size: content.length, compress });
    await ended;
  } finally {
    output.off('close', gone);
  }
}

/** A stream over chunks; each is copied, since it is only good until the next one. It lets go of them once it has begun. */
export function streamOf(ref: BytesRef): Readable {
  // The ZIP keeps every stream until its end; what is behind it must not be kept as long.
  let source: BytesRef | undefined = ref;
  function* copies(): Generator<Buffer> {
    const chunks = source!.chunks();
    source = undefined;
    for (const chunk of chunks) yield Buffer.from(chunk);
  }
  return Readable.from(copies(), { objectMode: false });
}
