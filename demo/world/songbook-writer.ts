import { createCipheriv, createHash } from 'node:crypto';
import zlib from 'node:zlib';
import { adler32, OutBytes } from './out-bytes';

/** One recording of a songbook. */
export interface Take {
  name: string;
  codec: 'adpcm' | 'opus';
  rate: number;
  samples: number;
  data: Buffer;
}

export interface Songbook {
  book: Buffer;
  reels: Buffer[];
}

/** Longer takes lie in reels beside the book. */
const SHORT = 12_000;
const REEL_BYTES = 160_000;

/** FNV-1a of 32 bits over a take's name. */
export function takeNumber(name: string): number {
  let hash = 2166136261;
  for (const byte of Buffer.from(name)) hash = Math.imul(hash ^ byte, 16777619) >>> 0;
  return hash;
}

const bookKey = (key: Buffer, salt: Buffer): Buffer => createHash('sha256').update(key).update(salt).digest();

function keyed(key: Buffer, salt: Buffer, id: number, data: Buffer): Buffer {
  const start = Buffer.alloc(16);
  start.writeUInt32LE(id, 4);
  return createCipheriv('chacha20', bookKey(key, salt), start).update(data);
}

/** Names in order, each by what it shares with the one before and the rest. */
function nameList(names: readonly string[]): Buffer {
  const out = new OutBytes();
  names.forEach((name, i) => {
    const before = names[i - 1] ?? '';
    let shared = 0;
    while (shared < 255 && shared < name.length && name[shared] === before[shared]) shared++;
    out.u8(shared).text(`${name.slice(shared)}\0`, name.length - shared + 1);
  });
  return out.whole();
}

/** A book with its takes in the order of their names, and the reels that hold the long ones. */
export function writeSongbook(takes: readonly Take[], key: Buffer, salt: Buffer): Songbook {
  if (salt.length !== 8) throw new Error('a songbook has a salt of eight bytes');
  const sorted = [...takes].sort((a, b) => (a.name < b.name ? -1 : 1));
  const names = nameList(sorted.map(({ name }) => name));
  const reels: OutBytes[] = [];
  const short = new OutBytes();
  const rows = new OutBytes();
  const headBytes = 40;
  const shortAt = Math.ceil((headBytes + 32 * sorted.length + names.length) / 32) * 32;
  for (const { name, codec, rate, samples, data } of sorted) {
    const id = takeNumber(name);
    const isShort = data.length < SHORT;
    if (!isShort && (reels.length === 0 || reels.at(-1)!.length > REEL_BYTES))
      reels.push(
        new OutBytes()
          .text('REEL', 4)
          .u16(reels.length + 1)
          .u16(0)
          .bytes(salt),
      );
    const where = isShort ? short.align(32) : reels.at(-1)!.align(64);
    const place = where.length + (isShort ? shortAt : 0);
    where.bytes(keyed(key, salt, id, data));
    rows.u32(id).u8(codec === 'opus' ? 2 : 1);
    rows
      .u8(isShort ? 0 : reels.length)
      .u16(1)
      .u32(rate)
      .u32(samples);
    rows.u32(place).u32(data.length).u32(zlib.crc32(data)).u32(0);
  }
  const head = new OutBytes().text('SONGBOOK', 8).u16(2).u16(reels.length).u32(sorted.length);
  head.bytes(salt).u32(names.length).u32(adler32(rows.whole()));
  head.u32(zlib.crc32(bookKey(key, salt))).u32(0);
  const book = new OutBytes().bytes(head.whole()).bytes(rows.whole()).bytes(names);
  book.bytes(Buffer.alloc(shortAt - book.length)).bytes(short.whole());
  return { book: book.whole(), reels: reels.map((reel) => reel.whole()) };
}
