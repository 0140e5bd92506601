import { createDecipheriv, createHash } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import zlib from 'node:zlib';
import { codesToWave } from '../common/ima';
import { Stall } from '../common/stall';

interface Row {
  codec: number;
  reel: number;
  flags: number;
  rate: number;
  samples: number;
  place: number;
  size: number;
  check: number;
}

const HEAD = 40;
const ROW = 32;

/** A sound as the engine plays it. */
export interface Played {
  data: Buffer;
  ending: 'wav' | 'ogg';
}

/** A book of takes with its reels, as the engine opens it. */
export class Songbook {
  readonly name: string;
  /** Of books of one title the one with the highest rank is asked first. */
  readonly rank: number;
  private readonly book: Buffer;
  private readonly rows = new Map<number, Row>();
  private readonly reels: Buffer[] = [];
  private readonly key: Buffer;

  constructor(file: string, gameKey: Buffer) {
    this.name = path.basename(file, '.songbook');
    const book = (this.book = fs.readFileSync(file));
    if (book.length < HEAD || book.toString('latin1', 0, 8) !== 'SONGBOOK')
      throw new Stall(this.name, 'book tag', 'this is no songbook');
    if (book.readUInt16LE(8) !== 2) throw new Stall(this.name, 'book version', 'another engine wrote it');
    const [reels, count] = [book.readUInt16LE(10), book.readUInt32LE(12)];
    const salt = book.subarray(16, 24);
    const rows = book.subarray(HEAD, HEAD + ROW * count);
    if (rows.length !== ROW * count || adler32(rows) !== book.readUInt32LE(28))
      throw new Stall(this.name, 'book check', 'the list of takes does not check');
    this.rank = book.readUInt32LE(36);
    this.key = createHash('sha256').update(gameKey).update(salt).digest();
    if (zlib.crc32(this.key) !== book.readUInt32LE(32))
      throw new Stall(this.name, 'book key', 'the key does not open it');
    for (let at = 0; at < rows.length; at += ROW)
      this.rows.set(rows.readUInt32LE(at), {
        codec: rows[at + 4]!,
        reel: rows[at + 5]!,
        flags: rows.readUInt16LE(at + 6),
        rate: rows.readUInt32LE(at + 8),
        samples: rows.readUInt32LE(at + 12),
        place: rows.readUInt32LE(at + 16),
        size: rows.readUInt32LE(at + 20),
        check: rows.readUInt32LE(at + 24),
      });
    for (let n = 1; n <= reels; n++) this.reels.push(this.reelAt(file, n, salt));
  }

  get count(): number {
    return this.rows.size;
  }

  /** Whether a take of this name is listed. */
  has(wanted: string): boolean {
    return this.rows.has(fnv(wanted));
  }

  private reelAt(file: string, number: number, salt: Buffer): Buffer {
    const what = `${this.name}.reel${number}`;
    const beside = file.replace(/songbook$/, `reel${number}`);
    if (!fs.existsSync(beside)) throw new Stall(what, 'file', 'the reel is missing');
    const reel = fs.readFileSync(beside);
    const isOwn = reel.toString('latin1', 0, 4) === 'REEL' && reel.readUInt16LE(4) === number;
    if (!isOwn || !reel.subarray(8, 16).equals(salt))
      throw new Stall(what, 'reel', 'it belongs to another book');
    return reel;
  }

  /** The bytes of a take, checked in every way that the engine checks them. */
  take(wanted: string): Played {
    const what = `${this.name}: ${wanted}`;
    const id = fnv(wanted);
    const row = this.rows.get(id);
    if (!row) throw new Stall(what, 'take', 'no take has this number');
    const from = row.reel === 0 ? this.book : this.reels[row.reel - 1];
    if (!from) throw new Stall(what, 'take reel', `there is no reel ${row.reel}`);
    const stored = from.subarray(row.place, row.place + row.size);
    if (stored.length !== row.size) throw new Stall(what, 'take place', 'it lies outside its file');
    const start = Buffer.alloc(16);
    start.writeUInt32LE(id, 4);
    const data = row.flags & 1 ? createDecipheriv('chacha20', this.key, start).update(stored) : stored;
    if (zlib.crc32(data) !== row.check) throw new Stall(what, 'take check', 'the bytes do not check');
    return row.codec === 1 ? codes(data, row, what) : ogg(data, row, what);
  }
}

function codes(data: Buffer, { samples, rate }: Row, what: string): Played {
  if (data.length < 4 || samples > 2 * (data.length - 4) || samples < 2 * (data.length - 4) - 1)
    throw new Stall(what, 'take length', `${samples} samples in ${data.length} bytes`);
  const first = data.readInt16LE(0);
  const wave = codesToWave({ data: data.subarray(4), count: samples, first, lowFirst: true, rate });
  return { data: wave, ending: 'wav' };
}

/** An Ogg with Opus (RFC 7845): its last page says how many samples are played, those to settle with among them. */
function ogg(data: Buffer, { samples, rate }: Row, what: string): Played {
  if (data.toString('latin1', 0, 4) !== 'OggS' || data.toString('latin1', 28, 36) !== 'OpusHead')
    throw new Stall(what, 'take codec', 'the row says Opus, and it is none');
  if (rate !== 48000) throw new Stall(what, 'take rate', `${rate} Hz, and Opus is played at 48000`);
  const last = data.lastIndexOf('OggS');
  const played = Number(data.readBigUInt64LE(last + 6)) - data.readUInt16LE(38);
  if (played !== samples)
    throw new Stall(what, 'take length', `${samples} in the row, ${played} in the file`);
  return { data, ending: 'ogg' };
}

/** FNV-1a of 32 bits. */
const fnv = (text: string): number => {
  let hash = 2166136261;
  for (const byte of Buffer.from(text)) hash = Math.imul(hash ^ byte, 16777619) >>> 0;
  return hash;
};

/** Adler-32 (RFC 1950, section 9). */
function adler32(bytes: Buffer): number {
  let [low, high] = [1, 0];
  for (const byte of bytes) {
    low = (low + byte) % 65521;
    high = (high + low) % 65521;
  }
  return ((high << 16) | low) >>> 0;
}
