import { CHUNK_BYTES, type ByteSource } from './source';

/**
 * Bytes of known length that can be gone through any number of times without being held: a range of a
 * file, something in memory, or the result of a transform that is made anew on each pass.
 */
export interface BytesRef {
  readonly length: number;
  /** Pieces in order; each is valid until the next is asked for. */
  chunks(): Iterable<Uint8Array>;
  /** Set where the bytes lie as they are in a source, so that they can be copied without a detour. */
  readonly span?: { source: ByteSource; offset: number };
}

export function refOfBytes(bytes: Uint8Array): BytesRef {
  return { length: bytes.length, chunks: () => (bytes.length > 0 ? [bytes] : []) };
}

/** The range `[offset, offset + length)` of a source, read in pieces of a mebibyte. */
export const refOfSpan = (source: ByteSource, offset: number, length: number): BytesRef =>
  new SpanRef({ source, offset }, length);

/** There may be one a record, so that it is as small as can be. */
class SpanRef implements BytesRef {
  constructor(
    readonly span: { source: ByteSource; offset: number },
    readonly length: number,
  ) {}

  *chunks(): Iterable<Uint8Array> {
    const { source, offset } = this.span;
    for (let at = 0; at < this.length; at += CHUNK_BYTES)
      yield source.read(offset + at, Math.min(CHUNK_BYTES, this.length - at));
  }
}

export const concatRefs = (parts: readonly BytesRef[]): BytesRef => new JoinedRef(parts);

/** Refs one after the other; a range of them is found without going through what lies before it. */
class JoinedRef implements BytesRef {
  readonly length: number;
  private starts: Float64Array | undefined;

  constructor(private readonly parts: readonly BytesRef[]) {
    this.length = parts.reduce((sum, part) => sum + part.length, 0);
  }

  *chunks(): Iterable<Uint8Array> {
    for (const part of this.parts) yield* part.chunks();
  }

  slice(from: number, length: number): BytesRef {
    this.starts ??= this.places();
    const { starts } = this;
    let [low, high] = [0, starts.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (starts[middle]! <= from) low = middle + 1;
      else high = middle;
    }
    const found: BytesRef[] = [];
    for (let i = Math.max(0, low - 1); i < this.parts.length && starts[i]! < from + length; i++) {
      const part = this.parts[i]!;
      const start = Math.max(0, from - starts[i]!);
      const end = Math.min(part.length, from + length - starts[i]!);
      if (start < end) found.push(sliceOf(part, start, end - start));
    }
    return new JoinedRef(found);
  }

  private places(): Float64Array {
    const starts = new Float64Array(this.parts.length);
    let at = 0;
    for (const [i, { length }] of this.parts.entries()) {
      starts[i] = at;
      at += length;
    }
    return starts;
  }
}

/** Whether any range of a ref can be had without going through what lies before it. */
export const isAtHand = (ref: BytesRef): boolean => ref.span !== undefined || ref instanceof JoinedRef;

/** The range `[from, from + length)` of a ref. */
export function sliceOf(ref: BytesRef, from: number, length: number): BytesRef {
  if (from === 0 && length === ref.length) return ref;
  if (ref.span) return refOfSpan(ref.span.source, ref.span.offset + from, length);
  if (ref instanceof JoinedRef) return ref.slice(from, length);
  return {
    length,
    *chunks() {
      let at = 0;
      for (const chunk of ref.chunks()) {
        const start = Math.max(0, from - at);
        const stop = Math.min(chunk.length, from + length - at);
        if (start < stop) yield chunk.subarray(start, stop);
        at += chunk.length;
        if (at >= from + length) return;
      }
    },
  };
}

/** As much of the range `[from, from + length)` as there is, in a new array; nothing before it is held. */
export function windowOf(ref: BytesRef, from: number, length: number): Uint8Array {
  const start = Math.min(from, ref.length);
  return collect(sliceOf(ref, start, Math.min(length, ref.length - start)));
}

/** All bytes in one new array; only for what is known to be small. */
export function collect(ref: BytesRef): Uint8Array {
  const all = new Uint8Array(ref.length);
  let at = 0;
  for (const chunk of ref.chunks()) {
    all.set(chunk, at);
    at += chunk.length;
  }
  return all;
}

/** The first place where two streams of bytes differ, or undefined. A shorter one differs at its end. */
export function firstDifference(a: BytesRef, b: BytesRef): number | undefined {
  const left = a.chunks()[Symbol.iterator]();
  const right = b.chunks()[Symbol.iterator]();
  let x: Uint8Array = new Uint8Array(0);
  let y: Uint8Array = new Uint8Array(0);
  let at = 0;
  for (;;) {
    // Both may come from one source, whose next read is allowed to overwrite what the last one gave.
    if (x.length === 0) x = nextFilled(left).slice();
    if (y.length === 0) y = nextFilled(right);
    if (x.length === 0 && y.length === 0) return undefined;
    const length = Math.min(x.length, y.length);
    if (length === 0) return at;
    const difference = differenceWithin(x, y, length);
    if (difference < length) return at + difference;
    at += length;
    x = x.subarray(length);
    y = y.subarray(length);
  }
}

function nextFilled(chunks: Iterator<Uint8Array>): Uint8Array {
  for (let step = chunks.next(); !step.done; step = chunks.next())
    if (step.value.length > 0) return step.value;
  return new Uint8Array(0);
}

/** Words of four bytes are compared where both lie at multiples of four, which is four times as fast. */
function differenceWithin(a: Uint8Array, b: Uint8Array, length: number): number {
  let from = 0;
  if (a.byteOffset % 4 === 0 && b.byteOffset % 4 === 0) {
    const words = length >> 2;
    const x = new Int32Array(a.buffer, a.byteOffset, words);
    const y = new Int32Array(b.buffer, b.byteOffset, words);
    let i = 0;
    while (i < words && x[i] === y[i]) i++;
    from = 4 * i;
  }
  for (let i = from; i < length; i++) if (a[i] !== b[i]) return i;
  return length;
}

export function equalBytes(a: Uint8Array, b: Uint8Array): boolean {
  return a.length === b.length && differenceWithin(a, b, a.length) === a.length;
}
