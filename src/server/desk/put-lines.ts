import { pathInTongue, tongueName, tongueOf, writtenAs } from '@/core/catalogue';
import { FormatError } from '@/core/bytes';
import type { Finding, FitShown, Mend } from '@/core/fit';
import { ChangeRow, DeskTextRow, DeskTongueRow } from '@/db';
import type { AddedLine, LineTable } from '@/media/text/core/lines';
import { UserError } from '@/platform/user-error';
import { addEntry } from '../mods/add-entry';
import { addFile } from '../mods/add-file';
import { changeSlot, isOfFolder, type ChangeSlot } from '../mods/change-slot';
import { asStep } from '../mods/history';
import { mendChange } from '../mods/mend';
import { keepChange, modRow, removeChange, replaceEntry } from '../mods/mods';
import { originalEntry } from '../mods/original-entry';
import { prepare } from '../mods/prepare';
import { foundInChange } from '../mods/wording';
import { MOST_PICTURE_BYTES, wholeEntry } from '../looking/preview';
import { openedEntry, type OpenedEntry } from '../opening/opened';
import { keepBlob, readBlob } from '../storage/storage';
import { checkAll, gameTongues, openDesk, type Desk, type DeskTable } from './desk';
import { MOST_PROGRAM_BYTES, originalBytes } from './read-tables';
import { writeLines, type WrittenText } from './write-lines';
import type { TableFile } from './find-tables';

/** What is given by the desk is called so, and told from what somebody gave as a file. */
const FROM_DESK = ' from the text desk';

export interface PutLines {
  /** Tables that were changed, and those that the game did not have. */
  readonly changed: readonly string[];
  readonly added: readonly string[];
  readonly lines: number;
  /** Changes that were taken out, since nothing is left of them. */
  readonly takenOut: readonly string[];
  readonly skipped: readonly { readonly path: string; readonly why: string }[];
}

/** What comes into one file. */
interface FileWork {
  readonly file: TableFile;
  readonly changes: Map<string, WrittenText>;
  readonly added: AddedLine[];
  /** Languages that the file gets, with the texts that there are, by key and number among namesakes. */
  readonly tongues: Map<string, readonly WrittenText[]>;
  lines: number;
}

/** A file that the game does not have yet: a table of a language of the mod's own. */
interface NewFile {
  readonly path: string;
  readonly like: TableFile;
  readonly tongue: string;
  readonly texts: readonly WrittenText[];
}

/**
 * Puts all lines that a mod has other texts for into its changes: each table is written anew with them, tables of a language that the game has not are added, and the lists in which
 * languages stand get its name. Lines that fail a check stop it unless that is said.
 */
export async function putLines(gameId: number, modId: number, isDespite: boolean): Promise<PutLines> {
  await modRow(gameId, modId);
  const rows = await DeskTextRow.findAll({
    where: { modId },
    attributes: ['tongue'],
    group: ['tongue'],
    raw: true,
  });
  const brought = await DeskTongueRow.findAll({ where: { modId }, raw: true });
  const targets = new Set([...rows.map(({ tongue }) => tongue), ...brought.map(({ tongue }) => tongue)]);
  const known = await gameTongues(gameId, modId);
  const source =
    known.find(({ tongue, isNew }) => !isNew && tongue === 'en')?.tongue ?? known[0]?.tongue ?? '';
  const files = new Map<string, FileWork>();
  const fresh: NewFile[] = [];
  const skipped: { path: string; why: string }[] = [];
  for (const target of targets) {
    const desk = await openDesk(gameId, modId, { source, target, others: [] });
    if (!isDespite) await refuseFailing(desk, known.find(({ tongue }) => tongue === target)?.name ?? target);
    const isNew = known.find(({ tongue }) => tongue === target)?.isNew ?? false;
    collect(desk, isNew, files, fresh, skipped);
  }
  if (brought.length > 0)
    nameTongues(await openDesk(gameId, modId, { source, target: source, others: [] }), brought, files);
  const done = { changed: [] as string[], added: [] as string[], lines: 0 };
  const slots = new Set<string>();
  const added = new Set<string>();
  const tried = async (path: string, lines: number, work: () => Promise<FitShown>): Promise<boolean> => {
    try {
      const fit = await work();
      if (fit === 'does not fit') skipped.push({ path, why: 'it does not fit; Changes says why' });
      else done.lines += lines;
      return fit !== 'does not fit';
    } catch (error) {
      if (!(error instanceof FormatError) && !(error instanceof UserError)) throw error;
      skipped.push({ path, why: error.message });
      return false;
    }
  };
  for (const work of files.values()) {
    const { path, archiveId, index } = work.file.record;
    const isIn = await tried(path, work.lines, async () => {
      const opened = await openedEntry(gameId, archiveId, index);
      const slot = await changeSlot(opened);
      slots.add(`${slot.archivePath} ${slot.entryIndex}`);
      return putTable(opened, modId, slot, work);
    });
    if (isIn) done.changed.push(path);
  }
  for (const { path, like, tongue, texts } of fresh) {
    const { archive, archiveId, index } = like.record;
    const isIn = await tried(path, texts.length, async () => {
      const bytes = await originalBytes(gameId, like.record, MOST_PICTURE_BYTES);
      const asked = {
        bytes,
        name: path,
        held: undefined,
        work: { sort: 'own file', tongue, texts } as const,
      };
      const given = givenAs(path, await writeLines(asked));
      return isOfFolder(archive)
        ? addFile(gameId, modId, path, given, like.record.path)
        : addEntry(gameId, modId, { archiveId, path, like: index }, given);
    });
    added.add(path);
    if (isIn) done.added.push(path);
  }
  const takenOut = await dropOld(gameId, modId, slots, added);
  return { ...done, takenOut, skipped };
}

const givenAs = (path: string, bytes: Uint8Array) => ({
  name: `${path.slice(path.lastIndexOf('/') + 1)}${FROM_DESK}`,
  blob: keepBlob(bytes),
  size: bytes.length,
});

/** Makes a table with its lines a change. What somebody gave as a file stays what was given, and has the lines of the desk laid over it. */
async function putTable(
  opened: OpenedEntry,
  modId: number,
  slot: ChangeSlot,
  work: FileWork,
): Promise<FitShown> {
  const { path } = work.file.record;
  const before = await ChangeRow.findOne({ where: { modId, ...slot } });
  const name = path.slice(path.lastIndexOf('/') + 1);
  const { held } = work.file;
  const lines = {
    sort: 'into it',
    changes: [...work.changes.values()],
    added: work.added,
    tongues: work.tongues,
  } as const;
  const original = wholeEntry(await originalEntry(opened), held ? MOST_PROGRAM_BYTES : MOST_PICTURE_BYTES);
  const written = (base: Uint8Array): Promise<Uint8Array> =>
    writeLines({ bytes: base, name: path, held, work: lines });
  if (!before?.preparedBlob || before.action !== 'replace' || before.givenName.endsWith(FROM_DESK))
    return replaceEntry(opened, modId, givenAs(path, await written(original)));
  const { givenName, givenBlob, givenSize, kind } = before;
  const mends = before.mends as Mend[];
  const ready = await prepare(original, path, kind, readBlob(givenBlob), givenName, new Set(mends));
  if (!ready.bytes) throw new UserError(409, `${givenName} was given for it and is no table of its form`);
  const bytes = await written(ready.bytes);
  const given = { name: givenName, blob: givenBlob, size: givenSize };
  const prepared = { blob: keepBlob(bytes), size: bytes.length };
  const findings = [...ready.findings, foundInChange('fits', LINES_LAID, { count: work.lines })];
  return asStep(modId, `putting lines into ${name}`, [slot], () =>
    keepChange(opened, modId, { given, kind, path: before.path, prepared, mends, findings }),
  );
}

/** Stands with what was given as a file and has lines of the desk laid over it. */
const LINES_LAID = 'desk-lines';

async function refuseFailing(desk: Desk, name: string): Promise<void> {
  await checkAll(desk);
  const failing = [...desk.work.keys()].filter((number) =>
    desk.findings[number]?.some(({ state }) => state === 'wrong'),
  );
  if (failing.length === 0) return;
  const first = desk.lines[failing[0]!]!;
  const why = desk.findings[failing[0]!]!.find(({ state }) => state === 'wrong')!;
  throw new UserError(
    409,
    `${failing.length} ${failing.length === 1 ? 'line' : 'lines'} in ${name} ${failing.length === 1 ? 'fails a check' : 'fail checks'}: ${first.key}, ${why.what}. Mend them, or put them in all the same.`,
  );
}

const idOfFile = ({ record }: TableFile): string => `${record.archiveId} ${record.index}`;

function workFor(files: Map<string, FileWork>, file: TableFile): FileWork {
  const id = idOfFile(file);
  let work = files.get(id);
  if (!work) files.set(id, (work = { file, changes: new Map(), added: [], tongues: new Map(), lines: 0 }));
  return work;
}

function collect(
  desk: Desk,
  isNew: boolean,
  files: Map<string, FileWork>,
  fresh: NewFile[],
  skipped: { path: string; why: string }[],
): void {
  const byPlace = new Map<string, number[]>();
  for (const [number, work] of desk.work) {
    const line = desk.lines[number]!;
    if (work.text === (line.was ?? '')) continue;
    const own = byPlace.get(line.place);
    if (own) own.push(number);
    else byPlace.set(line.place, [number]);
  }
  for (const table of desk.tables.values()) {
    const numbers = (byPlace.get(table.place) ?? []).sort((a, b) => a - b);
    if (table.target) intoTable(desk, table.target, numbers, files, skipped);
    else if (table.source && (isNew || numbers.length > 0)) {
      const { file, table: source } = table.source;
      const texts = textsFor(desk, numbers);
      const { path } = file.record;
      if (file.place && source.tongues.length === 1) {
        const { target: tongue } = desk.tongues;
        fresh.push({ path: pathInTongue(path, file.place, tongue), like: file, tongue, texts });
      } else if (source.withTongue) {
        const work = workFor(files, file);
        work.tongues.set(desk.tongues.target, texts);
        work.lines += numbers.length;
      } else if (numbers.length > 0)
        skipped.push({
          path,
          why: 'it holds several languages and has no place for this one; add it with another program first',
        });
    }
  }
}

/** The texts that a desk has. */
const textsFor = (desk: Desk, numbers: readonly number[]): WrittenText[] =>
  numbers.map((number) => {
    const { key, nth } = desk.lines[number]!;
    return { key, nth, column: 0, text: desk.work.get(number)!.text };
  });

function intoTable(
  desk: Desk,
  { file, table, column }: NonNullable<DeskTable['target']>,
  numbers: readonly number[],
  files: Map<string, FileWork>,
  skipped: { path: string; why: string }[],
): void {
  if (numbers.length === 0) return;
  const work = workFor(files, file);
  for (const number of numbers) {
    const { key, nth, was } = desk.lines[number]!;
    const { text } = desk.work.get(number)!;
    work.lines++;
    if (was === undefined && table.tongues.length === 1) {
      work.added.push({ key, texts: [text] });
      continue;
    }
    const id = `${key}\0${nth}\0${column}`;
    const other = work.changes.get(id);
    // What is in no language has one text only.
    if (other !== undefined && other.text !== text)
      skipped.push({
        path: file.record.path,
        why: `${key} is the same line in all languages and was written in two; ${tongueName(desk.tongues.target)} is not in it`,
      });
    else work.changes.set(id, { key, nth, column, text });
  }
}

/** A list of languages has a line for each of several, by its code or name. */
function isListOfTongues({ lines, tongues }: LineTable): boolean {
  const own = lines.map(({ key }) => tongueOf(key.slice(key.lastIndexOf('/') + 1)));
  return (
    tongues.length === 1 && lines.length > 1 && own.every((one) => one !== undefined) && new Set(own).size > 1
  );
}

/** Gives the languages that a mod brings their names in the lists that the game has of them. */
function nameTongues(
  desk: Desk,
  brought: readonly { readonly tongue: string; readonly name: string }[],
  files: Map<string, FileWork>,
): void {
  for (const { source } of desk.tables.values()) {
    if (!source || !isListOfTongues(source.table)) continue;
    const { file, table } = source;
    const [first] = table.lines;
    const before = first!.key.slice(0, first!.key.lastIndexOf('/') + 1);
    for (const { tongue, name } of brought) {
      if (table.lines.some(({ key }) => tongueOf(key.slice(before.length)) === tongue)) continue;
      workFor(files, file).added.push({
        key: `${before}${writtenAs(first!.key.slice(before.length), tongue)}`,
        texts: [name],
      });
    }
  }
}

/** Takes out what the desk put in before and has nothing of any more; what was given as a file is so again without its lines. */
async function dropOld(
  gameId: number,
  modId: number,
  slots: ReadonlySet<string>,
  added: ReadonlySet<string>,
): Promise<string[]> {
  const gone: string[] = [];
  for (const row of await ChangeRow.findAll({ where: { modId } })) {
    const isOwn = row.givenName.endsWith(FROM_DESK);
    const isLaid = (row.findings as Finding[]).some(({ code }) => code === `change.${LINES_LAID}`);
    if (!isOwn && !isLaid) continue;
    const stays =
      row.action === 'add' ? added.has(row.path) : slots.has(`${row.archivePath} ${row.entryIndex}`);
    if (stays) continue;
    if (isOwn) await removeChange(gameId, modId, row.id);
    else await mendChange(gameId, modId, row.id);
    gone.push(row.path);
  }
  return gone;
}
