import { checkRange, windowOf, type ByteSource, type BytesRef } from '../bytes';
import type { ResolvedStep } from './resolved-step';

/** What is at the beginning is looked at by whoever asks what something is, before and after it is read. */
const HEAD_BYTES = 1 << 16;
/** Who leaves out more than this does not read from the beginning to the end. */
const MOST_LEFT_OUT = 1 << 20;

const NOTHING = new Uint8Array(0);

/** Whether bytes come out of steps one by one, as long as they go in, and cannot turn out to be broken on the way: what is known of the beginning then holds whatever comes. */
export const areSteady = (steps: readonly ResolvedStep[]): boolean =>
  steps.every((step) => step.sort === 'cipher' && step.cipher.blockLength === 1);

/**
 * Bytes that are worked out while they are read from the beginning to the end, so that nobody holds them; the first ones are kept. Whoever goes back, or ahead by far, has all of them made at once
 * (`whole`), from which everything is read from then on.
 */
export function streamedSource(ref: BytesRef, name: string, whole: () => ByteSource): ByteSource {
  let made: ByteSource | undefined;
  let head: Uint8Array | undefined;
  let chunks: Iterator<Uint8Array> | undefined;
  let chunk: Uint8Array = NOTHING;
  let at = 0;
  /** What chunks give may be good until the next one only; what is kept of one is a copy. */
  let isBorrowed = false;

  /** What comes next; where that fails, whoever reads once more begins anew and is told the same. */
  function begun(): IteratorResult<Uint8Array> {
    try {
      return chunks!.next();
    } catch (error) {
      chunks = undefined;
      chunk = NOTHING;
      at = 0;
      throw error;
    }
  }

  /** Goes on to the next chunk that has something. */
  function next(): void {
    at += chunk.length;
    const { value, done } = begun();
    if (done === true) throw new RangeError('the chunks ended before their stated length');
    chunk = value;
    isBorrowed = true;
  }

  function keep(): void {
    if (isBorrowed) chunk = chunk.slice();
    isBorrowed = false;
  }

  function streamed(offset: number, length: number): Uint8Array {
    chunks ??= ref.chunks()[Symbol.iterator]();
    while (offset >= at + chunk.length) next();
    const from = offset - at;
    if (from === 0 && length === chunk.length) {
      // Taken whole, as by who reads from chunk to chunk, it need not be kept.
      const taken = chunk;
      at += length;
      chunk = NOTHING;
      return taken;
    }
    if (from + length <= chunk.length) {
      keep();
      return chunk.subarray(from, from + length);
    }
    const bytes = new Uint8Array(length);
    for (let done = 0; done < length;) {
      if (offset + done >= at + chunk.length) next();
      const part = chunk.subarray(offset + done - at).subarray(0, length - done);
      bytes.set(part, done);
      done += part.length;
    }
    keep();
    return bytes;
  }

  return {
    name,
    length: ref.length,
    read(offset, length) {
      checkRange(name, ref.length, offset, length);
      if (length === 0) return new Uint8Array(0);
      if (made) return made.read(offset, length);
      if (offset + length <= HEAD_BYTES) {
        head ??= windowOf(ref, 0, HEAD_BYTES);
        return head.slice(offset, offset + length);
      }
      if (offset >= at && offset <= at + chunk.length + MOST_LEFT_OUT) return streamed(offset, length);
      made = whole();
      chunks = undefined;
      chunk = NOTHING;
      return made.read(offset, length);
    },
  };
}
