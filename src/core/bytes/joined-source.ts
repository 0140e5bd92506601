import { checkRange, type ByteSource } from './source';

/** A stretch `[offset, offset + length)` of a source. */
export interface Stretched {
  readonly source: ByteSource;
  readonly offset: number;
  readonly length: number;
}

/**
 * Stretches of sources, one behind the other, as one source. A read within one of them is as cheap as there; one that goes
 * over their borders is put together.
 */
export function joinedSource(parts: readonly Stretched[], name: string): ByteSource {
  const starts: number[] = [];
  let length = 0;
  for (const part of parts) {
    starts.push(length);
    length += part.length;
  }
  /** Number of the last part that begins at or before a place. */
  const partAt = (place: number): number => {
    let low = 0;
    let high = parts.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (starts[middle]! <= place) low = middle + 1;
      else high = middle;
    }
    return low - 1;
  };
  return {
    name,
    length,
    read(offset, wanted) {
      checkRange(name, length, offset, wanted);
      if (wanted === 0) return new Uint8Array(0);
      let number = partAt(offset);
      const first = parts[number]!;
      const inside = offset - starts[number]!;
      if (inside + wanted <= first.length) return first.source.read(first.offset + inside, wanted);
      const bytes = new Uint8Array(wanted);
      for (let at = 0; at < wanted; number++) {
        const part = parts[number]!;
        const from = offset + at - starts[number]!;
        const count = Math.min(part.length - from, wanted - at);
        bytes.set(part.source.read(part.offset + from, count), at);
        at += count;
      }
      return bytes;
    },
  };
}
