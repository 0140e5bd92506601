import { createHash } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import type { BytesRef } from '@/core/bytes';
import { readLedger, type Written } from '@/core/recipe';
import { writeFully } from './file-sink';
import { SafeFolders } from './safe-folders';

const LEDGER = '.zero-latch-ledger';
const PART = '.zero-latch-part';

/** What stands in the place of a file that a run wants to write. */
export type Standing =
  /** Nothing, or just what an earlier run left there. */
  | 'free'
  | 'ours'
  /** Changed since it was written. */
  | 'edited'
  /** Written by somebody else. */
  | 'foreign';

/**
 * A folder that runs write into, with a ledger of what they wrote. A line goes into the ledger before the file gets its name, so that
 * a run that is killed at any moment finds its files again: a file that is as its line says is ours, one that is not there is written.
 */
export class WrittenFolder {
  readonly root: string;
  readonly known: Map<string, Written>;
  private readonly folders: SafeFolders;
  private readonly ledger: number;
  private hasNotes: boolean;

  /** The folder is made when it is missing; the one around it has to be there. */
  constructor(folder: string) {
    fs.mkdirSync(folder, { recursive: true });
    this.root = fs.realpathSync(folder);
    this.folders = new SafeFolders(this.root);
    const file = path.join(this.root, LEDGER);
    this.known = readLedger(fs.existsSync(file) ? fs.readFileSync(file, 'utf8') : '');
    this.ledger = fs.openSync(file, 'a+');
    // A kill may have cut the last line; what follows must not be taken for its rest.
    this.hasNotes = fs.fstatSync(this.ledger).size > 0 && !endsLine(this.ledger);
    if (this.hasNotes) fs.writeSync(this.ledger, '\n');
  }

  /** What stands where a file is to go. Bytes are read only where length or time differ. */
  standing(file: string): Standing {
    const stat = fs.lstatSync(path.join(this.root, file), { throwIfNoEntry: false });
    if (!stat) return 'free';
    const old = this.known.get(file);
    if (!old || !stat.isFile()) return 'foreign';
    if (stat.size === old.size && Math.abs(stat.mtimeMs - old.modifiedMs) < 1) return 'ours';
    return stat.size === old.size && hashOf(path.join(this.root, file)) === old.sha256 ? 'ours' : 'edited';
  }

  /** Notes that a file is still right under another state of its source. */
  note(written: Written): void {
    this.known.set(written.file, written);
    this.hasNotes = true;
    fs.writeSync(this.ledger, `${JSON.stringify(written)}\n`);
  }

  /**
   * Writes a file beside its name and renames it. `about` says where it is from; `modified` is in seconds since 1970, for the time of
   * the file where the archive has one. With `isOurs`, a file that has the very content already is left as it is, and the answer is
   * false.
   */
  write(
    file: string,
    content: BytesRef,
    about: Omit<Written, 'file' | 'sha256' | 'size' | 'modifiedMs'>,
    modified: number | undefined,
    isOurs: boolean,
  ): boolean {
    const target = path.join(this.root, file);
    this.folders.make(path.dirname(target));
    const part = `${target}${PART}`;
    const hash = createHash('sha256');
    try {
      const fd = fs.openSync(part, 'w');
      let modifiedMs: number;
      try {
        for (const chunk of content.chunks()) {
          hash.update(chunk);
          writeFully(fd, chunk);
        }
        if (modified !== undefined) fs.futimesSync(fd, modified, modified);
        modifiedMs = fs.fstatSync(fd).mtimeMs;
      } finally {
        fs.closeSync(fd);
      }
      const sha256 = hash.digest('hex');
      const old = this.known.get(file);
      if (isOurs && old?.sha256 === sha256) {
        fs.rmSync(part);
        this.note({ ...old, ...about });
        return false;
      }
      this.note({ ...about, file, sha256, size: content.length, modifiedMs });
      fs.renameSync(part, target);
      return true;
    } catch (error) {
      fs.rmSync(part, { force: true });
      throw error;
    }
  }

  /** Writes a text that is no entry, such as a log. */
  text(name: string, body: string): void {
    const part = path.join(this.root, `${name}${PART}`);
    fs.writeFileSync(part, body);
    fs.renameSync(part, path.join(this.root, name));
  }

  /** Ends it; a ledger that has grown by many lines of the same files is written anew. */
  close(): void {
    const file = path.join(this.root, LEDGER);
    fs.closeSync(this.ledger);
    if (!this.hasNotes || !fs.existsSync(this.root)) return;
    const lines = [...this.known.values()].map((written) => `${JSON.stringify(written)}\n`);
    fs.writeFileSync(`${file}${PART}`, lines.join(''));
    fs.renameSync(`${file}${PART}`, file);
  }
}

function endsLine(fd: number): boolean {
  const last = Buffer.alloc(1);
  fs.readSync(fd, last, 0, 1, fs.fstatSync(fd).size - 1);
  return last[0] === 10;
}

function hashOf(file: string): string {
  const hash = createHash('sha256');
  const buffer = Buffer.alloc(1 << 20);
  const fd = fs.openSync(file, 'r');
  try {
    for (let read = fs.readSync(fd, buffer); read > 0; read = fs.readSync(fd, buffer))
      hash.update(buffer.subarray(0, read));
  } finally {
    fs.closeSync(fd);
  }
  return hash.digest('hex');
}
