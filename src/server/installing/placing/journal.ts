import { createHash } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import { flushFolder, writeFully } from '@/platform/node/file-sink';
import { UserError } from '@/platform/user-error';

/** One file of an operation: what it was and what it becomes, by hash; null for 'no such file'. */
export interface JournalFile {
  readonly path: string;
  readonly before: string | null;
  readonly after: string | null;
  /** The outermost folder that was made for it; it goes with the file. */
  readonly made?: string;
}

/**
 * What an operation on a game folder is about to do, and how far it is:
 * `staging`: the folder is as it was, new files lie beside the old ones;
 * `committing`: every new file is complete, and the operation is carried through, if need be by the next start;
 * `undoing`: a file could not be placed, and those that were go back;
 * `placed`: the folder is as it shall be, and the records of it are still to be written.
 */
export interface Journal {
  readonly id: string;
  readonly title: string;
  readonly folder: string;
  readonly state: 'staging' | 'committing' | 'undoing' | 'placed';
  readonly files: readonly JournalFile[];
  /** The job that is at it; while that runs, nobody else mends the folder. */
  readonly job?: string;
  /** What is needed to write the records of it. */
  readonly about?: unknown;
}

/** There is one journal a folder, so that its file is what keeps two operations apart, whichever worker does them. */
const fileOf = (journals: string, folder: string): string =>
  path.join(journals, `${createHash('sha256').update(folder).digest('hex').slice(0, 32)}.json`);

function writeBeside(target: string, journal: Journal): string {
  const temporary = `${target}.${journal.id}.new`;
  const fd = fs.openSync(temporary, 'w', 0o600);
  try {
    writeFully(fd, Buffer.from(JSON.stringify(journal)));
    fs.fsyncSync(fd);
  } finally {
    fs.closeSync(fd);
  }
  return temporary;
}

/** Begins a journal. Throws UserError where one is open for the folder already. */
export function beginJournal(journals: string, journal: Journal): void {
  const target = fileOf(journals, journal.folder);
  const temporary = writeBeside(target, journal);
  try {
    // Unlike a rename this never takes the place of another journal.
    fs.linkSync(temporary, target);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
    throw new UserError(
      409,
      `Something else is done to ${journal.folder} right now, or was cut short and is being mended. Nothing was changed. Try again in a moment.`,
    );
  } finally {
    fs.rmSync(temporary, { force: true });
  }
  flushFolder(journals);
}

/** Writes how far an operation is, so that the journal is either the old or the new one, whatever happens. */
export function moveJournal(journals: string, journal: Journal): void {
  const known = readJournals(journals).find(({ journal: { id } }) => id === journal.id);
  const target = known?.file ?? fileOf(journals, journal.folder);
  fs.renameSync(writeBeside(target, journal), target);
  flushFolder(journals);
}

/** Closes a journal once nothing of it is left to do; one that is closed already is no error. */
export function closeJournal(journals: string, id: string): void {
  for (const { file, journal } of readJournals(journals))
    if (journal.id === id) fs.rmSync(file, { force: true });
  flushFolder(journals);
}

/** Writing one takes no moment, so that what has lain beside its journal for so long was left by somebody who was killed. */
const LEFT_MS = 60_000;

/** Removes what was being written as a journal when its worker was killed; no journal is among it. */
export function sweepJournals(journals: string): void {
  for (const name of fs.readdirSync(journals)) {
    if (!name.endsWith('.new')) continue;
    const file = path.join(journals, name);
    const stat = fs.statSync(file, { throwIfNoEntry: false });
    if (stat && Date.now() - stat.mtimeMs > LEFT_MS) fs.rmSync(file, { force: true });
  }
}

export interface OpenJournal {
  readonly file: string;
  readonly journal: Journal;
}

/** All journals of operations that did not come to their end. */
export function readJournals(journals: string): OpenJournal[] {
  return fs
    .readdirSync(journals)
    .filter((name) => name.endsWith('.json'))
    .flatMap((name) => {
      const file = path.join(journals, name);
      try {
        return [{ file, journal: JSON.parse(fs.readFileSync(file, 'utf8')) as Journal }];
      } catch (error) {
        // Closed by another worker in between.
        if ((error as NodeJS.ErrnoException).code === 'ENOENT') return [];
        throw error;
      }
    });
}
