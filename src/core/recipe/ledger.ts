/** What a run knows of a file that it wrote. */
export interface Written {
  /** Path below the output folder, with `/`. */
  readonly file: string;
  /** Game and recipe that wrote it, as `game:recipe`. */
  readonly by: string;
  /** Path of the entry, and of its archive below the game folder. */
  readonly path: string;
  readonly archive: string;
  /** Changes with the archive's file or the entry's place in it; while it is the same, nothing needs to be read. */
  readonly source: string;
  /** Size with the checksum that the archive states of the entry; empty where it states none. */
  readonly stated: string;
  /** XXH64 of the bytes as they lie in the archive, in hex; taken where nothing is stated. */
  readonly stored: string;
  /** How it was converted. */
  readonly settings: string;
  /** XXH64 in hex, length and time of the file as it was written. */
  readonly content: string;
  readonly size: number;
  readonly modifiedMs: number;
}

const TEXTS = ['file', 'by', 'path', 'archive', 'source', 'stated', 'stored', 'settings', 'content'] as const;
const NUMBERS = ['size', 'modifiedMs'] as const;

/** Checked by hand: a schema takes longer over a hundred thousand lines than all the rest of a run that writes nothing. */
function isWritten(value: unknown): value is Written {
  if (typeof value !== 'object' || value === null) return false;
  const fields = value as Record<string, unknown>;
  return (
    TEXTS.every((name) => typeof fields[name] === 'string') &&
    NUMBERS.every((name) => typeof fields[name] === 'number')
  );
}

/** A ledger's lines, the last of each file; lines that are cut or damaged, as by a kill, are left out. */
export function readLedger(text: string, files = new Map<string, Written>()): Map<string, Written> {
  for (const line of text.split('\n')) {
    if (line === '') continue;
    try {
      const written: unknown = JSON.parse(line);
      if (isWritten(written)) files.set(written.file, written);
    } catch {
      // Its file will be looked at as one of somebody else.
    }
  }
  return files;
}

/**
 * Whether a file is one of another recipe: of another game, or of another entry under the same name. What two recipes of a game take of
 * the same entry is the same.
 */
export function isOfAnother(old: Written, now: Pick<Written, 'by' | 'path'>): boolean {
  const gameOf = (by: string): string => by.slice(0, by.indexOf(':'));
  return old.by !== now.by && (old.path !== now.path || gameOf(old.by) !== gameOf(now.by));
}

/** What is known of an entry before any of it is read. */
export interface SourceFacts extends Pick<Written, 'path' | 'source' | 'settings'> {
  /** Asked for only where the archive is not as it was. */
  readonly stated: () => string;
}

export type Unchanged = 'same' | 'read' | 'changed';

/**
 * Whether an entry is what it was when its file was written: `same` where that is known without reading, `read` where only its
 * stored bytes can tell, `changed` where it is known to differ.
 */
export function unchanged(old: Written, now: SourceFacts): Unchanged {
  if (old.settings !== now.settings || old.path !== now.path) return 'changed';
  if (old.source === now.source) return 'same';
  const stated = old.stated === '' ? '' : now.stated();
  if (stated === '') return 'read';
  return old.stated === stated ? 'same' : 'changed';
}
