import { randomUUID } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import { flushFolder } from '@/platform/node/file-sink';
import { resolveInside } from '@/platform/node/inside';
import { makeFolders } from '@/platform/node/make-folders';
import { hashFile } from '../../building/hash-file';
import { UserError } from '@/platform/user-error';
import { beginJournal, closeJournal, moveJournal, type Journal, type JournalFile } from './journal';
import { copyFlushed, keepOriginal, originalFile } from './originals';

/** A file that an operation puts into the folder, or takes out of it. */
export interface Target extends JournalFile {
  /** Where the new bytes lie; undefined where the file is to go. */
  readonly from: string | undefined;
}

export interface InstallerPlaces {
  readonly originals: string;
  readonly journals: string;
}

/** What is not a file is none of those that an operation knows. */
const NO_FILE = 'no file';

/** Hash of what lies at a place; null where nothing does. */
function hashNow(target: string): string | null {
  const stat = fs.statSync(target, { throwIfNoEntry: false });
  return stat && !stat.isFile() ? NO_FILE : (hashFile(target) ?? null);
}

/** The name under which a file waits beside the one that is to give way. */
const staged = (target: string, id: string, sort = 'new'): string =>
  path.join(path.dirname(target), `.${path.basename(target)}.${id}.${sort}`);

export interface OperateOptions {
  readonly onStep?: (what: string) => void;
  /** What the records of the operation are written from, also after a kill. */
  readonly about?: unknown;
  readonly job?: string;
}

/**
 * Changes files of a game folder as one step. Every overwritten file is kept first; all new files are
 * written beside the old ones, flushed and checked; only then are they renamed, under a journal. A kill
 * before the renames leaves the old folder, a kill during them is carried through by `mend`; a file that cannot be placed
 * has those go back that were. The journal that is given back is open still: whoever asked closes it once the records are written.
 */
export function operate(
  folder: string,
  title: string,
  targets: readonly Target[],
  places: InstallerPlaces,
  { onStep = () => undefined, about, job }: OperateOptions = {},
): Journal {
  const files = targets.map(({ path: name, before, after, made }) => ({
    ...{ path: name, before, after },
    ...(made !== undefined && { made }),
  }));
  for (const target of targets) {
    onStep(`keeping ${target.path}`);
    keepBefore(folder, target, places);
  }
  const journal: Journal = {
    id: randomUUID(),
    title,
    // Before the first folder is made, so that a kill leaves none behind.
    ...{ folder, state: 'staging', files: files.map((file) => withMade(folder, file)), about },
    ...(job !== undefined && { job }),
  };
  beginJournal(places.journals, journal);
  try {
    for (const target of targets) {
      onStep(`writing ${target.path}`);
      stage(folder, target, journal.id);
    }
    // Between here and the first rename nothing may have touched the folder.
    for (const target of targets) requireBefore(resolveInside(folder, target.path), target);
  } catch (error) {
    dropStaged(journal);
    closeJournal(places.journals, journal.id);
    throw error;
  }
  const committing: Journal = { ...journal, state: 'committing' };
  moveJournal(places.journals, committing);
  try {
    place(committing, onStep);
  } catch (error) {
    takeBack(committing, places);
    const why = error instanceof Error ? error.message : String(error);
    throw new UserError(
      409,
      `A file could not be placed, so all of them are as they were before. ${why}. See that the folder may be written and nothing holds its files, then try again.`,
    );
  }
  const placed: Journal = { ...committing, state: 'placed' };
  moveJournal(places.journals, placed);
  return placed;
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
  const now = hashNow(file);
  if (now !== target.before)
    throw new UserError(
      409,
      `${target.path} is not what it was when this was planned: something else changed it. Nothing was overwritten. Scan the folder and build again.`,
    );
}

function stage(folder: string, target: Target, id: string): void {
  if (target.from === undefined) return;
  const file = resolveInside(folder, target.path);
  makeFolders(path.dirname(file));
  const beside = staged(file, id);
  copyFlushed(target.from, beside);
  if (hashFile(beside) !== target.after)
    throw new UserError(
      409,
      `${target.path} was written, but does not read back as it should. Nothing was overwritten. Check the disk.`,
    );
}

/** Gives the new files their names; throws at the first that cannot be placed. */
function place(journal: Journal, onStep: (what: string) => void): void {
  for (const file of journal.files) {
    onStep(`placing ${file.path}`);
    placeOne(journal, file);
  }
  dropMade(
    journal.folder,
    journal.files.filter(({ after }) => after === null),
  );
}

function placeOne({ folder, id }: Journal, { path: name, after }: JournalFile): void {
  const target = resolveInside(folder, name);
  if (after === null) fs.rmSync(target, { force: true });
  else fs.renameSync(staged(target, id), target);
  // Whoever took the file away may have taken its folder too.
  if (fs.existsSync(path.dirname(target))) flushFolder(path.dirname(target));
}

/** Removes the new files that have no names yet, and the folders that were made for them. */
function dropStaged(journal: Journal): void {
  for (const file of journal.files)
    for (const sort of ['new', 'old'])
      fs.rmSync(staged(resolveInside(journal.folder, file.path), journal.id, sort), { force: true });
  dropMade(
    journal.folder,
    journal.files.filter(({ before, after }) => before === null && after !== null),
  );
}

/**
 * Puts what was placed already back, from the kept copies, and closes the journal. Where that fails as well, the journal stays open and
 * `mend` goes on.
 */
function takeBack(journal: Journal, places: InstallerPlaces): readonly string[] {
  const undoing: Journal = { ...journal, state: 'undoing' };
  moveJournal(places.journals, undoing);
  const left: string[] = [];
  for (const file of [...journal.files].reverse()) {
    const target = resolveInside(journal.folder, file.path);
    const now = hashNow(target);
    if (now === file.before) continue;
    if (now !== file.after) {
      // Somebody else has written it meanwhile.
      left.push(file.path);
      continue;
    }
    if (file.before === null) fs.rmSync(target, { force: true });
    else {
      const beside = staged(target, journal.id, 'old');
      makeFolders(path.dirname(target));
      copyFlushed(originalFile(places.originals, file.before), beside);
      if (hashFile(beside) !== file.before)
        throw new UserError(
          409,
          `The kept copy of ${file.path} does not read back as it should. Check the disk.`,
        );
      fs.renameSync(beside, target);
    }
    if (fs.existsSync(path.dirname(target))) flushFolder(path.dirname(target));
  }
  dropStaged(journal);
  closeJournal(places.journals, journal.id);
  return left;
}

/** What became of an operation that was cut short. */
export interface Mended {
  /** The folder is as before the operation, as after it, or could not be mended yet. */
  readonly outcome: 'old' | 'new' | 'stuck';
  readonly detail: string;
  /** As after the operation; its records are still to be written. */
  readonly placed: Journal | undefined;
}

/**
 * Brings an operation that was cut short to one end or the other; any number of times over. It looks before it writes: a file that
 * somebody else has written meanwhile stays as it is.
 */
export function mend(journal: Journal, places: InstallerPlaces): Mended {
  try {
    if (journal.state === 'placed')
      return {
        outcome: 'new',
        detail: 'All files were placed; the records were written now.',
        placed: journal,
      };
    // A folder that is not there, a drive that is not plugged in say, is no folder whose files are gone.
    if (!fs.statSync(journal.folder, { throwIfNoEntry: false })?.isDirectory())
      return { outcome: 'stuck', detail: `${journal.folder} is not there.`, placed: undefined };
    if (journal.state === 'staging') {
      dropStaged(journal);
      closeJournal(places.journals, journal.id);
      const detail = 'It was cut short before anything was overwritten; the folder is as it was.';
      return { outcome: 'old', detail, placed: undefined };
    }
    if (journal.state === 'undoing')
      return {
        outcome: 'old',
        detail: `A file could not be placed; those that were went back.${toldLeft(takeBack(journal, places))}`,
        placed: undefined,
      };
    const lost = journal.files.find((file) => isLost(journal, file));
    if (lost)
      return {
        outcome: 'old',
        detail: `The new ${lost.path} that lay beside the old one is gone or damaged, so that what was placed went back.${toldLeft(takeBack(journal, places))}`,
        placed: undefined,
      };
    const left = placeRest(journal, places);
    const placed: Journal = { ...journal, state: 'placed' };
    moveJournal(places.journals, placed);
    return {
      outcome: 'new',
      detail: `It was cut short while files were placed; the rest was placed now.${toldLeft(left)}`,
      placed,
    };
  } catch (error) {
    return {
      outcome: 'stuck',
      detail: error instanceof Error ? error.message : String(error),
      placed: undefined,
    };
  }
}

const toldLeft = (left: readonly string[]): string =>
  left.length === 0
    ? ''
    : ` ${left.join(', ')} had been changed by something else meanwhile and ${left.length === 1 ? 'was' : 'were'} left as found.`;

/** Whether a file is still the old one, and the new one cannot take its place any more. */
function isLost({ folder, id }: Journal, { path: name, before, after }: JournalFile): boolean {
  const target = resolveInside(folder, name);
  return after !== null && hashNow(target) === before && hashFile(staged(target, id)) !== after;
}

/** Goes on where a kill has cut the renames short; gives the files that were left as somebody else wrote them. */
function placeRest(journal: Journal, places: InstallerPlaces): readonly string[] {
  const left: string[] = [];
  for (const file of journal.files) {
    const target = resolveInside(journal.folder, file.path);
    const now = hashNow(target);
    const beside = staged(target, journal.id);
    if (now === file.after) fs.rmSync(beside, { force: true });
    else if (now !== file.before) {
      left.push(file.path);
      if (now !== null && now !== NO_FILE) keepOriginal(places.originals, target, now);
      fs.rmSync(beside, { force: true });
    } else placeOne(journal, file);
  }
  dropMade(
    journal.folder,
    journal.files.filter(({ after }) => after === null),
  );
  return left;
}
