import fs from 'node:fs';
import type { ByteSink } from '@/core/bytes';

/** Writes all of `bytes`, however little the system takes at a time. */
export function writeFully(fd: number, bytes: Uint8Array): void {
  for (let done = 0; done < bytes.length;) done += fs.writeSync(fd, bytes, done);
}

/** The same at a place of the file. */
export function writeFullyAt(fd: number, bytes: Uint8Array, place: number): void {
  for (let done = 0; done < bytes.length;)
    done += fs.writeSync(fd, bytes, done, bytes.length - done, place + done);
}

export interface FileSink extends ByteSink {
  readonly fd: number;
  /** Flushes to the disk and closes. */
  finish(): void;
  /** Closes and removes what was written. */
  abandon(): void;
}

/** A new file, refused when something of that name is there already. */
export function createFileSink(path: string): FileSink {
  const fd = fs.openSync(path, 'wx');
  return {
    fd,
    write: (bytes) => writeFully(fd, bytes),
    finish() {
      try {
        fs.fsyncSync(fd);
      } finally {
        fs.closeSync(fd);
      }
    },
    abandon() {
      fs.closeSync(fd);
      fs.rmSync(path, { force: true });
    },
  };
}

/** Makes a rename in `folder` last through a power cut. */
export function flushFolder(folder: string): void {
  const fd = fs.openSync(folder, 'r');
  try {
    fs.fsyncSync(fd);
  } finally {
    fs.closeSync(fd);
  }
}
