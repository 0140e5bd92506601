import zlib from 'node:zlib';
import { packStore } from '../lzss';
import { OutBytes } from '../out-bytes';

export interface StoreItem {
  path: string;
  data: Buffer;
  /** Kept as it is; what is packed already gains nothing. */
  loose?: boolean;
}

export interface Stores {
  list: Buffer;
  bulk: Buffer;
}

const SEED = 0x7a11;
const UNIT = 8;

/** The list's number of a path: bytes of the upper-case path with backslashes, added, shifted and folded. */
export function storeNumber(path: string, seed = SEED): number {
  let hash = seed;
  for (const byte of Buffer.from(path.toUpperCase().replaceAll('/', '\\'))) {
    hash = (hash + byte) >>> 0;
    hash = (hash + (hash << 10)) >>> 0;
    hash = (hash ^ (hash >>> 6)) >>> 0;
  }
  hash = (hash + (hash << 3)) >>> 0;
  hash = (hash ^ (hash >>> 11)) >>> 0;
  return (hash + (hash << 15)) >>> 0;
}

/**
 * The list and the bulk. Data lies in the order given; rows stand in the order of their numbers, each with its
 * place as the difference to the row before. Highest bytes first.
 */
export function writeStores(items: readonly StoreItem[]): Stores {
  const bulk = new OutBytes(true).text('BULK', 4).u32(items.length).u64(0);
  const rows = items.map(({ path, data, loose }) => {
    const packed = loose ? data : packStore(data);
    const isPacked = packed.length < data.length;
    const stored = isPacked ? packed : data;
    const place = bulk.align(UNIT).length;
    bulk.bytes(stored);
    return { number: storeNumber(path), place, stored: stored.length, plain: data.length, isPacked };
  });
  rows.sort((a, b) => a.number - b.number);
  const list = new OutBytes(true).text('STORELST', 8).u16(2).u16(0).u32(SEED).u32(rows.length);
  list.u32(bulk.length);
  let before = 16;
  for (const row of rows) {
    list.u32(row.number).varyingSigned((row.place - before) / UNIT);
    list.u8(row.isPacked ? 1 : 0).varying(row.stored);
    if (row.isPacked) list.varying(row.plain);
    before = row.place;
  }
  list.u32(zlib.crc32(list.whole()));
  return { list: list.whole(), bulk: bulk.whole() };
}
