import fs from 'node:fs';
import path from 'node:path';
import type { BytesRef } from '@/core/bytes';
import type { Written } from '@/core/recipe';
import { ContentHash, hashOfFile } from './content-hash';
import { writeFully } from './file-sink';
import { SafeFolders } from './safe-folders';
import { isSame, LEDGER, PART, seenAt, type Seen } from './written-folder';

/** Where a file is from; what the writer adds is of the file itself. */
export type About = Omit<Written, 'file' | 'content' | 'size' | 'modifiedMs'>;

/** `same` is left as it was; `edited` was touched by somebody since it was looked at, and is kept. */
export type WriteOutcome = 'written' | 'same' | 'edited';

export interface FileToWrite {
  /** Path below the root, with `/`. */
  readonly file: string;
  readonly content: BytesRef;
  readonly about: About;
  /** Seconds since 1970, for the time of the file; undefined where the archive has none. */
  readonly modified: number | undefined;
  /** How the place was found when the run was planned. */
  readonly seen: Seen | null;
  /** What is there and is ours; with the same content it is left as it is. */
  readonly old: Written | undefined;
  /** Whether the content is the stored bytes themselves, so that they need not be hashed apart. */
  readonly isStored?: boolean;
}

interface Waiting {
  readonly line: Written;
  readonly place: string;
  readonly seen: Seen | null;
  readonly done: (outcome: WriteOutcome, line: Written) => void;
  /** Nothing was written beside it; only the line is to be noted. */
  readonly isSame: boolean;
}

/** Files wait for their names until so many are written, since a line of the ledger for each costs as much as a small file. */
const GROUP = 32;

/**
 * One of those who write files below a folder. Each is written beside its name; the lines of a group go into the ledger's part of
 * this writer, and then the files get their names. So a run that is killed at any moment finds its files again, and no half file
 * bears a final name.
 */
export class FolderWriter {
  private readonly folders: SafeFolders;
  private readonly ledger: number;
  private readonly written = new Map<string, Written>();
  private waiting: Waiting[] = [];

  /** `root` as its real path. `id` is this writer's alone; `check` is called between pieces and may throw to end it. */
  constructor(
    readonly root: string,
    id: string,
    private readonly check: () => void = () => undefined,
  ) {
    this.folders = new SafeFolders(root);
    this.ledger = fs.openSync(path.join(root, `${LEDGER}.${id}`), 'a');
  }

  /** Writes a file beside its name; `done` is told what became of it once it has its name, at the latest at `settle`. */
  write(
    { file, content, about: given, modified, seen, old, isStored }: FileToWrite,
    done: Waiting['done'],
  ): void {
    const place = path.join(this.root, file);
    this.folders.make(path.dirname(place));
    const part = `${place}${PART}`;
    try {
      const hash = new ContentHash();
      const fd = openNew(part);
      let modifiedMs: number;
      try {
        for (const chunk of content.chunks()) {
          this.check();
          hash.update(chunk);
          writeFully(fd, chunk);
        }
        if (modified !== undefined) fs.futimesSync(fd, modified, modified);
        modifiedMs = modified === undefined ? fs.fstatSync(fd).mtimeMs : modified * 1000;
      } finally {
        fs.closeSync(fd);
      }
      const hex = hash.hex();
      const about = isStored ? { ...given, stored: hex } : given;
      const isSameContent = old !== undefined && old.content === hex && old.size === content.length;
      if (isSameContent) fs.rmSync(part);
      const line = isSameContent
        ? { ...old, ...about, file }
        : { ...about, file, content: hex, size: content.length, modifiedMs };
      this.waiting.push({ line, place, seen, done, isSame: isSameContent });
    } catch (error) {
      fs.rmSync(part, { force: true });
      throw error;
    }
    if (this.waiting.length >= GROUP) this.settle();
  }

  /** Notes that a file is still right under another state of its source. */
  note(line: Written): void {
    fs.writeSync(this.ledger, `${JSON.stringify(line)}\n`);
  }

  /** Notes that where a file is from is not known after all; its next run looks at all of it. */
  forget(file: string): void {
    const line = this.written.get(file);
    if (line) this.note({ ...line, source: '', stated: '', stored: '' });
  }

  /** Gives the files that wait their names. */
  settle(): void {
    const group = this.waiting;
    this.waiting = [];
    if (group.length === 0) return;
    let done = 0;
    try {
      writeFully(this.ledger, Buffer.from(group.map(({ line }) => `${JSON.stringify(line)}\n`).join('')));
      for (const one of group) {
        one.done(one.isSame ? 'same' : nameFile(one), one.line);
        this.written.set(one.line.file, one.line);
        done++;
      }
    } catch (error) {
      for (const { place, isSame: isThere } of group.slice(done))
        if (!isThere) fs.rmSync(`${place}${PART}`, { force: true });
      throw error;
    }
  }

  /** Throws away what has no name yet. */
  abandon(): void {
    for (const { place, isSame: isThere } of this.waiting)
      if (!isThere) fs.rmSync(`${place}${PART}`, { force: true });
    this.waiting = [];
  }

  close(): void {
    this.abandon();
    fs.closeSync(this.ledger);
  }
}

function nameFile({ place, seen, line }: Waiting): WriteOutcome {
  if (!isSame(seen, seenAt(place)) && !hasContent(place, line)) {
    fs.rmSync(`${place}${PART}`, { force: true });
    return 'edited';
  }
  fs.renameSync(`${place}${PART}`, place);
  return 'written';
}

/** Whether a file stands there with just this content, as a writer leaves it that was killed before it could say so. */
function hasContent(place: string, { size, content }: Written): boolean {
  const stat = fs.lstatSync(place, { throwIfNoEntry: false });
  return stat?.isFile() === true && stat.size === size && hashOfFile(place) === content;
}

/** A new file, never one that a link of this name leads to; what a killed run left is removed. */
export function openNew(file: string): number {
  try {
    return fs.openSync(file, 'wx');
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
    fs.rmSync(file, { force: true });
    return fs.openSync(file, 'wx');
  }
}
