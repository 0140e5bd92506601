import { createHash } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import { entryUnder, statedOf, type Entry, type EntryStore, type StoredEntry } from '@/core/archive';
import { FormatError, refOfBytes, type BytesRef } from '@/core/bytes';
import { isOfAnother, nameOf, unchanged, type Recipe, type SourceFacts, type Written } from '@/core/recipe';
import { ArchiveRow } from '@/db';
import { TargetNames } from '@/platform/node/extract-files';
import { resolveInside } from '@/platform/node/inside';
import { WrittenFolder } from '@/platform/node/written-folder';
import type { EntryRecord } from '../catalogue';
import { checkOutputFolder } from '../extraction';
import { presentGame } from '../games';
import type { JobContext } from '../job-context';
import { marksOf } from '../marks';
import { openedArchive } from '../opened';
import { wholeEntry } from '../preview';
import { labelsOf, readableNames } from '../readable-names';
import { UserError } from '../user-error';
import { conversionOf, converterOf } from './convert';
import { pickedBy } from './pick';

/** What became of an entry: `kept` are files that somebody else changed or wrote. */
export type ItemState = 'written' | 'skipped' | 'kept' | 'failed' | 'missing';

export interface RunItem {
  readonly state: ItemState;
  readonly path: string;
  readonly archive: string;
  readonly file: string;
  readonly reason: string;
}

export interface RunResult {
  readonly folder: string;
  readonly detail: string;
  readonly counts: Readonly<Record<ItemState, number>>;
  readonly bytes: number;
  /** Names that were changed, since some system could not hold them or another entry has them. */
  readonly renamed: number;
  /** What was not just skipped, as far as a page shows it; the log beside the output has all. */
  readonly items: readonly RunItem[];
}

/** A file that a run will write, as a preview shows it. */
export interface PlannedFile {
  readonly record: EntryRecord;
  readonly file: string;
  readonly wanted: string;
}

const MOST_ITEMS = 5000;
export const LOG_NAME = 'zero-latch-log.tsv';

/** The files that a recipe would write, with what it names that is not there. */
export async function planRun(
  gameId: number,
  recipe: Recipe,
): Promise<{ files: PlannedFile[]; missing: readonly string[] }> {
  const [{ records, missing }, marks, readable] = await Promise.all([
    pickedBy(gameId, recipe),
    marksOf(gameId),
    readableNames(gameId),
  ]);
  const names = new TargetNames();
  // Not to be written over by an entry of the same name.
  names.take(LOG_NAME);
  const files = records.map((record): PlannedFile => {
    const { path: entryPath, archive, index, hash, kind } = record;
    const alias = marks.byPath.get(entryPath)?.alias ?? '';
    const facts = {
      path: entryPath,
      archive,
      number: index,
      hash,
      alias: alias || labelsOf(readable, entryPath).join(' '),
    };
    const wanted = nameOf(recipe, facts, converterOf(conversionOf(recipe, kind))?.ending);
    return { record, wanted, file: names.take(wanted) };
  });
  return { files, missing };
}

/** Runs a recipe: writes what is new or changed, leaves alone what is as it was or what somebody edited. */
export async function runRecipe(
  gameId: number,
  recipeId: number,
  recipe: Recipe,
  job: JobContext,
): Promise<RunResult> {
  const folder = await checkOutputFolder(recipe.folder);
  const { files, missing } = await planRun(gameId, recipe);
  const out = new WrittenFolder(folder);
  const run = new Run(out, `${gameId}:${recipeId}`, recipe, job, files.length);
  try {
    for (const name of missing)
      run.tell({ state: 'missing', path: name, archive: '', file: '', reason: 'no open archive has it' });
    checkRoom(folder, files, out);
    const game = await presentGame(gameId);
    for (const [archiveId, planned] of byArchive(files))
      await run.archive(game.folder, gameId, archiveId, planned);
    return run.result(files);
  } finally {
    // Also where it is stopped or fails: what was written stays known.
    run.writeLog();
    out.close();
  }
}

function byArchive(files: readonly PlannedFile[]): Map<number, PlannedFile[]> {
  const groups = new Map<number, PlannedFile[]>();
  for (const file of files)
    if (!groups.get(file.record.archiveId)?.push(file)) groups.set(file.record.archiveId, [file]);
  return groups;
}

/** Refuses a run whose files will not fit; what is there already is counted as done. */
function checkRoom(folder: string, files: readonly PlannedFile[], out: WrittenFolder): void {
  const needed = files.reduce((sum, { file, record }) => sum + (out.known.has(file) ? 0 : record.size), 0);
  const { bavail, bsize } = fs.statfsSync(folder);
  if (needed > bavail * bsize)
    throw new UserError(
      507,
      `${folder} has room for ${Math.floor((bavail * bsize) / 1e6)} MB, and ${Math.ceil(needed / 1e6)} MB are to be written. Make room, or pick less.`,
    );
}

class Run {
  private readonly items: RunItem[] = [];
  private readonly lines: string[] = [];
  private readonly counts = { written: 0, skipped: 0, kept: 0, failed: 0, missing: 0 };
  private bytes = 0;
  private begun = 0;

  constructor(
    private readonly out: WrittenFolder,
    private readonly by: string,
    private readonly recipe: Recipe,
    private readonly job: JobContext,
    private readonly total: number,
  ) {}

  tell(item: RunItem): void {
    this.counts[item.state]++;
    if (item.state !== 'skipped' && this.items.length < MOST_ITEMS) this.items.push(item);
    const { state, path: entry, archive, file, reason } = item;
    this.lines.push(`${state}\t${cell(entry)}\t${cell(archive)}\t${cell(file)}\t${cell(reason)}`);
  }

  async archive(
    gameFolder: string,
    gameId: number,
    archiveId: number,
    planned: readonly PlannedFile[],
  ): Promise<void> {
    let opened: Awaited<ReturnType<typeof openedArchive>>;
    try {
      opened = await openedArchive(gameId, archiveId);
    } catch (error) {
      if (!(error instanceof FormatError || error instanceof UserError)) throw error;
      for (const file of planned) this.fail(file, error.message);
      return;
    }
    const { row, archive } = opened;
    const state = stateOf(gameFolder, row);
    const scanned = row.sort === 'loose' ? state : await scannedState(row);
    if (state !== scanned) {
      for (const file of planned)
        this.fail(file, `${row.path} has changed since the folder was scanned. Scan it, then run this again`);
      return;
    }
    for (const [i, file] of planned.entries()) {
      this.job.check();
      this.job.progress(this.begun++, this.total, 'items', file.record.path);
      // Others of this process get their turn.
      if (i % 200 === 199) await new Promise(setImmediate);
      const source = row.sort === 'loose' ? stateOfFile(gameFolder, file.record.path) : state;
      try {
        await this.entry(row, archive, file, source);
      } catch (error) {
        if (!(error instanceof FormatError || error instanceof UserError)) throw error;
        this.fail(file, error.message);
      }
    }
    if (row.sort !== 'loose' && stateOf(gameFolder, row) !== state) this.doubt(row.path);
  }

  /** The archive was put in another's place while it was read: what was taken from it is looked at again at the next run. */
  private doubt(archive: string): void {
    for (const written of this.out.known.values())
      if (written.archive === archive) this.out.note({ ...written, source: '', stated: '', stored: '' });
    this.tell({
      ...{ state: 'failed', path: archive, archive, file: '' },
      reason: 'it changed while it was read; scan the folder and run this again',
    });
  }

  private async entry(
    row: ArchiveRow,
    archive: EntryStore,
    { record, file }: PlannedFile,
    source: string,
  ): Promise<void> {
    const found = archive.entries[record.index];
    if (!found) throw new UserError(410, 'It is no longer in its archive. Scan the folder again.');
    const conversion = conversionOf(this.recipe, record.kind);
    const about = {
      by: this.by,
      path: record.path,
      archive: row.path,
      source: `${source} ${found.index} ${found.offset} ${found.storedSize}`,
      settings: conversion,
    };
    const stated = (): string => (row.sort === 'loose' ? '' : statedOf(found as Entry));
    const told = { path: record.path, archive: row.path, file };
    const old = this.out.known.get(file);
    const there = this.out.standing(file);
    const standing = there === 'ours' && old && isOfAnother(old, about) ? 'foreign' : there;
    if ((standing === 'edited' || standing === 'foreign') && this.recipe.edited === 'keep') {
      const reason = standing === 'edited' ? 'somebody changed the file' : 'the file is not of this recipe';
      return this.tell({ ...told, state: 'kept', reason });
    }
    let stored = '';
    if (standing === 'ours' && old) {
      const reason = this.sameReason(
        old,
        { ...about, stated },
        () => (stored = hashOfStored(archive, found)),
      );
      if (reason) {
        if (old.source !== about.source)
          this.out.note({ ...old, ...about, stated: stated(), stored: stored || old.stored });
        return this.tell({ ...told, state: 'skipped', reason });
      }
    }
    const says = stated();
    if (says === '' && stored === '') stored = hashOfStored(archive, found);
    const entry = entryUnder(found, record.path);
    const converter = converterOf(conversion);
    const content: BytesRef = converter
      ? refOfBytes(new Uint8Array(await converter.convert(wholeEntry(archive, entry), entry.path)))
      : archive.plain(entry);
    if (
      !this.out.write(file, content, { ...about, stated: says, stored }, entry.modified, standing === 'ours')
    )
      return this.tell({ ...told, state: 'skipped', reason: 'its content is the same' });
    this.bytes += content.length;
    this.tell({ ...told, state: 'written', reason: old ? 'changed' : 'new' });
  }

  /** Why an entry need not be written; undefined where it must be. */
  private sameReason(old: Written, now: SourceFacts, hash: () => string): string | undefined {
    const answer = unchanged(old, now);
    if (answer === 'same')
      return old.source === now.source ? 'the archive is as it was' : 'the archive states the same checksum';
    if (answer === 'changed' || old.stored === '') return undefined;
    return hash() === old.stored ? 'its stored bytes are the same' : undefined;
  }

  private fail({ record, file }: PlannedFile, reason: string): void {
    this.tell({ state: 'failed', path: record.path, archive: record.archive, file, reason });
  }

  result(files: readonly PlannedFile[]): RunResult {
    const { written, skipped, kept, failed, missing } = this.counts;
    const part = (count: number, what: string): string => (count > 0 ? `, ${count} ${what}` : '');
    return {
      folder: this.out.root,
      detail: `${written} written, ${skipped} as they were${part(kept, 'edited and kept')}${part(failed, 'failed')}${part(missing, 'not there')}.`,
      counts: this.counts,
      bytes: this.bytes,
      renamed: files.filter(({ file, wanted }) => file !== wanted).length,
      items: this.items,
    };
  }

  writeLog(): void {
    if (!fs.existsSync(this.out.root)) return;
    this.out.text(LOG_NAME, `state\tpath\tarchive\tfile\treason\n${this.lines.join('\n')}\n`);
  }
}

/** Text of a cell: line ends and tabs in names would break the log. */
const cell = (text: string): string => (/[\t\r\n]/.test(text) ? text.replace(/[\t\r\n]/g, ' ') : text);

function hashOfStored(archive: EntryStore, entry: StoredEntry): string {
  const hash = createHash('sha256');
  for (const chunk of archive.stored(entry).chunks()) hash.update(chunk);
  return hash.digest('hex');
}

/** What the file of an archive, or of the one around it, was when the folder was scanned. */
async function scannedState(row: ArchiveRow): Promise<string> {
  const top =
    row.parentId === null
      ? row
      : await ArchiveRow.findOne({ where: { gameId: row.gameId, path: row.path.split('//')[0]! } });
  return top ? `${top.size} ${top.modifiedMs}` : 'gone';
}

/** Changes when the file of an archive does. */
function stateOf(gameFolder: string, row: ArchiveRow): string {
  return row.sort === 'loose' ? '' : stateOfFile(gameFolder, row.path.split('//')[0]!);
}

function stateOfFile(gameFolder: string, relative: string): string {
  const stat = fs.statSync(resolveInside(gameFolder, path.normalize(relative)), { throwIfNoEntry: false });
  return stat ? `${stat.size} ${Math.round(stat.mtimeMs)}` : 'gone';
}
