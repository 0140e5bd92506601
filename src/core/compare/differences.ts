import type { BytesRef } from '../bytes';

/** A stretch in which two things differ, counted from the start of the first one. */
export interface Difference {
  readonly offset: number;
  readonly length: number;
  /** What stands there in the second one; at the same offset with the same length where this is not said. */
  readonly other?: { readonly offset: number; readonly length: number };
}

export interface Comparison {
  readonly isSame: boolean;
  /** Bytes that are the same from the start on. */
  readonly sameStart: number;
  /** Stretches that differ at the same offsets; what is longer on one side differs to its end. */
  readonly differences: readonly Difference[];
  /** Whether there are more than are listed. */
  readonly hasMore: boolean;
  readonly differing: number;
}

const MOST_LISTED = 2000;
/** Same bytes between two differences that are not worth parting them for. */
const JOINED_BELOW = 4;

/** Holds two things against each other byte by byte, without holding either. */
export function compareBytes(a: BytesRef, b: BytesRef): Comparison {
  const differences: { offset: number; length: number }[] = [];
  let [sameStart, differing, at] = [-1, 0, 0];
  let hasMore = false;
  const add = (offset: number, length: number): void => {
    if (sameStart < 0) sameStart = offset;
    differing += length;
    const last = differences.at(-1);
    if (last && offset - (last.offset + last.length) < JOINED_BELOW)
      last.length = offset + length - last.offset;
    else if (differences.length < MOST_LISTED) differences.push({ offset, length });
    else hasMore = true;
  };
  const both = Math.min(a.length, b.length);
  const right = new Pieces(b);
  for (const chunk of a.chunks()) {
    for (let done = 0; done < chunk.length && at < both;) {
      const other = right.next(Math.min(chunk.length - done, both - at));
      let from = -1;
      for (let i = 0; i < other.length; i++) {
        const isSame = chunk[done + i] === other[i];
        if (!isSame && from < 0) from = i;
        if (isSame && from >= 0) {
          add(at + from, i - from);
          from = -1;
        }
      }
      if (from >= 0) add(at + from, other.length - from);
      done += other.length;
      at += other.length;
    }
    if (at >= both) break;
  }
  const longer = Math.max(a.length, b.length);
  if (longer > both) add(both, longer - both);
  return {
    isSame: differing === 0,
    sameStart: sameStart < 0 ? longer : sameStart,
    differences,
    hasMore,
    differing,
  };
}

/** The bytes of a thing in pieces of whatever length is asked for. */
class Pieces {
  private readonly chunks: Iterator<Uint8Array>;
  private chunk = new Uint8Array(0);
  private at = 0;

  constructor(ref: BytesRef) {
    this.chunks = ref.chunks()[Symbol.iterator]();
  }

  /** Up to `most` bytes, at least one; they are good until the next call. */
  next(most: number): Uint8Array {
    while (this.at >= this.chunk.length) {
      const { done, value } = this.chunks.next();
      if (done) return new Uint8Array(0);
      // A piece is only good until the next one of whatever else reads the same file.
      this.chunk = value.slice();
      this.at = 0;
    }
    const piece = this.chunk.subarray(this.at, this.at + most);
    this.at += piece.length;
    return piece;
  }
}
