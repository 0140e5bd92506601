import { assemble, EMPTY, I32, I64, leb, op, WASM_PAGE } from '../wasm';

/*
 * FNV-1a of 64 bits over every line of a text at once, in WebAssembly, whose 64-bit multiplication is four times as
 * fast as two halves in JavaScript.
 */

// Parameters and locals of the one function.
const [at, limit, map, out, basis, hash, byte] = [0, 1, 2, 3, 4, 5, 6];
const LINE_END = 10;
const PRIME = 0x100000001b3n;
const store = [op.get, out, op.get, hash, op.store64, 3, 0];

const body = [
  ...[op.get, basis, op.set, hash],
  ...[op.block, EMPTY, op.loop, EMPTY],
  ...[op.get, at, op.get, limit, op.notBelow, op.brIf, 1],
  ...[op.get, at, op.load8, 0, 0, op.tee, byte, op.i32, ...leb(LINE_END), op.equal],
  ...[op.if, EMPTY],
  ...store,
  ...[op.get, out, op.i32, 8, op.add, op.set, out, op.get, basis, op.set, hash],
  op.else,
  ...[op.get, hash, op.get, map, op.get, byte, op.add, op.load8as64, 0, 0, op.xor64],
  ...[op.i64, ...leb(PRIME), op.mul64, op.set, hash],
  op.end,
  ...[op.get, at, op.i32, 1, op.add, op.set, at, op.br, 0],
  ...[op.end, op.end],
  ...store,
  ...[op.get, out, op.i32, 8, op.add],
  op.end,
];

const MODULE = assemble({
  name: 'lines',
  parameters: [I32, I32, I32, I32, I64],
  locals: [I64, I32],
  body,
});

interface Kernel {
  readonly memory: WebAssembly.Memory;
  lines(at: number, limit: number, map: number, out: number, basis: bigint): number;
}

let kept: Kernel | undefined;

/** Characters of ASCII and what they count as; other bytes stand for themselves. */
export type ByteMap = Uint8Array;

/** What is copied in at a time: it stays in the cache, and an engine makes a function fast between calls, not within one. */
const PIECE = 65536;
const FNV_BASIS = 0xcbf29ce484222325n;
const MAP_BYTES = 256;
/** Memory that a very long line made larger than this is let go. */
const MOST_KEPT = 1 << 21;

/** The kernel with room for so many bytes; one is kept, since fresh memory costs more than the hashes. */
function kernelWith(room: number): Kernel {
  kept ??= new WebAssembly.Instance(MODULE).exports as unknown as Kernel;
  const missing = room - kept.memory.buffer.byteLength;
  if (missing > 0) kept.memory.grow(Math.ceil(missing / WASM_PAGE));
  return kept;
}

/**
 * FNV-1a, 64 bits (draft-eastlake-fnv), of each line of a text whose lines end in one byte 10 between them; `map` has
 * 256 bytes, what each byte is taken for. Gives the hashes as low and high halves in turn. Throws RangeError where there
 * are more or fewer lines than `count`.
 */
export function fnvOfLines(lines: Uint8Array, count: number, map: ByteMap): Uint32Array {
  const hashes = new Uint32Array(2 * count);
  let done = 0;
  for (let from = 0; from <= lines.length;) {
    const piece = wholeLines(lines, from);
    const outAt = Math.ceil((MAP_BYTES + piece.length) / 8) * 8;
    // A hash a byte at the most, and one for the end; what is longer than a piece is one line.
    const most = piece.length > PIECE ? 1 : piece.length + 1;
    const kernel = kernelWith(outAt + 8 * most);
    const bytes = new Uint8Array(kernel.memory.buffer);
    bytes.set(map);
    bytes.set(piece, MAP_BYTES);
    const end = kernel.lines(MAP_BYTES, MAP_BYTES + piece.length, 0, outAt, FNV_BASIS);
    const found = (end - outAt) / 8;
    if (done + found > count) throw new RangeError(`more than ${count} lines`);
    hashes.set(new Uint32Array(kernel.memory.buffer, outAt, 2 * found), 2 * done);
    done += found;
    from += piece.length + 1;
  }
  if (done !== count) throw new RangeError(`${done} lines instead of ${count}`);
  if (kept && kept.memory.buffer.byteLength > MOST_KEPT) kept = undefined;
  return hashes;
}

/** Lines from a place on, a piece of them, or one that is longer; without the line end behind the last. */
function wholeLines(lines: Uint8Array, from: number): Uint8Array {
  if (from + PIECE >= lines.length) return lines.subarray(from);
  const before = lines.lastIndexOf(LINE_END, from + PIECE);
  if (before >= from) return lines.subarray(from, before);
  const behind = lines.indexOf(LINE_END, from + PIECE);
  return lines.subarray(from, behind < 0 ? lines.length : behind);
}
