import { z } from 'zod';

/** What a run knows of a file that it wrote. */
export const Written = z.object({
  /** Path below the output folder, with `/`. */
  file: z.string(),
  /** Path of the entry, and of its archive below the game folder. */
  path: z.string(),
  archive: z.string(),
  /** Changes with the archive's file or the entry's place in it; while it is the same, nothing needs to be read. */
  source: z.string(),
  /** Sizes with the checksum that the archive states of the entry; empty where it states none. */
  stated: z.string(),
  /** SHA-256 of the bytes as they lie in the archive; taken where nothing is stated. */
  stored: z.string(),
  /** How it was converted. */
  settings: z.string(),
  /** SHA-256, length and time of the file as it was written. */
  sha256: z.string(),
  size: z.number(),
  modifiedMs: z.number(),
});
export type Written = z.infer<typeof Written>;

/** A ledger's lines, the last of each file; lines that are cut or damaged, as by a kill, are left out. */
export function readLedger(text: string): Map<string, Written> {
  const files = new Map<string, Written>();
  for (const line of text.split('\n')) {
    if (line === '') continue;
    try {
      const written = Written.parse(JSON.parse(line));
      files.set(written.file, written);
    } catch {
      // Its file will be looked at as one of somebody else.
    }
  }
  return files;
}

/** What is known of an entry before any of it is read. */
export interface SourceFacts {
  readonly path: string;
  readonly source: string;
  readonly stated: string;
  readonly settings: string;
}

export type Unchanged = 'same' | 'read' | 'changed';

/**
 * Whether an entry is what it was when its file was written: `same` where that is known without reading, `read` where only its
 * stored bytes can tell, `changed` where it is known to differ.
 */
export function unchanged(old: Written, now: SourceFacts): Unchanged {
  if (old.settings !== now.settings || old.path !== now.path) return 'changed';
  if (old.source === now.source) return 'same';
  if (now.stated !== '' && old.stated !== '') return old.stated === now.stated ? 'same' : 'changed';
  return 'read';
}
