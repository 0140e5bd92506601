import fs from 'node:fs';
import path from 'node:path';
import { flushFolder, writeFully } from '@/platform/node/file-sink';

/** One file of an operation: what it was and what it becomes, by hash; null for 'no such file'. */
export interface JournalFile {
  readonly path: string;
  readonly before: string | null;
  readonly after: string | null;
  /** The outermost folder that was made for it; it goes with the file. */
  readonly made?: string;
}

/**
 * What an operation on a game folder is about to do. While it is `staging`, the folder is as it was and
 * new files lie beside the old ones; from `committing` on, every new file is complete and the operation
 * is carried through, if need be by the next start.
 */
export interface Journal {
  readonly id: string;
  readonly title: string;
  readonly folder: string;
  readonly state: 'staging' | 'committing';
  readonly files: readonly JournalFile[];
  /** What the one who asked for it wants to know again after a kill. */
  readonly about?: unknown;
}

const file = (journals: string, id: string): string => path.join(journals, `${id}.json`);

/** Writes the journal so that it is either the old or the new one, whatever happens. */
export function writeJournal(journals: string, journal: Journal): void {
  const target = file(journals, journal.id);
  const temporary = `${target}.new`;
  const fd = fs.openSync(temporary, 'w');
  try {
    writeFully(fd, Buffer.from(JSON.stringify(journal)));
    fs.fsyncSync(fd);
  } finally {
    fs.closeSync(fd);
  }
  fs.renameSync(temporary, target);
  flushFolder(journals);
}

export function removeJournal(journals: string, id: string): void {
  fs.rmSync(file(journals, id), { force: true });
  flushFolder(journals);
}

/** All journals of operations that did not come to their end. */
export function readJournals(journals: string): Journal[] {
  return fs
    .readdirSync(journals)
    .filter((name) => name.endsWith('.json'))
    .map((name) => JSON.parse(fs.readFileSync(path.join(journals, name), 'utf8')) as Journal);
}
