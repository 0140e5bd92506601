import fs from 'node:fs';
import path from 'node:path';
import { readLedger, type Written } from '@/core/recipe';
import { hashOfFile } from './content-hash';
import { makeFolders } from './make-folders';

export const LEDGER = '.zero-latch-ledger';
/** Ending of what is being written and has not got its name yet. */
export const PART = '.zero-latch-part';

/** What stands in the place of a file that a run wants to write. */
export type Standing =
  /** Nothing, or just what an earlier run left there. */
  | 'free'
  | 'ours'
  /** Changed since it was written. */
  | 'edited'
  /** Written by somebody else. */
  | 'foreign';

/** A file as it was found, so that one who writes later can tell that nobody touched it meanwhile. */
export interface Seen {
  readonly size: number;
  readonly modifiedMs: number;
}

/** Times that are nearer than this are the same; file systems round them. */
const SAME_MS = 1;

export function seenAt(file: string): Seen | null {
  const stat = fs.lstatSync(file, { throwIfNoEntry: false });
  return stat ? { size: stat.size, modifiedMs: stat.mtimeMs } : null;
}

export const isSame = (a: Seen | null, b: Seen | null): boolean =>
  a === null || b === null ? a === b : a.size === b.size && Math.abs(a.modifiedMs - b.modifiedMs) < SAME_MS;

/**
 * A folder that runs write into, with a ledger of what they wrote. The writers of a run each have a part of the ledger of their own
 * (`FolderWriter`), so that several processes and machines can write at once; the parts are taken into the ledger when the folder
 * is opened and when it is closed. One at a time may have it open.
 */
export class WrittenFolder {
  readonly root: string;
  readonly known = new Map<string, Written>();
  private readonly ledger: number;
  private hasNotes = false;

  /** The folder is made when it is missing; the one around it has to be there. */
  constructor(folder: string) {
    makeFolders(folder);
    this.root = fs.realpathSync(folder);
    const file = path.join(this.root, LEDGER);
    if (fs.existsSync(file)) readLedger(fs.readFileSync(file, 'utf8'), this.known);
    this.ledger = fs.openSync(file, 'a+');
    // A kill may have cut the last line; what follows must not be taken for its rest.
    if (fs.fstatSync(this.ledger).size > 0 && !endsLine(this.ledger)) {
      this.hasNotes = true;
      fs.writeSync(this.ledger, '\n');
    }
    if (this.takeParts()) this.compact();
  }

  /** What stands where a file is to go, and how it was found. Bytes are read only where just the time differs. */
  standing(file: string): { standing: Standing; seen: Seen | null; isFile: boolean } {
    const place = path.join(this.root, file);
    const stat = fs.lstatSync(place, { throwIfNoEntry: false });
    if (!stat) return { standing: 'free', seen: null, isFile: false };
    const seen = { size: stat.size, modifiedMs: stat.mtimeMs };
    const old = this.known.get(file);
    const isFile = stat.isFile();
    if (!old || !isFile) return { standing: 'foreign', seen, isFile };
    const isOurs = isSame(seen, old) || (stat.size === old.size && hashOfFile(place) === old.content);
    return { standing: isOurs ? 'ours' : 'edited', seen, isFile };
  }

  /** Notes that a file is still right under another state of its source. */
  note(written: Written): void {
    this.known.set(written.file, written);
    this.hasNotes = true;
    fs.writeSync(this.ledger, `${JSON.stringify(written)}\n`);
  }

  /** Writes a text that is no entry, such as a log, in pieces. */
  text(name: string, pieces: Iterable<string>): void {
    const part = path.join(this.root, `${name}${PART}`);
    fs.rmSync(part, { force: true });
    const fd = fs.openSync(part, 'wx');
    try {
      for (const piece of pieces) fs.writeFileSync(fd, piece);
    } finally {
      fs.closeSync(fd);
    }
    fs.renameSync(part, path.join(this.root, name));
  }

  /** Ends it: what the writers noted is taken in, and a ledger with several lines of the same files is written anew. */
  close(): void {
    fs.closeSync(this.ledger);
    if (!fs.existsSync(this.root)) return;
    if (this.takeParts() || this.hasNotes) this.compact();
  }

  /** Ends it and leaves all as it is, where others may still be writing; the next one takes in what they noted. */
  abandon(): void {
    fs.closeSync(this.ledger);
  }

  private parts(): string[] {
    return fs
      .readdirSync(this.root)
      .filter((name) => name.startsWith(`${LEDGER}.`) && !name.endsWith(PART))
      .map((name) => path.join(this.root, name));
  }

  /** Reads the parts of the writers; where two have the same file, the one that wrote it later. */
  private takeParts(): boolean {
    const parts = this.parts();
    const noted = new Map<string, Written>();
    for (const part of parts)
      for (const written of readLedger(fs.readFileSync(part, 'utf8')).values()) {
        const other = noted.get(written.file);
        if (!other || other.modifiedMs <= written.modifiedMs) noted.set(written.file, written);
      }
    for (const [file, written] of noted) this.known.set(file, written);
    return parts.length > 0;
  }

  private compact(): void {
    const file = path.join(this.root, LEDGER);
    const fd = fs.openSync(`${file}${PART}`, 'w');
    try {
      let lines: string[] = [];
      for (const written of this.known.values())
        if (lines.push(`${JSON.stringify(written)}\n`) >= LINES_AT_ONCE) {
          fs.writeFileSync(fd, lines.join(''));
          lines = [];
        }
      fs.writeFileSync(fd, lines.join(''));
    } finally {
      fs.closeSync(fd);
    }
    fs.renameSync(`${file}${PART}`, file);
    for (const part of this.parts()) fs.rmSync(part, { force: true });
  }
}

const LINES_AT_ONCE = 4000;

function endsLine(fd: number): boolean {
  const last = Buffer.alloc(1);
  fs.readSync(fd, last, 0, 1, fs.fstatSync(fd).size - 1);
  return last[0] === 10;
}
