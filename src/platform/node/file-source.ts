import fs from 'node:fs';
import { CHUNK_BYTES, checkRange, FormatError, ReadAhead, type ByteSource } from '@/core/bytes';

export interface FileSource extends ByteSource {
  readonly path: string;
  readonly fd: number;
  close(): void;
}

/** Small reads are served from a window this large, so that a table costs few system calls. */
const WINDOW_BYTES = 1 << 16;
/** So large where reads jump about. */
const LEAST_WINDOW_BYTES = 1 << 12;

/**
 * A file opened for reading. One reused buffer for large reads and one window for small ones, so a view
 * that `read` gives is only good until the next read. Plain arrays, since `slice` of a Buffer does not copy.
 */
export function openFileSource(path: string, name = path): FileSource {
  const fd = fs.openSync(path, 'r');
  const length = fs.fstatSync(fd).size;
  const largest = Math.min(CHUNK_BYTES, Math.max(1, length));
  let large: Uint8Array | undefined;
  const window = new Uint8Array(WINDOW_BYTES);
  const readAhead = new ReadAhead(LEAST_WINDOW_BYTES, WINDOW_BYTES);
  let windowStart = 0;
  let windowLength = 0;
  let isClosed = false;

  function fill(into: Uint8Array, offset: number, wanted: number): void {
    let got = 0;
    while (got < wanted) {
      const count = fs.readSync(fd, into, got, wanted - got, offset + got);
      if (count === 0)
        throw new FormatError('changed-meanwhile', {
          file: name,
          byteOffset: offset + got,
          why: 'the file became shorter while it was read',
          remedy: 'Open it again once it is no longer being written',
        });
      got += count;
    }
  }

  return {
    name,
    path,
    fd,
    length,
    read(offset, wanted) {
      // Its number may be another file's by now.
      if (isClosed) throw new Error(`${path} is read after it was closed.`);
      checkRange(name, length, offset, wanted);
      if (wanted > largest) {
        const own = new Uint8Array(wanted);
        fill(own, offset, wanted);
        return own;
      }
      if (wanted > WINDOW_BYTES / 4) {
        large ??= new Uint8Array(largest);
        fill(large, offset, wanted);
        return large.subarray(0, wanted);
      }
      if (offset < windowStart || offset + wanted > windowStart + windowLength) {
        windowLength = 0;
        windowStart = offset;
        const size = readAhead.from(offset, wanted, length);
        fill(window, offset, size);
        windowLength = size;
      }
      return window.subarray(offset - windowStart, offset - windowStart + wanted);
    },
    close() {
      if (isClosed) return;
      isClosed = true;
      fs.closeSync(fd);
    },
  };
}
