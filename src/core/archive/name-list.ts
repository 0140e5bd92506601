import { parseNameList } from './names';

const LINE_END = 10;
const HASH_SIGN = 35;

/** Names by number: a list of texts, or lines that are texts only when asked for. */
export interface Names {
  readonly length: number;
  at(index: number): string | undefined;
  /** All of them in UTF-8, with a line end between two; not where one has a line end in it. */
  readonly lines?: Uint8Array;
  readonly isAscii?: boolean;
}

/**
 * A list of paths, held as the bytes of its lines. A million of them are one array, which is hashed as it lies, instead of a
 * million texts.
 */
export class NameList implements Names {
  /** Where each line ends; made when the first one is asked for. */
  private ends: Uint32Array | undefined;

  private constructor(
    readonly lines: Uint8Array,
    readonly length: number,
    readonly isAscii: boolean,
  ) {}

  /**
   * Reads a file of names in UTF-8: a path a line; empty lines and those that begin with `#` are left out, blanks around a
   * path too, and backslashes are slashes. Of a file that is only such lines, the bytes are kept as they are.
   */
  static parse(file: Uint8Array | string): NameList {
    const bytes = typeof file === 'string' ? new TextEncoder().encode(file) : file;
    const end = bytes.at(-1) === LINE_END ? bytes.length - 1 : bytes.length;
    const lines = cleanLines(bytes, end);
    if (lines > 0) return new NameList(bytes.subarray(0, end), lines, true);
    const text = typeof file === 'string' ? file : new TextDecoder().decode(file);
    const names = parseNameList(text);
    const joined = new TextEncoder().encode(names.join('\n'));
    return new NameList(joined, names.length, !joined.some((byte) => byte > 127));
  }

  at(index: number): string | undefined {
    if (!(index >= 0 && index < this.length)) return undefined;
    const ends = (this.ends ??= this.findEnds());
    const from = index === 0 ? 0 : ends[index - 1]! + 1;
    return new TextDecoder().decode(this.lines.subarray(from, ends[index]));
  }

  *[Symbol.iterator](): IterableIterator<string> {
    if (this.length > 0) yield* new TextDecoder().decode(this.lines).split('\n');
  }

  private findEnds(): Uint32Array {
    const ends = new Uint32Array(this.length);
    let count = 0;
    for (let at = 0; at < this.lines.length; at++) if (this.lines[at] === LINE_END) ends[count++] = at;
    ends[count] = this.lines.length;
    return ends;
  }
}

const isBlank = (byte: number): boolean => byte === 32 || byte === 9;

/** How many lines there are, or 0 where one of them needs a closer look. */
function cleanLines(bytes: Uint8Array, end: number): number {
  let lines = 0;
  let before = LINE_END;
  for (let at = 0; at < end; at++) {
    const byte = bytes[at]!;
    // Beyond ASCII there are blanks that are hard to tell.
    if (byte > 126 || byte === 92 || byte === 13) return 0;
    if (before === LINE_END) {
      if (byte === LINE_END || byte === HASH_SIGN || isBlank(byte)) return 0;
      lines++;
    } else if (byte === LINE_END && isBlank(before)) return 0;
    before = byte;
  }
  return before === LINE_END || isBlank(before) ? 0 : lines;
}
