import { BLOCK_MARK, blockCheck, combined, END_MARK, GROUP, LEVEL_BYTES, RUN_B } from './bzip2-bits';
import { GrowingBytes } from './growing-bytes';

const LONGEST_CODE = 20;

class BitReader {
  private held = 0;
  private count = 0;

  constructor(
    private readonly bytes: Uint8Array,
    public at: number,
  ) {}

  /** Up to 24 bits, highest first. */
  bits(wanted: number): number {
    while (this.count < wanted) {
      const byte = this.bytes[this.at++];
      if (byte === undefined) throw new RangeError('the bzip2 data end too early');
      this.held = ((this.held << 8) | byte) >>> 0;
      this.count += 8;
    }
    this.count -= wanted;
    const value = (this.held >>> this.count) & ((1 << wanted) - 1);
    this.held &= (1 << this.count) - 1;
    return value;
  }

  word(): number {
    return ((this.bits(16) << 16) | this.bits(16)) >>> 0;
  }

  /** Goes on with a whole byte. */
  align(): void {
    this.held = 0;
    this.count = 0;
  }
}

/** A canonical prefix code: for each length the first code and where its symbols begin. */
interface Code {
  readonly limits: Int32Array;
  readonly bases: Int32Array;
  readonly symbols: Uint16Array;
}

function codeOf(lengths: readonly number[]): Code {
  const limits = new Int32Array(LONGEST_CODE + 1).fill(-1);
  const bases = new Int32Array(LONGEST_CODE + 1);
  const symbols = new Uint16Array(lengths.length);
  let code = 0;
  let filled = 0;
  for (let length = 1; length <= LONGEST_CODE; length++) {
    bases[length] = filled - code;
    lengths.forEach((own, symbol) => {
      if (own !== length) return;
      symbols[filled++] = symbol;
      code++;
    });
    if (code > 1 << length) throw new RangeError('a bzip2 code is not possible');
    limits[length] = code;
    code <<= 1;
  }
  return { limits, bases, symbols };
}

function readSymbol(bits: BitReader, { limits, bases, symbols }: Code): number {
  let code = 0;
  for (let length = 1; length <= LONGEST_CODE; length++) {
    code = (code << 1) | bits.bits(1);
    if (code < limits[length]!) {
      const symbol = symbols[bases[length]! + code];
      if (symbol !== undefined) return symbol;
    }
  }
  throw new RangeError('a bzip2 code is not in its table');
}

/** One or several streams one after the other. */
export function decodeBzip2(stored: Uint8Array, limit: number): Uint8Array {
  const out = new GrowingBytes(limit);
  const bits = new BitReader(stored, 0);
  do {
    if (bits.bits(24) !== 0x425a68) throw new RangeError('no bzip2 stream');
    const level = bits.bits(8) - 0x30;
    if (level < 1 || level > 9) throw new RangeError('bzip2 has levels 1 to 9');
    readStream(bits, level * LEVEL_BYTES, out);
    bits.align();
  } while (bits.at < stored.length);
  return out.finish();
}

function readStream(bits: BitReader, most: number, out: GrowingBytes): void {
  for (let check = 0; ;) {
    const first = bits.bits(24);
    const second = bits.bits(24);
    const expected = bits.word();
    if (first === END_MARK[0] && second === END_MARK[1]) {
      if (expected !== check) throw new RangeError('the check of the bzip2 stream does not hold');
      return;
    }
    if (first !== BLOCK_MARK[0] || second !== BLOCK_MARK[1]) throw new RangeError('no bzip2 block');
    const from = out.length;
    readBlock(bits, most, out);
    if (blockCheck(out.bytes.subarray(from, out.length)) !== expected)
      throw new RangeError('the check of a bzip2 block does not hold');
    check = combined(check, expected);
  }
}

function readBlock(bits: BitReader, most: number, out: GrowingBytes): void {
  if (bits.bits(1)) throw new RangeError('blocks shuffled by old versions are not known');
  const origin = bits.bits(24);
  const used: number[] = [];
  const ranges = bits.bits(16);
  for (let i = 0; i < 16; i++) {
    if (!((ranges >> (15 - i)) & 1)) continue;
    const inRange = bits.bits(16);
    for (let j = 0; j < 16; j++) if ((inRange >> (15 - j)) & 1) used.push(16 * i + j);
  }
  const tableCount = bits.bits(3);
  const selectorCount = bits.bits(15);
  if (used.length === 0 || tableCount < 2 || tableCount > 6 || selectorCount === 0)
    throw new RangeError('the head of a bzip2 block is broken');
  const selectors = readSelectors(bits, tableCount, selectorCount);
  const codes = Array.from({ length: tableCount }, () => readCode(bits, used.length + 2));
  const last = readMoved(bits, used, selectors, codes, most);
  undo(last, origin, out);
}

function readSelectors(bits: BitReader, tableCount: number, count: number): number[] {
  const front = Array.from({ length: tableCount }, (_, i) => i);
  return Array.from({ length: count }, () => {
    let index = 0;
    while (bits.bits(1)) if (++index >= tableCount) throw new RangeError('a bzip2 selector is wrong');
    const [table] = front.splice(index, 1);
    front.unshift(table!);
    return table!;
  });
}

function readCode(bits: BitReader, symbols: number): Code {
  const lengths: number[] = [];
  let length = bits.bits(5);
  for (let i = 0; i < symbols; i++) {
    for (;;) {
      if (length < 1 || length > LONGEST_CODE) throw new RangeError('a bzip2 code has a wrong length');
      if (!bits.bits(1)) break;
      length += bits.bits(1) ? -1 : 1;
    }
    lengths.push(length);
  }
  return codeOf(lengths);
}

/** The last column of the sorted rotations, out of runs and places in the list of recent bytes. */
function readMoved(
  bits: BitReader,
  used: readonly number[],
  selectors: readonly number[],
  codes: readonly Code[],
  most: number,
): Uint8Array {
  const recent = Uint8Array.from(used);
  const end = used.length + 1;
  const last = new Uint8Array(most);
  let length = 0;
  let run = 0;
  let weight = 1;
  let group = 0;
  let left = 0;
  let code = codes[0]!;
  for (;;) {
    if (left === 0) {
      const selector = selectors[group++];
      if (selector === undefined) throw new RangeError('bzip2 selectors run out');
      code = codes[selector]!;
      left = GROUP;
    }
    left--;
    const symbol = readSymbol(bits, code);
    if (symbol <= RUN_B) {
      if (weight > most) throw new RangeError('a bzip2 run is too long');
      run += weight << symbol;
      weight <<= 1;
      continue;
    }
    if (run > 0) {
      if (length + run > most) throw new RangeError('a bzip2 block is too long');
      last.fill(recent[0]!, length, length + run);
      length += run;
      run = 0;
      weight = 1;
    }
    if (symbol === end) return last.subarray(0, length);
    if (length >= most) throw new RangeError('a bzip2 block is too long');
    const index = symbol - 1;
    const byte = recent[index]!;
    recent.copyWithin(1, 0, index);
    recent[0] = byte;
    last[length++] = byte;
  }
}

/** Turns the last column back into the bytes, and runs of four or more into what they stand for. */
function undo(last: Uint8Array, origin: number, out: GrowingBytes): void {
  if (last.length === 0) return;
  if (origin >= last.length) throw new RangeError('a bzip2 block begins outside itself');
  const starts = new Int32Array(257);
  for (const byte of last) starts[byte + 1]!++;
  for (let i = 0; i < 256; i++) starts[i + 1]! += starts[i]!;
  const next = new Int32Array(last.length);
  for (let i = 0; i < last.length; i++) next[starts[last[i]!]!++] = i;
  let at = next[origin]!;
  let run = 0;
  let before = -1;
  for (let i = 0; i < last.length; i++) {
    const byte = last[at]!;
    at = next[at]!;
    if (run === 4) {
      out.reserve(byte);
      for (let j = 0; j < byte; j++) out.push(before);
      run = 0;
      before = -1;
      continue;
    }
    run = byte === before ? run + 1 : 1;
    before = byte;
    out.push(byte);
  }
}
