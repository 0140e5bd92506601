import { assemble, EMPTY, I32, leb, op, V128, WASM_PAGE, wide } from '../wasm';

/*
 * Finds which lines of a text have a piece in them. Sixteen places at a time are held against the first and the last byte
 * of the piece (the "generic SIMD" method of W. Mula, 2016); only where both fit the rest is looked at. Letters of ASCII
 * fit in either case.
 */

// Parameters: where the lines begin and end, the piece, where the lines' ends stand, where the answer goes.
const [at, limit, piece, pieceLength, ends, out] = [0, 1, 2, 3, 4, 5];
// The piece is spelled twice, in lower and in upper letters, one behind the other.
const [place, last, mask, found, step, sign, count, lower, upper, lowerLast, upperLast, offset] = [
  6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16, 17,
];

const get = (local: number): number[] => [op.get, local];
const set = (local: number): number[] => [op.set, local];
const constant = (value: number): number[] => [op.i32, ...leb(value)];
const load8 = [op.load8, 0, 0];
const load32 = [op.load32, 2, 0];
const loadWide = [...wide.load, 0, 0];
/** The sign of the piece in lower letters at an offset, and in upper ones. */
const lowerAt = (where: number[]): number[] => [...get(piece), ...where, op.add, ...load8];
const upperAt = (where: number[]): number[] => [
  ...get(piece),
  ...get(pieceLength),
  op.add,
  ...where,
  op.add,
  ...load8,
];
/** Where the end of the line in hand stands in the memory. */
const endOfLine = [...get(ends), ...get(offset), op.add, ...load32, ...get(at), op.add];
const lastOffset = [...get(pieceLength), ...constant(1), op.subtract];
const increase = (local: number, by: number): number[] => [
  ...get(local),
  ...constant(by),
  op.add,
  ...set(local),
];

const body = [
  ...[...get(limit), ...get(pieceLength), op.subtract, ...set(last)],
  ...[...lowerAt(constant(0)), ...wide.fill8, ...set(lower)],
  ...[...upperAt(constant(0)), ...wide.fill8, ...set(upper)],
  ...[...lowerAt(lastOffset), ...wide.fill8, ...set(lowerLast)],
  ...[...upperAt(lastOffset), ...wide.fill8, ...set(upperLast)],
  ...[...get(at), ...set(place)],
  ...[op.block, EMPTY, op.loop, EMPTY],
  // Past the last place at which the piece could begin.
  ...[...get(place), ...get(last), op.above, op.brIf, 1],
  ...[...get(place), ...loadWide, ...get(lower), ...wide.equal8],
  ...[...get(place), ...loadWide, ...get(upper), ...wide.equal8, ...wide.or],
  ...[...get(place), ...lastOffset, op.add, ...loadWide, ...get(lowerLast), ...wide.equal8],
  ...[...get(place), ...lastOffset, op.add, ...loadWide, ...get(upperLast), ...wide.equal8, ...wide.or],
  ...[...wide.and, ...wide.bits8, op.tee, mask, op.isZero],
  ...[op.if, EMPTY, ...increase(place, 16), op.br, 1, op.end],
  ...[...get(place), ...get(mask), op.trailingZeros, op.add, op.tee, found],
  ...[...get(last), op.above, op.brIf, 1],
  // The signs between the first and the last.
  ...[...constant(1), ...set(step)],
  ...[op.block, EMPTY, op.loop, EMPTY],
  ...[...get(step), ...lastOffset, op.notBelow, op.brIf, 1],
  ...[...get(found), ...get(step), op.add, ...load8, op.tee, sign],
  ...[...lowerAt(get(step)), op.notEqual],
  ...[op.if, EMPTY],
  ...[...get(sign), ...upperAt(get(step)), op.notEqual],
  // Not here: go on behind the place (out of the if, the loop, the block, to the outer loop).
  ...[op.if, EMPTY, ...get(found), ...constant(1), op.add, ...set(place), op.br, 4, op.end],
  op.end,
  ...[...increase(step, 1), op.br, 0],
  ...[op.end, op.end],
  // Which line it is in.
  ...[op.block, EMPTY, op.loop, EMPTY],
  ...[...endOfLine, ...get(found), op.above, op.brIf, 1],
  ...[...increase(offset, 4), ...increase(out, 1), op.br, 0],
  ...[op.end, op.end],
  ...[...get(out), ...constant(1), op.store8, 0, 0],
  ...increase(count, 1),
  ...[...endOfLine, ...constant(1), op.add, ...set(place)],
  ...[op.br, 0],
  ...[op.end, op.end],
  ...get(count),
  op.end,
];

interface Kernel {
  readonly memory: WebAssembly.Memory;
  find(at: number, limit: number, piece: number, length: number, ends: number, out: number): number;
}

let compiled: WebAssembly.Module | undefined;

/** Longest piece that is looked for, in bytes. */
export const MOST_PIECE_BYTES = 1024;
/** Bytes that a wide load may reach beyond the lines. */
const SLACK = 32;

/** A text of lines, in memory of its own, that can be searched many times. */
export class LineSearch {
  /** The lines in UTF-8, each with a line end (10) behind it. */
  readonly lines: Uint8Array<ArrayBuffer>;
  /** Where the line end of each line stands. */
  readonly ends: Uint32Array<ArrayBuffer>;
  private readonly kernel: Kernel;
  private readonly endsAt: number;
  private readonly outAt: number;
  private readonly pieceAt: number;

  /** Room for lines of so many bytes, line ends included; `lines` and `ends` are to be filled then. */
  constructor(byteLength: number, count: number) {
    compiled ??= assemble({
      name: 'find',
      parameters: [I32, I32, I32, I32, I32, I32],
      locals: [I32, I32, I32, I32, I32, I32, I32, V128, V128, V128, V128, I32],
      body,
    });
    this.kernel = new WebAssembly.Instance(compiled).exports as unknown as Kernel;
    this.pieceAt = 0;
    const linesAt = 2 * MOST_PIECE_BYTES;
    this.endsAt = Math.ceil((linesAt + byteLength + SLACK) / 4) * 4;
    this.outAt = this.endsAt + 4 * count;
    const missing = this.outAt + count - this.kernel.memory.buffer.byteLength;
    if (missing > 0) this.kernel.memory.grow(Math.ceil(missing / WASM_PAGE));
    const buffer = this.kernel.memory.buffer as ArrayBuffer;
    this.lines = new Uint8Array(buffer, linesAt, byteLength);
    this.ends = new Uint32Array(buffer, this.endsAt, count);
  }

  get count(): number {
    return this.ends.length;
  }

  /**
   * Which lines have the piece in them, a 1 for each that does. The piece is UTF-8 without a line end; `upper` is the same
   * in upper letters, byte by byte of the same length. The answer is good until the next search.
   */
  find(lower: Uint8Array, upper: Uint8Array): Uint8Array {
    const { buffer } = this.kernel.memory;
    const out = new Uint8Array(buffer, this.outAt, this.count);
    out.fill(0);
    if (lower.length === 0 || lower.length !== upper.length || lower.length > MOST_PIECE_BYTES)
      throw new RangeError(`a piece of 1 to ${MOST_PIECE_BYTES} bytes, the same in upper letters`);
    const bytes = new Uint8Array(buffer);
    bytes.set(lower, this.pieceAt);
    bytes.set(upper, this.pieceAt + upper.length);
    // Line ends are no letters, so nothing is found across them. The ends stand in the memory's own places.
    const from = this.lines.byteOffset;
    this.kernel.find(from, from + this.lines.length, this.pieceAt, lower.length, this.endsAt, this.outAt);
    return out;
  }
}
