import { createCipheriv, createHash } from 'node:crypto';
import fs from 'node:fs';
import zlib from 'node:zlib';

/** One thing that goes into a hold. `data` is asked for when its turn comes, so that it need not be kept. */
export interface HoldEntry {
  path: string;
  data: () => Buffer;
  modified?: number;
  /** Stored as it is instead of packed. */
  loose?: boolean;
}

export interface HoldOptions {
  key?: Buffer;
  roll: boolean;
  salt: Buffer;
  rank: number;
  rowsPerPage?: number;
}

const UNIT = 16;
const BLOCK = 65536;
const HEAD_BYTES = 64;
const ROW_BYTES = 48;

interface Row {
  hash: bigint;
  place: number;
  check: number;
  size: number;
  stored: number;
  flags: number;
  modified: number;
  sort: string;
}

/** FNV-1a over the lower-case path, as the engine does it. */
export function nameHash(path: string): bigint {
  let hash = 0xcbf29ce484222325n;
  for (const byte of Buffer.from(path.toLowerCase(), 'utf8'))
    hash = ((hash ^ BigInt(byte)) * 0x100000001b3n) & 0xffffffffffffffffn;
  return hash;
}

function ctr(key: Buffer, iv: Buffer, data: Buffer): Buffer {
  return createCipheriv(`aes-${key.length * 8}-ctr`, key, iv).update(data);
}

export function entryKey(gameKey: Buffer, hash: bigint): Buffer {
  const tail = Buffer.alloc(8);
  tail.writeBigUInt64LE(hash);
  return createHash('sha256').update(gameKey).update(tail).digest().subarray(0, 16);
}

/** Cuts into blocks, packs each, and puts the table of their sizes in front. */
function pack(data: Buffer): Buffer {
  const table = Buffer.alloc(4 * Math.ceil(data.length / BLOCK));
  const blocks: Buffer[] = [table];
  for (let i = 0; i * BLOCK < data.length; i++) {
    const plain = data.subarray(i * BLOCK, (i + 1) * BLOCK);
    const packed = zlib.deflateRawSync(plain, { level: 9 });
    const raw = packed.length >= plain.length;
    table.writeUInt32LE(raw ? 0x80000000 + plain.length : packed.length, 4 * i);
    blocks.push(raw ? plain : packed);
  }
  return Buffer.concat(blocks);
}

/** Writes one hold file: head, then a page and its deck in turn, the roll of names, and the mirrored head. */
export function writeHold(file: string, entries: readonly HoldEntry[], options: HoldOptions): void {
  const { key, salt } = options;
  const rowsPerPage = options.rowsPerPage ?? 48;
  const pageCount = Math.ceil(entries.length / rowsPerPage);
  const fd = fs.openSync(file, 'w');
  let at = HEAD_BYTES;
  const align = (): void => {
    at = Math.ceil(at / UNIT) * UNIT;
  };
  const put = (bytes: Buffer, where: number): void => {
    for (let done = 0; done < bytes.length;)
      done += fs.writeSync(fd, bytes, done, bytes.length - done, where + done);
  };
  const firstPage = pageCount > 0 ? HEAD_BYTES : 0;
  for (let number = 0; number < pageCount; number++) {
    const here = entries.slice(number * rowsPerPage, (number + 1) * rowsPerPage);
    const pageAt = at;
    at += 16 + here.length * ROW_BYTES;
    const rows = here.map((entry): Row => {
      const plain = entry.data();
      const hash = nameHash(entry.path);
      let stored = entry.loose ? plain : pack(plain);
      if (key) stored = ctr(entryKey(key, hash), salt, stored);
      align();
      put(stored, at);
      const row: Row = {
        hash,
        place: at / UNIT,
        check: zlib.crc32(plain),
        size: plain.length,
        stored: stored.length,
        flags: (entry.loose ? 0 : 1) | (key ? 2 : 0),
        modified: entry.modified ?? 0,
        sort: entry.path.slice(entry.path.lastIndexOf('.') + 1),
      };
      at += stored.length;
      return row;
    });
    align();
    const last = number === pageCount - 1;
    put(page(rows, number, last ? 0 : at / UNIT, key, salt), pageAt);
  }
  align();
  const rollPlace = options.roll ? at / UNIT : 0;
  if (options.roll) {
    const bytes = roll(entries, key, salt);
    put(bytes, at);
    at += bytes.length;
    align();
  }
  const head = Buffer.alloc(HEAD_BYTES);
  head.write('PEATHOLD', 0, 'latin1');
  head.writeUInt16LE(3, 8);
  head.writeUInt16LE((key ? 1 : 0) | (options.roll ? 2 : 0), 10);
  head.writeUInt32LE(entries.length, 12);
  head.writeUInt32LE(pageCount, 16);
  head.writeUInt32LE(firstPage / UNIT, 20);
  head.writeBigUInt64LE(BigInt(at + HEAD_BYTES), 24);
  salt.copy(head, 32);
  head.writeUInt32LE(rollPlace, 48);
  head.writeUInt32LE(options.rank, 52);
  head.writeUInt32LE(zlib.crc32(Buffer.from(entries.map(({ path }) => path).join('\n'))), 56);
  head.writeUInt32LE(zlib.crc32(head.subarray(0, 60)), 60);
  put(head, 0);
  put(Buffer.from(head).reverse(), at);
  fs.ftruncateSync(fd, at + HEAD_BYTES);
  fs.closeSync(fd);
}

function page(
  rows: readonly Row[],
  number: number,
  next: number,
  key: Buffer | undefined,
  salt: Buffer,
): Buffer {
  const body = Buffer.alloc(rows.length * ROW_BYTES);
  rows.forEach((row, i) => {
    const o = i * ROW_BYTES;
    body.writeBigUInt64LE(row.hash, o);
    body.writeUInt32LE(row.place, o + 8);
    body.writeUInt32LE(row.check, o + 12);
    body.writeBigUInt64LE(BigInt(row.size), o + 16);
    body.writeBigUInt64LE(BigInt(row.stored), o + 24);
    body.writeUInt32LE(row.flags, o + 32);
    body.writeUInt32LE(row.modified, o + 36);
    body.write(row.sort.slice(0, 8), o + 40, 'latin1');
  });
  const head = Buffer.alloc(16);
  head.write('DECK', 0, 'latin1');
  head.writeUInt16LE(rows.length, 4);
  head.writeUInt16LE(number, 6);
  head.writeUInt32LE(next, 8);
  head.writeUInt32LE(zlib.crc32(body), 12);
  const iv = Buffer.alloc(16);
  salt.copy(iv, 0, 0, 8);
  iv.writeUInt32BE(number, 8);
  return Buffer.concat([head, key ? ctr(key, iv, body) : body]);
}

function roll(entries: readonly HoldEntry[], key: Buffer | undefined, salt: Buffer): Buffer {
  const plain = Buffer.from(entries.map(({ path }) => `${path}\0`).join(''), 'utf8');
  const packed = zlib.deflateRawSync(plain, { level: 9 });
  const head = Buffer.alloc(16);
  head.write('ROLL', 0, 'latin1');
  head.writeUInt32LE(plain.length, 4);
  head.writeUInt32LE(packed.length, 8);
  head.writeUInt32LE(zlib.crc32(plain), 12);
  const iv = Buffer.alloc(16);
  salt.copy(iv, 0, 8, 16);
  return Buffer.concat([head, key ? ctr(key, iv, packed) : packed]);
}
