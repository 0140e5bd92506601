import { openArchive } from '../src/core/archive';
import { memorySource } from '../src/core/bytes';
import { parseScript } from '../src/core/script';
import { nodePrimitives } from '../src/platform/node/primitives';

/**
 * A table of a million entries with hashes, places, sizes, flags and inline names through a compiled script, in turn
 * with a loop by hand over the same bytes: node --expose-gc --import tsx bench/tables.ts
 */
const ROWS = 1_000_000;
const PAYLOAD = 16;
const ROUNDS = 5;

const SCRIPT = `
format script: 1
title: Million
recognise: [{ at: 0, text: MIL1 }]
records:
  head: { tag: text(4), count: { type: u32, derived: count(rows) }, rows: { type: row, count: count } }
  row:
    hash: u64
    at: { type: u64, derived: place(payload) }
    size: { type: u32, derived: size(payload) }
    flags: u32
    length: u16
    name: text(length)
parts: { head: { type: head, at: 0 } }
entries: { each: head.rows, path: name, hash: hash, size: size, payload: { at: at, size: size } }
`;

function sample(): Buffer {
  const names = Array.from({ length: ROWS }, (_, i) => `folder${i % 400}/sub${i % 37}/entry_${i}.dat`);
  const table = 8 + names.reduce((sum, name) => sum + 26 + name.length, 0);
  const out = Buffer.alloc(table + ROWS * PAYLOAD, 'payload of bytes');
  out.write('MIL1', 0);
  out.writeUInt32LE(ROWS, 4);
  let at = 8;
  names.forEach((name, i) => {
    out.writeUInt32LE(Math.imul(i, 2654435761) >>> 0, at);
    out.writeUInt32LE(i, at + 4);
    out.writeBigUInt64LE(BigInt(table + i * PAYLOAD), at + 8);
    out.writeUInt32LE(PAYLOAD, at + 16);
    out.writeUInt32LE(i & 3, at + 20);
    out.writeUInt16LE(name.length, at + 24);
    out.write(name, at + 26, 'latin1');
    at += 26 + name.length;
  });
  return out;
}

/** What somebody would write for this one format, with nothing checked but that places and sizes are inside. */
function byHand(bytes: Buffer): number {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  const count = view.getUint32(4, true);
  const high = new Uint32Array(count);
  const low = new Uint32Array(count);
  const places = new Float64Array(count);
  const sizes = new Uint32Array(count);
  const flags = new Uint32Array(count);
  const names = new Uint32Array(count);
  const lengths = new Uint16Array(count);
  let at = 8;
  for (let i = 0; i < count; i++) {
    low[i] = view.getUint32(at, true);
    high[i] = view.getUint32(at + 4, true);
    places[i] = view.getUint32(at + 8, true) + view.getUint32(at + 12, true) * 0x1_0000_0000;
    sizes[i] = view.getUint32(at + 16, true);
    flags[i] = view.getUint32(at + 20, true);
    lengths[i] = view.getUint16(at + 24, true);
    names[i] = at + 26;
    if (places[i]! + sizes[i]! > bytes.length) throw new Error('outside');
    at += 26 + lengths[i]!;
  }
  return at;
}

const bytes = sample();
const script = parseScript(SCRIPT);
const source = memorySource(new Uint8Array(bytes.buffer, bytes.byteOffset, bytes.length), 'million');
const times = { hand: [] as number[], script: [] as number[] };
for (let round = 0; round < ROUNDS; round++) {
  let began = performance.now();
  byHand(bytes);
  times.hand.push(performance.now() - began);
  globalThis.gc?.();
  began = performance.now();
  openArchive(script, source, { primitives: nodePrimitives });
  times.script.push(performance.now() - began);
}
globalThis.gc?.();
const before = process.memoryUsage();
const archive = openArchive(script, source, { primitives: nodePrimitives });
globalThis.gc?.();
const after = process.memoryUsage();
const held = after.heapUsed - before.heapUsed + after.arrayBuffers - before.arrayBuffers;
if (archive.entries[777_777]!.path !== 'folder177/sub0/entry_777777.dat') throw new Error('a wrong path');
const median = (list: number[]): number => list.sort((a, b) => a - b)[ROUNDS >> 1]!;
const [hand, ours] = [median(times.hand), median(times.script)];
process.stdout.write(
  `| a table of ${ROWS} entries, against a loop by hand | ${hand.toFixed(0)} ms | ${ours.toFixed(0)} ms | **${(ours / hand).toFixed(1)}** | at most 2.5 | ${(held / 1e6).toFixed(0)} MB held |\n`,
);
