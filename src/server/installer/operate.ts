import { randomUUID } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import { flushFolder } from '@/platform/node/file-sink';
import { resolveInside } from '@/platform/node/inside';
import { hashFile } from '../hash-file';
import { UserError } from '../user-error';
import { readJournals, removeJournal, writeJournal, type Journal, type JournalFile } from './journal';
import { copyFlushed, keepOriginal } from './originals';

/** A file that an operation puts into the folder, or takes out of it. */
export interface Target extends JournalFile {
  /** Where the new bytes lie; undefined where the file is to go. */
  readonly from: string | undefined;
}

export interface InstallerPlaces {
  readonly originals: string;
  readonly journals: string;
}

/** The name under which a new file waits beside the old one. */
const staged = (target: string, id: string): string =>
  path.join(path.dirname(target), `.${path.basename(target)}.${id}.new`);

/**
 * Changes files of a game folder as one step. Every overwritten file is kept first; all new files are
 * written beside the old ones, flushed and checked; only then are they renamed, under a journal. A kill
 * before the renames leaves the old folder, a kill during them is carried through by `recover`.
 */
export function operate(
  folder: string,
  title: string,
  targets: readonly Target[],
  places: InstallerPlaces,
  onStep: (what: string) => void = () => undefined,
  about?: unknown,
): readonly JournalFile[] {
  const id = randomUUID();
  const files = targets.map(({ path: name, before, after, made }) => ({
    path: name,
    before,
    after,
    ...(made !== undefined && { made }),
  }));
  let journal: Journal = { id, title, folder, state: 'staging', files, about };
  for (const target of targets) {
    onStep(`keeping ${target.path}`);
    keepBefore(folder, target, places);
  }
  // Before the first folder is made, so that a kill leaves none behind.
  journal = { ...journal, files: files.map((file) => withMade(folder, file)) };
  writeJournal(places.journals, journal);
  try {
    for (const target of targets) {
      onStep(`writing ${target.path}`);
      stage(folder, target, id);
    }
    // Between here and the first rename nothing may have touched the folder.
    for (const target of targets) requireBefore(resolveInside(folder, target.path), target);
  } catch (error) {
    undo(journal);
    removeJournal(places.journals, id);
    throw error;
  }
  const committing: Journal = { ...journal, state: 'committing' };
  writeJournal(places.journals, committing);
  commit(committing, onStep);
  removeJournal(places.journals, id);
  return committing.files;
}

/** Notes the outermost folder that has to be made for a file; one that an earlier operation made stays noted. */
function withMade(folder: string, file: JournalFile): JournalFile {
  if (file.after === null || file.made !== undefined) return file;
  let missing: string | undefined;
  for (let at = path.dirname(file.path); at !== '.' && at !== '/'; at = path.dirname(at)) {
    if (fs.existsSync(path.join(folder, at))) break;
    missing = at;
  }
  return missing === undefined ? file : { ...file, made: missing };
}

/** Removes folders that were made for files which are gone, once nothing is in them. */
function dropMade(folder: string, files: readonly JournalFile[]): void {
  const made = files.flatMap((file) => (file.made === undefined ? [] : [file.made]));
  for (const file of files)
    for (let at = path.dirname(file.path); at !== '.'; at = path.dirname(at)) {
      if (!made.some((top) => at === top || at.startsWith(`${top}/`))) break;
      try {
        fs.rmdirSync(path.join(folder, at));
      } catch {
        // Something else is in it, or it is gone.
        break;
      }
    }
}

function keepBefore(folder: string, target: Target, places: InstallerPlaces): void {
  const file = resolveInside(folder, target.path);
  requireBefore(file, target);
  if (target.before !== null) keepOriginal(places.originals, file, target.before);
}

function requireBefore(file: string, target: Target): void {
  const now = hashFile(file) ?? null;
  if (now !== target.before)
    throw new UserError(
      409,
      `${target.path} is not what it was when this was planned: something else changed it. Nothing was overwritten. Scan the folder and build again.`,
    );
}

function stage(folder: string, target: Target, id: string): void {
  if (target.from === undefined) return;
  const file = resolveInside(folder, target.path);
  fs.mkdirSync(path.dirname(file), { recursive: true });
  const beside = staged(file, id);
  copyFlushed(target.from, beside);
  if (hashFile(beside) !== target.after)
    throw new UserError(
      409,
      `${target.path} was written, but does not read back as it should. Nothing was overwritten. Check the disk.`,
    );
}

function commit(journal: Journal, onStep: (what: string) => void): void {
  for (const file of journal.files) {
    onStep(`placing ${file.path}`);
    const target = resolveInside(journal.folder, file.path);
    if (file.after === null) fs.rmSync(target, { force: true });
    else if (fs.existsSync(staged(target, journal.id))) fs.renameSync(staged(target, journal.id), target);
    // Whoever took the file away may have taken its folder too.
    if (fs.existsSync(path.dirname(target))) flushFolder(path.dirname(target));
  }
  dropMade(
    journal.folder,
    journal.files.filter(({ after }) => after === null),
  );
}

function undo(journal: Journal): void {
  for (const file of journal.files)
    fs.rmSync(staged(resolveInside(journal.folder, file.path), journal.id), { force: true });
  dropMade(
    journal.folder,
    journal.files.filter(({ before, after }) => before === null && after !== null),
  );
}

/** What became of an operation that was cut short. */
export interface Recovered {
  readonly title: string;
  readonly folder: string;
  /** The folder is as before the operation, as after it, or could not be mended yet. */
  readonly outcome: 'old' | 'new' | 'stuck';
  readonly detail: string;
  readonly files: readonly JournalFile[];
  readonly about: unknown;
}

/** Brings every operation that was cut short to one end or the other. Called at each start. */
export function recover(places: InstallerPlaces): Recovered[] {
  return readJournals(places.journals).map((journal) => {
    const { title, folder, files, about } = journal;
    try {
      if (journal.state === 'staging') {
        undo(journal);
        removeJournal(places.journals, journal.id);
        return {
          title,
          folder,
          files,
          about,
          outcome: 'old',
          detail: 'It was cut short before anything was overwritten; the folder is as it was.',
        };
      }
      commit(journal, () => undefined);
      const wrong = files.find((file) => (hashFile(resolveInside(folder, file.path)) ?? null) !== file.after);
      if (wrong)
        return {
          title,
          folder,
          files,
          about,
          outcome: 'stuck',
          detail: `${wrong.path} is neither the old nor the new file.`,
        };
      removeJournal(places.journals, journal.id);
      return {
        title,
        folder,
        files,
        about,
        outcome: 'new',
        detail: 'It was cut short while files were placed; the rest was placed now.',
      };
    } catch (error) {
      return {
        title,
        folder,
        files,
        about,
        outcome: 'stuck',
        detail: error instanceof Error ? error.message : String(error),
      };
    }
  });
}
