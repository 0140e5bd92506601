import { spawnSync } from 'node:child_process';
import { createDecipheriv } from 'node:crypto';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import zlib from 'node:zlib';
import { Stall } from '../common/stall';

const HEAD = 20;
const ROW = 8;
const CHUNK = 16;
const MARK = 0x5350;

/** A film as the engine shows it. */
export interface Film {
  readonly name: string;
  /** Picture and the sound of one tongue, for a page. */
  readonly film: Buffer;
  readonly width: number;
  readonly height: number;
  readonly pictures: number;
  readonly seconds: number;
  /** The tongue that is heard; empty where the film is silent. */
  readonly tongue: string;
  readonly tongues: readonly string[];
  readonly marks: readonly { readonly time: number; readonly what: string }[];
}

interface Track {
  readonly kind: number;
  readonly tongue: string;
  readonly size: number;
  readonly pieces: { time: number; data: Buffer }[];
}

/** What the engine's player can take: it has no room for larger pictures, nor time for more of them. */
const MOST = { width: 512, height: 256, rate: 30, seconds: 120, bitRate: 2_000_000 };

/** Reads a spool piece by piece, as the engine does, and stalls at what it cannot show. */
export function readSpool(spool: Buffer, name: string, key: Buffer, tongue: string): Film {
  const stall = (field: string, why: string): never => {
    throw new Stall(name, field, why);
  };
  if (spool.length < HEAD || spool.toString('latin1', 0, 5) !== 'SPOOL')
    stall('spool tag', 'this is no spool');
  if (spool.readUInt16LE(6) !== 5) stall('spool version', 'another engine wrote it');
  const [trackCount, chunkCount, lastTime] = [
    spool.readUInt16LE(8),
    spool.readUInt32LE(12),
    spool.readUInt32LE(16),
  ];
  const tracks: Track[] = [];
  for (let i = 0; i < trackCount; i++) {
    const at = HEAD + ROW * i;
    if (at + ROW > spool.length) stall('spool tracks', 'the list of tracks is cut short');
    const said = spool.toString('latin1', at + 1, at + 4).replace(/\0+$/, '');
    tracks.push({ kind: spool[at]!, tongue: said, size: spool.readUInt32LE(at + 4), pieces: [] });
  }
  let at = Math.ceil((HEAD + ROW * trackCount) / 16) * 16;
  let before = 0;
  for (let n = 0; n < chunkCount; n++) {
    const what = `piece ${n + 1}`;
    if (at + CHUNK > spool.length) stall(what, 'the spool ends before it');
    const open = createDecipheriv('aes-256-ecb', key, null).setAutoPadding(false);
    const head = open.update(spool.subarray(at, at + CHUNK));
    // The player waits for a mark that never comes: the game hangs with a black screen.
    if (head.readUInt16LE(2) !== MARK)
      stall(what, 'it is not keyed as the game expects, and the player waits for ever');
    const [track, time, size] = [head.readUInt16LE(0), head.readUInt32LE(4), head.readUInt32LE(8)];
    const data = spool.subarray(at + CHUNK, at + CHUNK + size);
    if (data.length !== size || zlib.crc32(data) !== head.readUInt32LE(12))
      stall(what, 'its bytes do not check');
    if (time < before) stall(what, `it is for ${time} ms, and one for ${before} ms has been shown`);
    if (!tracks[track]) stall(what, `there is no track ${track}`);
    before = time;
    tracks[track]!.pieces.push({ time, data });
    at = Math.ceil((at + CHUNK + size) / 16) * 16;
  }
  if (before !== lastTime)
    stall('spool length', `the head says ${lastTime} ms, the last piece is for ${before}`);
  for (const [i, { size, pieces }] of tracks.entries()) {
    const is = pieces.reduce((sum, { data }) => sum + data.length, 0);
    if (is !== size) stall(`track ${i + 1}`, `the head says ${size} bytes, and there are ${is}`);
  }
  return shown(name, tracks, tongue, stall);
}

function shown(
  name: string,
  tracks: readonly Track[],
  tongue: string,
  stall: (field: string, why: string) => never,
): Film {
  const picture = tracks.find(({ kind }) => kind === 1) ?? stall('picture', 'it has no track of pictures');
  const ivf = Buffer.concat(picture.pieces.map(({ data }) => data));
  if (ivf.length < 32 || ivf.toString('latin1', 0, 4) !== 'DKIF') stall('picture', 'the track is no IVF');
  if (ivf.toString('latin1', 8, 12) !== 'VP80')
    stall('picture codec', `${ivf.toString('latin1', 8, 12)}; the player knows VP8 only`);
  const [width, height] = [ivf.readUInt16LE(12), ivf.readUInt16LE(14)];
  if (width > MOST.width || height > MOST.height)
    stall('picture size', `${width} x ${height}; the player has room for ${MOST.width} x ${MOST.height}`);
  const rate = ivf.readUInt32LE(16) / ivf.readUInt32LE(20);
  if (!(rate > 0 && rate <= MOST.rate))
    stall('picture rate', `${rate} a second; the player shows ${MOST.rate} at most`);
  const pictures = picture.pieces.length;
  const seconds = pictures / rate;
  if (seconds > MOST.seconds)
    stall('length', `${seconds.toFixed(1)} s; the player shows ${MOST.seconds} s at most`);
  const bitRate = (8 * ivf.length) / seconds;
  if (bitRate > MOST.bitRate)
    stall(
      'bit rate',
      `${Math.round(bitRate / 1000)} kbit/s; the drive of the player reads ${MOST.bitRate / 1000}`,
    );
  const sounds = tracks.filter(({ kind }) => kind === 2);
  const sound = sounds.find((one) => one.tongue === tongue) ?? sounds[0];
  const ogg = sound && Buffer.concat(sound.pieces.map(({ data }) => data));
  if (ogg && (ogg.toString('latin1', 0, 4) !== 'OggS' || ogg.toString('latin1', 28, 36) !== 'OpusHead'))
    stall(`sound ${sound.tongue}`, 'it is no Opus');
  const marks = tracks
    .filter(({ kind }) => kind === 3)
    .flatMap(({ pieces }) => pieces)
    .map(({ time, data }) => ({
      time,
      what: data
        .toString('utf8')
        .replace(/^\d+\t/, '')
        .trimEnd(),
    }));
  return {
    ...{ name, width, height, pictures, seconds, marks },
    film: together(ivf, ogg, name),
    tongue: sound?.tongue ?? '',
    tongues: sounds.map((one) => one.tongue),
  };
}

/** Picture and sound as one film that a page plays; nothing is coded anew. */
function together(ivf: Buffer, ogg: Buffer | undefined, name: string): Buffer {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'stand-in-film-'));
  try {
    const file = (inner: string): string => path.join(folder, inner);
    fs.writeFileSync(file('picture.ivf'), ivf);
    if (ogg) fs.writeFileSync(file('sound.ogg'), ogg);
    const args = ['-v', 'error', '-xerror', '-f', 'ivf', '-i', file('picture.ivf')];
    if (ogg) args.push('-f', 'ogg', '-i', file('sound.ogg'));
    const { status, stderr } = spawnSync('ffmpeg', [...args, '-c', 'copy', '-f', 'webm', file('film.webm')]);
    if (status !== 0)
      throw new Stall(name, 'film', `it cannot be played: ${stderr.toString().split('\n')[0]}`);
    return fs.readFileSync(file('film.webm'));
  } finally {
    fs.rmSync(folder, { recursive: true });
  }
}
