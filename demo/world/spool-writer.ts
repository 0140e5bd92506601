import { createCipheriv } from 'node:crypto';
import zlib from 'node:zlib';
import { OutBytes } from './out-bytes';

/** One stream of a film, in the pieces that are shown or played together. */
export interface Track {
  kind: 'picture' | 'sound' | 'marks';
  tongue: string;
  pieces: { time: number; data: Buffer }[];
}

const KINDS = { picture: 1, sound: 2, marks: 3 };

/** A film: a list of tracks, then their pieces by time, each behind a keyed head of sixteen bytes. */
export function writeSpool(tracks: readonly Track[], key: Buffer): Buffer {
  const chunks = tracks
    .flatMap(({ pieces }, track) => pieces.map(({ time, data }) => ({ time, data, track })))
    .sort((a, b) => a.time - b.time || a.track - b.track);
  const out = new OutBytes().text('SPOOL', 6).u16(5).u16(tracks.length).u16(0);
  out.u32(chunks.length).u32(Math.max(0, ...chunks.map(({ time }) => time)));
  for (const { kind, tongue, pieces } of tracks) {
    out.u8(KINDS[kind]).text(tongue, 3);
    out.u32(pieces.reduce((sum, { data }) => sum + data.length, 0));
  }
  out.align(16);
  for (const { time, data, track } of chunks) {
    const head = new OutBytes().u16(track).u16(0x5350).u32(time).u32(data.length).u32(zlib.crc32(data));
    const cipher = createCipheriv('aes-256-ecb', key, null).setAutoPadding(false);
    out.bytes(cipher.update(head.whole())).bytes(data).align(16);
  }
  return out.whole();
}

/** The pieces of an IVF film: its head with the first frame, then frame by frame. */
export function ivfPieces(film: Buffer, rate: number): Track['pieces'] {
  const pieces: Track['pieces'] = [];
  for (let at = film.readUInt16LE(6), from = 0; at < film.length; from = at) {
    at += 12 + film.readUInt32LE(at);
    pieces.push({ time: Math.round((1000 * pieces.length) / rate), data: film.subarray(from, at) });
  }
  return pieces;
}

/** The pages of an Ogg stream (RFC 3533), each at the time that its position says. */
export function oggPieces(ogg: Buffer): Track['pieces'] {
  const pieces: Track['pieces'] = [];
  for (let at = 0, time = 0; at < ogg.length;) {
    const from = at;
    const laces = ogg[at + 26]!;
    at += 27 + laces;
    for (let i = 0; i < laces; i++) at += ogg[from + 27 + i]!;
    pieces.push({ time, data: ogg.subarray(from, at) });
    // Positions of Opus count 48,000 a second (RFC 7845, 4).
    time = Math.max(0, Math.round(Number(ogg.readBigInt64LE(from + 6)) / 48));
  }
  return pieces;
}
