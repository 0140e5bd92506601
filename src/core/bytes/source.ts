import { FormatError } from './format-error';

/**
 * Random access to bytes that never change while they are read.
 * Reading is synchronous on purpose: on the server it runs in worker processes and in the browser in
 * web workers (FileReaderSync), where waiting costs nothing and promises cost a third of the time.
 */
export interface ByteSource {
  /** What the user calls it, for messages. */
  readonly name: string;
  /** Length in bytes. */
  readonly length: number;
  /**
   * Bytes `[offset, offset + length)`. The result may be a view that is only valid until the next call;
   * callers that keep it copy it. Throws FormatError `out-of-range` outside the source.
   */
  read(offset: number, length: number): Uint8Array;
}

export interface ByteSink {
  /** Takes the bytes at once; the caller may reuse the array afterwards. */
  write(bytes: Uint8Array): void;
}

/** Refuses a range that is not inside `[0, length)`. */
export function checkRange(name: string, total: number, offset: number, length: number): void {
  if (!(offset >= 0 && length >= 0 && offset + length <= total))
    throw new FormatError(offset >= total ? 'out-of-range' : 'truncated', {
      file: name,
      byteOffset: offset,
      expected: `${length} bytes from ${offset}`,
      actual: `${total} bytes in all`,
    });
}

/** A source over bytes in memory; `bytes` may be a view at any offset of its buffer. */
export function memorySource(bytes: Uint8Array, name = 'bytes'): ByteSource {
  return {
    name,
    length: bytes.length,
    read(offset, length) {
      checkRange(name, bytes.length, offset, length);
      return bytes.subarray(offset, offset + length);
    },
  };
}

/** Large enough that a system call costs little, small enough that it stays in the cache. */
export const CHUNK_BYTES = 1 << 20;
