import { collect, FormatError, type BytesRef } from '../bytes';
import type { StreamPiece } from './stream-piece';

/** Marks of films are short. */
const MOST_BYTES = 4 << 20;

/** A line of marks: its time, as a number before a tab, and what stands behind it. */
export interface MarkLine {
  readonly time: number;
  readonly text: string;
  /** Bytes in UTF-8, with what ends it. */
  readonly length: number;
}

/** Lines that begin with a time, a whole number. Throws FormatError with the line that does not. */
export function markLines(bytes: Uint8Array): MarkLine[] {
  const lines: MarkLine[] = [];
  for (let from = 0, number = 1; from < bytes.length; number++) {
    const end = bytes.indexOf(10, from);
    const to = end < 0 ? bytes.length : end + 1;
    const text = new TextDecoder().decode(bytes.subarray(from, to));
    const found = /^(\d{1,12})(?:[\t ]+(.*?))?\r?\n?$/.exec(text);
    if (!found)
      throw new FormatError('bad-value', {
        ...{ byteOffset: from, fieldPath: `line ${number}`, actual: text.trimEnd().slice(0, 40) },
        expected: 'a time as a whole number, a tab, and what it marks',
      });
    lines.push({ time: Number(found[1]), text: found[2] ?? '', length: to - from });
    from = to;
  }
  return lines;
}

/** Each line of a stream of marks, at the time that it begins with, of which there are so many a second. */
export function linePieces(marks: BytesRef, perSecond: number): StreamPiece[] {
  if (marks.length > MOST_BYTES)
    throw new FormatError('budget', {
      expected: `at most ${MOST_BYTES} bytes of marks`,
      actual: `${marks.length}`,
    });
  return markLines(collect(marks)).map(({ time, length }) => ({ length, seconds: time / perSecond }));
}
