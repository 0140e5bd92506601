import { createCipheriv, createHash } from 'node:crypto';
import fs from 'node:fs';
import zlib from 'node:zlib';
import { nameHash, type HoldEntry } from './hold-writer';
import { OutBytes } from './out-bytes';
import { zstd } from './tools';

export interface Hold4Options {
  key?: Buffer;
  /** Keyed with the key of an expansion instead of the game's. */
  second?: boolean;
  roll: boolean;
  salt: Buffer;
  rank: number;
  title: string;
  rowsPerPage?: number;
}

const UNIT = 16;
const BLOCK = 131072;
const HEAD_BYTES = 96;

const sha = (...parts: Buffer[]): Buffer => createHash('sha256').update(Buffer.concat(parts)).digest();
const ctr = (key: Buffer, iv: Buffer, data: Buffer): Buffer =>
  createCipheriv(`aes-${key.length * 8}-ctr`, key, iv).update(data);

/** Which key a hold is keyed with, without telling the key. */
export const ringOf = (key: Buffer): Buffer => sha(Buffer.from('ring'), key).subarray(0, 8);

/** Blocks, each behind its own stored size; the highest bit marks one that is stored as it is. */
function pack(entries: readonly HoldEntry[]): Buffer[] {
  const blocks = entries.map((entry) => {
    const plain = entry.loose ? Buffer.alloc(0) : entry.data();
    const count = Math.ceil(plain.length / BLOCK);
    return Array.from({ length: count }, (_, i) => plain.subarray(i * BLOCK, (i + 1) * BLOCK));
  });
  const packed = zstd(blocks.flat());
  return entries.map((entry, i) => {
    if (entry.loose) return entry.data();
    const out = new OutBytes();
    for (const block of blocks[i]!) {
      const small = packed.shift()!;
      if (small.length < block.length) out.u32(small.length).bytes(small);
      else out.u32(0x80000000 + block.length).bytes(block);
    }
    return out.whole();
  });
}

function keyed(packed: Buffer, path: string, { key, salt }: Hold4Options): Buffer {
  if (!key) return packed;
  const tail = new OutBytes().u64(nameHash(path)).whole();
  return ctr(sha(tail, key, salt), Buffer.concat([tail, Buffer.alloc(8)]), packed);
}

/** Writes a hold of Peatfire 4 as a whole. */
export function writeHold4(file: string, entries: readonly HoldEntry[], options: Hold4Options): void {
  const { key, salt } = options;
  const rowsPerPage = options.rowsPerPage ?? 40;
  const pageCount = Math.ceil(entries.length / rowsPerPage);
  const body = new OutBytes().bytes(Buffer.alloc(HEAD_BYTES));
  for (let number = 0; number < pageCount; number++) {
    const here = entries.slice(number * rowsPerPage, (number + 1) * rowsPerPage);
    const payloads = pack(here).map((packed, i) => keyed(packed, here[i]!.path, options));
    let at = Math.ceil((body.length + 32 + here.length * 40) / UNIT) * UNIT;
    const rows = new OutBytes();
    here.forEach((entry, i) => {
      const plain = entry.data();
      rows
        .u64(nameHash(entry.path))
        .u32(at / UNIT)
        .u32(zlib.crc32(plain));
      rows.u32(plain.length).u32(payloads[i]!.length);
      rows.u16((entry.loose ? 0 : 1) | (key ? 2 : 0)).u16(0);
      rows.u32(entry.modified ?? 0).text(entry.path.slice(entry.path.lastIndexOf('.') + 1).slice(0, 8), 8);
      at = Math.ceil((at + payloads[i]!.length) / UNIT) * UNIT;
    });
    const plain = rows.whole();
    const own = createHash('md5').update(salt).update(String(number)).digest().subarray(0, 12);
    const next = number === pageCount - 1 ? 0 : at / UNIT;
    body.text('DECK', 4).u32(here.length).u32(number).u32(next).u32(zlib.crc32(plain)).bytes(own);
    body.bytes(key ? ctr(key, Buffer.concat([own, Buffer.alloc(4)]), plain) : plain);
    for (const payload of payloads) body.align(UNIT).bytes(payload);
    body.align(UNIT);
  }
  const rollPlace = options.roll ? body.length / UNIT : 0;
  if (options.roll) body.bytes(roll(entries, options)).align(UNIT);
  const head = new OutBytes().text('PEATHOLD', 8).u16(4);
  head.u16((key ? 1 : 0) | (options.roll ? 2 : 0) | (options.second ? 4 : 0)).u32(HEAD_BYTES);
  head.u64(entries.length).u64(body.length + HEAD_BYTES);
  head.bytes(salt).u32(pageCount > 0 ? HEAD_BYTES / UNIT : 0);
  head.u32(pageCount).u32(rollPlace).u32(options.rank);
  head.bytes(key ? ringOf(key) : Buffer.alloc(8)).text(options.title, 16);
  head.u32(zlib.crc32(Buffer.from(options.title))).u32(0);
  const first = head.whole();
  first.writeUInt32LE(zlib.crc32(first), 92);
  const whole = body.whole();
  first.copy(whole);
  fs.writeFileSync(file, Buffer.concat([whole, Buffer.from(first).reverse()]));
}

/** All names, each with its length in front, as one Zstandard frame. */
function roll(entries: readonly HoldEntry[], { key, salt }: Hold4Options): Buffer {
  const names = new OutBytes();
  for (const { path } of entries) names.u16(Buffer.byteLength(path)).text(path, Buffer.byteLength(path));
  const plain = names.whole();
  const packed = zstd([plain])[0]!;
  const head = new OutBytes().text('ROLL', 4).u32(entries.length).u32(plain.length).u32(packed.length);
  head.u32(zlib.crc32(plain)).bytes(key ? ctr(key, Buffer.from(salt).reverse(), packed) : packed);
  return head.whole();
}
