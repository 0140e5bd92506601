import fs from 'node:fs';
import zlib from 'node:zlib';
import { Stall } from '../common/stall';

interface Row {
  place: number;
  stored: number;
  plain: number;
  isPacked: boolean;
}

/** The number that the list knows a path by: upper case, backslashes, bytes added, shifted and folded. */
export function numberOf(path: string, seed: number): number {
  let hash = seed;
  for (const byte of Buffer.from(path.toUpperCase().replaceAll('/', '\\'), 'latin1')) {
    hash = (hash + byte) >>> 0;
    hash = (hash + (hash << 10)) >>> 0;
    hash = (hash ^ (hash >>> 6)) >>> 0;
  }
  hash = (hash + (hash << 3)) >>> 0;
  hash = (hash ^ (hash >>> 11)) >>> 0;
  return (hash + (hash << 15)) >>> 0;
}

/** A number of seven bits a byte, the lowest first. */
function varying(
  bytes: Buffer,
  from: number,
  isSigned: boolean,
  what: string,
): { value: number; next: number } {
  let value = 0;
  let shift = 0;
  for (let at = from; ; at++) {
    if (at >= bytes.length || shift > 35) throw new Stall(what, 'row', 'the list ends within a number');
    const byte = bytes[at]!;
    value += (byte & 127) * 2 ** shift;
    shift += 7;
    if (byte & 128) continue;
    if (isSigned && byte & 64) value -= 2 ** shift;
    return { value, next: at + 1 };
  }
}

/** The flags of eight items come first, the highest for the first; a pair is thirteen bits of distance and three of length. */
export function unpackStore(packed: Buffer, size: number, what: string): Buffer {
  const out = Buffer.alloc(size);
  let [at, done, flags, left] = [0, 0, 0, 0];
  while (done < size) {
    if (left === 0) [flags, left] = [packed[at++] ?? 0, 8];
    left--;
    if (at >= packed.length) throw new Stall(what, 'packing', `it ends after ${done} of ${size} bytes`);
    if (!((flags >> left) & 1)) {
      out[done++] = packed[at++]!;
      continue;
    }
    const word = packed.readUInt16BE(Math.min(at, packed.length - 2));
    at += 2;
    const from = done - (word >> 3) - 1;
    if (from < 0) throw new Stall(what, 'packing', 'it reaches back before its beginning');
    for (let i = 0; i < (word & 7) + 3 && done < size; i++) out[done++] = out[from + i]!;
  }
  return out;
}

/** The list and the bulk as the game mounts them. */
export class Stores {
  private readonly rows = new Map<number, Row>();
  private readonly seed: number;
  private readonly bulk: Buffer;

  constructor(listFile: string, bulkFile: string) {
    const list = fs.readFileSync(listFile);
    this.bulk = fs.readFileSync(bulkFile);
    const expect = (field: string, found: number | string, wanted: number | string): void => {
      if (found !== wanted) throw new Stall('stores.list', field, `${found} instead of ${wanted}`);
    };
    if (list.length < 28) throw new Stall('stores.list', 'length', `${list.length} bytes are too few`);
    expect('tag', list.toString('latin1', 0, 8), 'STORELST');
    expect('version', list.readUInt16BE(8), 2);
    expect('check', list.readUInt32BE(list.length - 4), zlib.crc32(list.subarray(0, -4)));
    this.seed = list.readUInt32BE(12);
    const count = list.readUInt32BE(16);
    expect('bulk size', list.readUInt32BE(20), this.bulk.length);
    expect('bulk tag', this.bulk.toString('latin1', 0, 4), 'BULK');
    expect('bulk count', this.bulk.readUInt32BE(4), count);
    let [at, place, before] = [24, 16, -1];
    for (let i = 0; i < count; i++) {
      const number = list.readUInt32BE(at);
      if (number < before)
        throw new Stall('stores.list', `row ${i}`, 'the rows are not in order, so it would not be found');
      before = number;
      const step = varying(list, at + 4, true, 'stores.list');
      place += step.value * 8;
      const isPacked = (list[step.next]! & 1) === 1;
      const stored = varying(list, step.next + 1, false, 'stores.list');
      const plain = isPacked ? varying(list, stored.next, false, 'stores.list') : stored;
      at = plain.next;
      if (place < 16 || place + stored.value > this.bulk.length)
        throw new Stall('stores.list', `row ${i}`, `it points outside the bulk, to ${place}`);
      this.rows.set(number, { place, stored: stored.value, plain: plain.value, isPacked });
    }
    expect('length', list.length, at + 4);
  }

  get count(): number {
    return this.rows.size;
  }

  has(path: string): boolean {
    return this.rows.has(numberOf(path, this.seed));
  }

  take(path: string): Buffer {
    const row = this.rows.get(numberOf(path, this.seed));
    if (!row) throw new Stall(path, 'number', 'the list does not have it');
    const stored = this.bulk.subarray(row.place, row.place + row.stored);
    return row.isPacked ? unpackStore(stored, row.plain, path) : Buffer.from(stored);
  }
}
