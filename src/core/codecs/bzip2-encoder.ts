import { BLOCK_MARK, blockCheck, combined, END_MARK, GROUP, LEVEL_BYTES, RUN_A, RUN_B } from './bzip2-bits';
import { sortRotations } from './bzip2-sort';
import { GrowingBytes } from './growing-bytes';
import { codeLengths } from './prefix-code';

const LEVEL = 9;
/** The tool leaves this much of a block free. */
const MOST_BLOCK = LEVEL * LEVEL_BYTES - 19;
const LONGEST_CODE = 17;
const ROUNDS = 4;

class BitWriter {
  private held = 0;
  private count = 0;

  constructor(private readonly out: GrowingBytes) {}

  /** Up to 24 bits, highest first. */
  bits(value: number, wanted: number): void {
    for (let left = wanted; left > 0;) {
      const take = Math.min(left, 8 - this.count);
      this.held = (this.held << take) | ((value >>> (left - take)) & ((1 << take) - 1));
      this.count += take;
      left -= take;
      if (this.count < 8) continue;
      this.out.push(this.held);
      this.held = 0;
      this.count = 0;
    }
  }

  word(value: number): void {
    this.bits(value >>> 16, 16);
    this.bits(value & 0xffff, 16);
  }

  finish(): void {
    if (this.count > 0) this.bits(0, 8 - this.count);
  }
}

/** One stream of blocks of 900 kB. */
export function encodeBzip2(plain: Uint8Array): Uint8Array {
  const out = new GrowingBytes(2 * plain.length + 65_536, Math.ceil(plain.length / 2) + 4096);
  const bits = new BitWriter(out);
  bits.bits(0x425a68, 24);
  bits.bits(0x30 + LEVEL, 8);
  let check = 0;
  for (let at = 0; at < plain.length;) {
    const { block, end } = shortenRuns(plain, at);
    const own = blockCheck(plain.subarray(at, end));
    check = combined(check, own);
    for (const part of BLOCK_MARK) bits.bits(part, 24);
    bits.word(own);
    writeBlock(block, bits);
    at = end;
  }
  for (const part of END_MARK) bits.bits(part, 24);
  bits.word(check);
  bits.finish();
  return out.finish();
}

/** Runs of 4 to 259 bytes become four and a count, until a block is full. */
function shortenRuns(plain: Uint8Array, from: number): { block: Uint8Array; end: number } {
  const block = new Uint8Array(Math.min(MOST_BLOCK, 2 * (plain.length - from)));
  let length = 0;
  let at = from;
  while (at < plain.length && length + 5 <= MOST_BLOCK) {
    let run = 1;
    while (run < 259 && at + run < plain.length && plain[at + run] === plain[at]) run++;
    for (let i = 0; i < Math.min(run, 4); i++) block[length++] = plain[at]!;
    if (run >= 4) block[length++] = run - 4;
    at += run;
  }
  return { block: block.subarray(0, length), end: at };
}

function writeBlock(block: Uint8Array, bits: BitWriter): void {
  const order = sortRotations(block);
  const last = new Uint8Array(block.length);
  let origin = 0;
  for (let i = 0; i < block.length; i++) {
    const start = order[i]!;
    if (start === 0) origin = i;
    last[i] = block[start === 0 ? block.length - 1 : start - 1]!;
  }
  bits.bits(0, 1);
  bits.bits(origin, 24);
  const used = new Set(block);
  const bytes = Array.from({ length: 256 }, (_, i) => i).filter((byte) => used.has(byte));
  writeUsed(used, bits);
  const symbols = moveToFront(last, bytes);
  writeCoded(symbols, bytes.length + 2, bits);
}

function writeUsed(used: ReadonlySet<number>, bits: BitWriter): void {
  const rows = Array.from({ length: 16 }, (_, row) => {
    let mask = 0;
    for (let i = 0; i < 16; i++) if (used.has(16 * row + i)) mask |= 0x8000 >> i;
    return mask;
  });
  bits.bits(
    rows.reduce((all, mask, row) => (mask ? all | (0x8000 >> row) : all), 0),
    16,
  );
  for (const mask of rows) if (mask) bits.bits(mask, 16);
}

/** Places in the list of recent bytes, with runs of the first place in digits of their own. */
function moveToFront(last: Uint8Array, bytes: readonly number[]): Uint16Array {
  const recent = Uint8Array.from(bytes);
  const symbols = new Uint16Array(last.length + 1);
  let length = 0;
  let run = 0;
  const flush = (): void => {
    for (; run > 0; run = (run - 1) >> 1) symbols[length++] = run & 1 ? RUN_A : RUN_B;
  };
  for (const byte of last) {
    const index = recent.indexOf(byte);
    if (index === 0) {
      run++;
      continue;
    }
    flush();
    recent.copyWithin(1, 0, index);
    recent[0] = byte;
    symbols[length++] = index + 1;
  }
  flush();
  symbols[length++] = bytes.length + 1;
  return symbols.subarray(0, length);
}

/** Several tables of code lengths, each group of fifty symbols with the one that suits it best. */
function writeCoded(symbols: Uint16Array, alphabet: number, bits: BitWriter): void {
  const groups = Math.ceil(symbols.length / GROUP);
  const count = Math.max(2, Math.min(6, 2 + Math.floor(symbols.length / 600)));
  let selectors = Array.from({ length: groups }, (_, i) => Math.floor((i * count) / groups));
  let tables: number[][] = [];
  for (let round = 0; round < ROUNDS; round++) {
    const weights = Array.from({ length: count }, () => new Array<number>(alphabet).fill(1));
    symbols.forEach((symbol, i) => weights[selectors[Math.floor(i / GROUP)]!]![symbol]!++);
    tables = weights.map((own) => codeLengths(own, LONGEST_CODE));
    if (round < ROUNDS - 1) selectors = selectors.map((_, group) => cheapest(symbols, group, tables));
  }
  bits.bits(count, 3);
  bits.bits(groups, 15);
  writeSelectors(selectors, count, bits);
  for (const lengths of tables) writeLengths(lengths, bits);
  const codes = tables.map(canonical);
  symbols.forEach((symbol, i) => {
    const table = selectors[Math.floor(i / GROUP)]!;
    bits.bits(codes[table]![symbol]!, tables[table]![symbol]!);
  });
}

function cheapest(symbols: Uint16Array, group: number, tables: readonly (readonly number[])[]): number {
  const part = symbols.subarray(group * GROUP, (group + 1) * GROUP);
  let best = 0;
  let least = Infinity;
  tables.forEach((lengths, table) => {
    let cost = 0;
    for (const symbol of part) cost += lengths[symbol]!;
    if (cost < least) [best, least] = [table, cost];
  });
  return best;
}

function writeSelectors(selectors: readonly number[], count: number, bits: BitWriter): void {
  const front = Array.from({ length: count }, (_, i) => i);
  for (const table of selectors) {
    const index = front.indexOf(table);
    for (let i = 0; i < index; i++) bits.bits(1, 1);
    bits.bits(0, 1);
    front.splice(index, 1);
    front.unshift(table);
  }
}

function writeLengths(lengths: readonly number[], bits: BitWriter): void {
  let current = lengths[0]!;
  bits.bits(current, 5);
  for (const length of lengths) {
    for (; current < length; current++) bits.bits(0b10, 2);
    for (; current > length; current--) bits.bits(0b11, 2);
    bits.bits(0, 1);
  }
}

function canonical(lengths: readonly number[]): number[] {
  const codes = new Array<number>(lengths.length).fill(0);
  let code = 0;
  for (let length = 1; length <= LONGEST_CODE; length++) {
    lengths.forEach((own, symbol) => {
      if (own === length) codes[symbol] = code++;
    });
    code <<= 1;
  }
  return codes;
}
