import { randomUUID } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import { Readable } from 'node:stream';
import yazl from 'yazl';
import { entryUnder, portablePath, type EntryStore, type StoredEntry } from '@/core/archive';
import { FormatError, type BytesRef } from '@/core/bytes';
import { TargetNames, extractEntries } from '@/platform/node/extract-files';
import { isInside } from '@/platform/node/inside';
import { findEntriesByRef, type EntryRecord } from './catalogue';
import { findGame, listGames } from './games';
import type { JobContext } from './job-context';
import { openedArchive } from './opened';
import { storageRoot } from './storage';
import { pixelsOf, toPng, wholeEntry } from './preview';
import { UserError } from './user-error';

export interface EntryRef {
  readonly archiveId: number;
  readonly index: number;
}

interface Picked {
  readonly archive: EntryStore;
  /** The entry with the path that the scan settled. */
  readonly entry: StoredEntry;
  readonly record: EntryRecord;
}

async function* picked(gameId: number, refs: readonly EntryRef[]): AsyncGenerator<Picked> {
  for (const record of await findEntriesByRef(gameId, refs)) {
    const { archive } = await openedArchive(gameId, record.archiveId);
    const entry = archive.entries[record.index];
    if (entry) yield { archive, record, entry: entryUnder(entry, record.path) };
  }
}

/** The folder for an extraction: anywhere but in a registered game. */
export async function checkOutputFolder(folder: string): Promise<string> {
  if (!path.isAbsolute(folder)) throw new UserError(400, 'Give the whole path of the folder to write to.');
  const parent = path.dirname(path.resolve(folder));
  const stat = fs.statSync(parent, { throwIfNoEntry: false });
  if (!stat?.isDirectory())
    throw new UserError(400, `${parent} is not there. Make it first, or choose another place.`);
  const real = path.join(fs.realpathSync(parent), path.basename(folder));
  for (const game of await listGames())
    if (isInside(game.folder, real))
      throw new UserError(
        409,
        `${real} lies in the folder of ${game.title}. Only the installer writes there; choose a place outside of it.`,
      );
  return real;
}

/** Where what is taken out of a game goes when nothing else is said: a folder of its own beside the application's data. */
export async function defaultFolder(gameId: number): Promise<string> {
  const { title } = await findGame(gameId);
  const root = path.join(path.dirname(storageRoot()), 'extracted');
  fs.mkdirSync(root, { recursive: true });
  return path.join(root, portablePath(title.replace(/[/\\]/g, '_')));
}

export interface ExtractResult {
  readonly folder: string;
  readonly written: number;
  readonly failed: readonly { path: string; reason: string }[];
  readonly bytes: number;
}

/** Writes picked entries below a folder. A broken one is listed and does not stop the others. */
export async function extractToFolder(
  gameId: number,
  refs: readonly EntryRef[],
  folder: string,
  job: JobContext,
): Promise<ExtractResult> {
  const target = await checkOutputFolder(folder);
  const names = new TargetNames();
  const failed: { path: string; reason: string }[] = [];
  let bytes = 0;
  let begun = 0;
  let written = 0;
  const byArchive = new Map<number, EntryRecord[]>();
  for (const record of await findEntriesByRef(gameId, refs))
    if (!byArchive.get(record.archiveId)?.push(record)) byArchive.set(record.archiveId, [record]);
  for (const [archiveId, records] of byArchive) {
    const { archive } = await openedArchive(gameId, archiveId);
    function* entries(): Generator<StoredEntry> {
      for (const record of records) {
        job.check();
        job.progress(begun++, refs.length, 'items', record.path);
        const entry = archive.entries[record.index];
        if (entry) yield entryUnder(entry, record.path);
      }
    }
    const done = await extractEntries(archive, entries(), target, names, {
      onEntry(result) {
        if (result.error) failed.push({ path: result.entry.path, reason: result.error.message });
        bytes += result.bytes;
      },
    });
    written += done.written;
  }
  if (failed.length > 0)
    fs.writeFileSync(
      path.join(target, 'not-extracted.txt'),
      failed.map(({ path: name, reason }) => `${name}\t${reason}\n`).join(''),
    );
  return { folder: target, written, failed, bytes };
}

interface Ticket {
  readonly gameId: number;
  readonly refs: readonly EntryRef[];
  readonly asPng: boolean;
  readonly expires: number;
}

declare global {
  var zeroLatchTickets: Map<string, Ticket> | undefined;
}

const TICKET_MS = 10 * 60_000;
const tickets = (): Map<string, Ticket> => (globalThis.zeroLatchTickets ??= new Map<string, Ticket>());

/** A pick kept for a moment, so that the browser can fetch the download by a plain address. */
export function issueTicket(gameId: number, refs: readonly EntryRef[], asPng: boolean): string {
  const now = Date.now();
  for (const [id, ticket] of tickets()) if (ticket.expires < now) tickets().delete(id);
  const id = randomUUID();
  tickets().set(id, { gameId, refs, asPng, expires: now + TICKET_MS });
  return id;
}

/** Below this an entry is decoded whole and checked before it goes into the ZIP. */
const CHECKED_FIRST_BYTES = 32 * 1024 * 1024;

/** A ZIP of a pick as a stream; what cannot be decoded is listed in it instead of breaking it. */
export function zipOf(ticketId: string): Readable {
  const ticket = tickets().get(ticketId);
  if (!ticket) throw new UserError(410, 'This download has expired. Pick the entries and start it again.');
  const zip = new yazl.ZipFile();
  const output = zip.outputStream as Readable;
  void fillZip(zip, ticket).catch((error: unknown) =>
    output.destroy(error instanceof Error ? error : new Error(String(error))),
  );
  return output;
}

async function fillZip(zip: yazl.ZipFile, { gameId, refs, asPng }: Ticket): Promise<void> {
  const names = new TargetNames();
  const failed: string[] = [];
  for await (const { archive, entry, record } of picked(gameId, refs)) {
    try {
      if (asPng && record.kind === 'picture') {
        const png = await toPng(await pixelsOf(wholeEntry(archive, entry), entry.path));
        zip.addBuffer(png, names.take(entry.path.replace(/\.[^./]+$/, '.png')), { compress: false });
      } else if (entry.size <= CHECKED_FIRST_BYTES) {
        const name = names.take(entry.path);
        zip.addBuffer(Buffer.from(wholeEntry(archive, entry)), name);
      } else zip.addReadStream(streamOf(archive.plain(entry)), names.take(entry.path), { size: entry.size });
    } catch (error) {
      if (!(error instanceof FormatError || error instanceof UserError)) throw error;
      failed.push(`${entry.path}\t${error.message}`);
    }
    // Waits for the reader, so that a large pick is not held in memory.
    await drained(zip.outputStream as Readable);
  }
  if (failed.length > 0) zip.addBuffer(Buffer.from(failed.join('\n')), names.take('not-extracted.txt'));
  zip.end();
}

const MOST_WAITING_BYTES = 8 * 1024 * 1024;

async function drained(output: Readable): Promise<void> {
  while (output.readableLength > MOST_WAITING_BYTES && !output.destroyed)
    await new Promise((resolve) => {
      output.once('data', resolve);
      output.once('close', resolve);
    });
  await new Promise((resolve) => setImmediate(resolve));
}

/** A stream over chunks; each is copied, since it is only good until the next one. */
export function streamOf(ref: BytesRef): Readable {
  function* copies(): Generator<Buffer> {
    for (const chunk of ref.chunks()) yield Buffer.from(chunk);
  }
  return Readable.from(copies(), { objectMode: false });
}
