/** Lines held as bytes: UTF-8, each with a line end behind it. */
export interface Lines {
  readonly lines: Uint8Array;
  /** Where the line end of each stands. */
  readonly ends: Uint32Array;
}

export const LINE_END = 10;
const SLASH = 47;

export const lineStart = ({ ends }: Lines, row: number): number => (row === 0 ? 0 : ends[row - 1]! + 1);

/** Where each line begins. */
export function startsOf({ ends }: Lines): Uint32Array {
  const starts = new Uint32Array(ends.length);
  for (let row = 1; row < ends.length; row++) starts[row] = ends[row - 1]! + 1;
  return starts;
}

const decoder = new TextDecoder();

export const lineText = (of: Lines, row: number): string =>
  decoder.decode(of.lines.subarray(lineStart(of, row), of.ends[row]));

/** Below 0 where the first line comes before the second in the order of their bytes. */
export function compareLines(a: Lines, rowA: number, b: Lines, rowB: number): number {
  let atA = lineStart(a, rowA);
  let atB = lineStart(b, rowB);
  const left = a.lines;
  const right = b.lines;
  const endA = a.ends[rowA]!;
  const endB = b.ends[rowB]!;
  const both = Math.min(endA - atA, endB - atB);
  for (const stop = atA + both; atA < stop; atA++, atB++) {
    const difference = left[atA]! - right[atB]!;
    if (difference !== 0) return difference;
  }
  return endA - atA - (endB - atB);
}

/** How a line with its end stands to a text, where only as much of it counts as the text is long. */
export function compareStart(of: Lines, row: number, text: Uint8Array): number {
  const from = lineStart(of, row);
  const length = of.ends[row]! + 1 - from;
  for (let i = 0; i < text.length; i++) {
    if (i >= length) return -1;
    const difference = of.lines[from + i]! - text[i]!;
    if (difference !== 0) return difference;
  }
  return 0;
}

/** The rows of sorted lines that begin with a text, from the first to behind the last. */
export function rowsWithStart(of: Lines, text: Uint8Array, low = 0, high = of.ends.length): [number, number] {
  const bound = (isBehind: (difference: number) => boolean): number => {
    let from = low;
    let to = high;
    while (from < to) {
      const middle = (from + to) >>> 1;
      if (isBehind(compareStart(of, middle, text))) to = middle;
      else from = middle + 1;
    }
    return from;
  };
  return [bound((difference) => difference >= 0), bound((difference) => difference > 0)];
}

/** Where the name begins, behind the last slash. */
export function nameStart(of: Lines, row: number): number {
  const from = lineStart(of, row);
  for (let at = of.ends[row]! - 1; at >= from; at--) if (of.lines[at] === SLASH) return at + 1;
  return from;
}

/** Signs up to the line end would stand before it in the order of lines. */
const UNSAFE = /[\0-\n]/;

/** Puts lines into a growing array of bytes. */
export class LineWriter {
  private bytes = new Uint8Array(1 << 16);
  private length = 0;
  private readonly encoder = new TextEncoder();

  /** Adds a line and gives where its end stands. Line ends and signs before them become blanks. */
  add(text: string): number {
    const most = this.length + 3 * text.length + 1;
    if (most > this.bytes.length) {
      const larger = new Uint8Array(Math.max(most, 2 * this.bytes.length));
      larger.set(this.bytes.subarray(0, this.length));
      this.bytes = larger;
    }
    const safe = UNSAFE.test(text) ? text.replace(/[\0-\n]/g, ' ') : text;
    const { written } = this.encoder.encodeInto(safe, this.bytes.subarray(this.length));
    this.length += written;
    this.bytes[this.length] = LINE_END;
    return this.length++;
  }

  done(): Uint8Array {
    return this.bytes.slice(0, this.length);
  }
}
