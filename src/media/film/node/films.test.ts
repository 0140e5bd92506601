import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import http from 'node:http';
import os from 'node:os';
import path from 'node:path';
import { afterAll, describe, expect, test } from '@jest/globals';
import { openArchive } from '@/core/archive';
import {
  collect,
  concatRefs,
  FormatError,
  memorySource,
  refOfBytes,
  refOfSpan,
  type BytesRef,
} from '@/core/bytes';
import { parseScript } from '@/core/script';
import { key, options } from '@/core/testing/holds';
import { serveBytes, type ServedBytes } from '@/platform/node/byte-server';
import { describedIn } from '@/platform/node/media-scripts';
import { ivfPieces, oggPieces, writeSpool } from '../../../../demo/world/spool-writer';
import { filmTracks, playingOf } from '../core';
import { filmConverters } from './converters';
import { demuxerOf } from './demuxers';
import { encode } from './encode';
import type { Probed } from '../core/probed';
import { probe } from './probe';
import { INPUT_SAFELY } from './run-ffmpeg';

const root = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-films-'));
const open: ServedBytes[] = [];
afterAll(() => {
  for (const one of open) one.close();
  fs.rmSync(root, { recursive: true, force: true });
});

const PICTURES = ['-f', 'lavfi', '-i', 'testsrc=size=96x64:rate=10:duration=1.5'];
const SOUND = ['-f', 'lavfi', '-i', 'sine=frequency=300:duration=1.5'];
const VP8 = ['-c:v', 'libvpx', '-deadline', 'realtime'];

function made(name: string, args: readonly string[]): Uint8Array {
  const file = path.join(root, name);
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...args, file]);
  return new Uint8Array(fs.readFileSync(file));
}
async function lent(refs: readonly BytesRef[]): Promise<ServedBytes> {
  const served = await serveBytes(refs);
  open.push(served);
  return served;
}
async function probed(bytes: Uint8Array): Promise<Probed> {
  const { urls } = await lent([refOfBytes(bytes)]);
  return probe(urls[0]!, demuxerOf(bytes)!, bytes.length);
}
const failureOf = async (work: () => Promise<unknown>): Promise<FormatError> => {
  try {
    await work();
  } catch (error) {
    if (error instanceof FormatError) return error;
    throw error;
  }
  throw new Error('nothing was wrong');
};

describe('bytes that are lent to programs', () => {
  const bytes = Buffer.from('0123456789');
  const parts = concatRefs([refOfBytes(bytes.subarray(0, 4)), refOfSpan(memorySource(bytes, 'x'), 4, 6)]);

  const ask = (
    url: string,
    range?: string,
    method = 'GET',
  ): Promise<{ status: number; body: string; range: string | undefined }> =>
    new Promise((resolve, reject) => {
      const request = http.request(
        url,
        { method, headers: range === undefined ? {} : { range } },
        (response) => {
          let body = '';
          response.on('data', (part: Buffer) => (body += String(part)));
          response.on('end', () =>
            resolve({ status: response.statusCode!, body, range: response.headers['content-range'] }),
          );
        },
      );
      request.once('error', reject).end();
    });

  test('whole, in any range, and nothing else', async () => {
    const { urls } = await lent([parts]);
    const [url] = urls as [string];
    expect(await ask(url)).toMatchObject({ status: 200, body: '0123456789' });
    expect(await ask(url, 'bytes=3-5')).toEqual({ status: 206, body: '345', range: 'bytes 3-5/10' });
    expect(await ask(url, 'bytes=-2')).toMatchObject({ status: 206, body: '89' });
    expect(await ask(url, 'bytes=20-')).toMatchObject({ status: 416 });
    expect(await ask(url, undefined, 'HEAD')).toMatchObject({ status: 200, body: '' });
    expect(await ask(url, undefined, 'POST')).toMatchObject({ status: 404 });
    expect(await ask(url.replace(/\/0$/, '/1'))).toMatchObject({ status: 404 });
    expect(await ask(url.replace(/\/[^/]+\/0$/, '/guess/0'))).toMatchObject({ status: 404 });
    expect(new URL(url).hostname).toBe('127.0.0.1');
  });
});

describe('what films are', () => {
  test.each<[string, readonly string[], Partial<Probed['picture']>]>([
    ['a.mp4', ['-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-c:a', 'aac'], { codec: 'h264' }],
    ['a.webm', [...VP8, '-c:a', 'libopus'], { codec: 'vp8' }],
    ['a.mkv', ['-c:v', 'mpeg4', '-c:a', 'flac'], { codec: 'mpeg4' }],
    ['a.avi', ['-c:v', 'mjpeg', '-c:a', 'adpcm_ima_wav'], { codec: 'mjpeg' }],
    ['a.mpg', ['-r', '25', '-c:v', 'mpeg1video', '-c:a', 'mp2'], { codec: 'mpeg1video', rate: 25 }],
    ['a.ts', ['-c:v', 'mpeg2video', '-r', '25', '-c:a', 'mp2'], { codec: 'mpeg2video' }],
  ])('%s is told by its bytes, with its sound', async (name, args, picture) => {
    const film = await probed(made(name, [...PICTURES, ...SOUND, ...args]));
    expect(film.picture).toMatchObject({ width: 96, height: 64, ...picture });
    expect(film.sounds).toHaveLength(1);
    expect(film.seconds).toBeCloseTo(1.5, 0);
  });

  test('one picture, no sound; sound alone; more pictures claimed than there are', async () => {
    const one = await probed(
      made('one.ivf', ['-f', 'lavfi', '-i', 'color=size=32x32:rate=10:duration=0.1', ...VP8]),
    );
    expect(one).toMatchObject({ picture: { width: 32 }, sounds: [] });
    expect((await probed(made('s.ogg', [...SOUND, '-c:a', 'libvorbis']))).picture).toBeUndefined();
    const claims = made('claims.ivf', [...PICTURES, ...VP8]);
    new DataView(claims.buffer).setUint32(24, 2 ** 31, true);
    expect(await probed(claims)).toMatchObject({ picture: { width: 96 }, seconds: 1.5 });
    const bare = made('bare.m2v', [...PICTURES, '-r', '25', '-c:v', 'mpeg2video', '-f', 'mpeg2video']);
    expect((await probed(bare)).seconds).toBeCloseTo(1.5, 0);
  });

  test('a playlist under the name of a film is none, and a film cut short says so', async () => {
    expect(demuxerOf(Buffer.from('#EXTM3U\n#EXTINF:1,\n/etc/hostname\n'))).toBeUndefined();
    expect(demuxerOf(Buffer.from("ffconcat version 1.0\nfile '/etc/hostname'\n"))).toBeUndefined();
    const { urls } = await lent([refOfBytes(Buffer.from('#EXTM3U\n/etc/hostname\n'))]);
    expect((await failureOf(() => probe(urls[0]!, 'mov', 30))).code).toBe('codec-failed');
    const mp4 = made('cut.mp4', [...PICTURES, '-c:v', 'libx264', '-pix_fmt', 'yuv420p']);
    const error = await failureOf(() => probed(mp4.subarray(0, 900)));
    expect(error.message).not.toMatch(/127\.0\.0\.1/);
  });

  test('what browsers know is played as it lies or put together, all else in pieces', () => {
    const film = {
      picture: 'vp8',
      pixels: 'yuv420p',
      sound: 'opus',
      demuxer: 'matroska',
      isOne: true,
      bytes: 1000,
    };
    expect(playingOf(film)).toEqual({ how: 'as it is' });
    expect(playingOf({ ...film, demuxer: 'ivf', isOne: false })).toEqual({ how: 'whole', container: 'webm' });
    expect(playingOf({ ...film, isOne: false, bytes: 2 ** 31 })).toEqual({ how: 'in pieces' });
    expect(playingOf({ ...film, picture: 'h264', sound: 'aac', demuxer: 'mov' })).toEqual({
      how: 'as it is',
    });
    expect(playingOf({ ...film, picture: 'h264', sound: 'aac', demuxer: 'mov', pixels: 'yuv444p' })).toEqual({
      how: 'in pieces',
    });
    expect(playingOf({ ...film, picture: 'mpeg1video', sound: 'mp2' })).toEqual({ how: 'in pieces' });
    expect(playingOf({ ...film, picture: undefined, demuxer: 'ogg' })).toEqual({
      how: 'whole',
      container: 'webm',
    });
  });
});

describe('films that are taken out', () => {
  const ivf = Buffer.from(made('p.ivf', [...PICTURES, ...VP8]));
  const ogg = Buffer.from(made('p.ogg', [...SOUND, '-ar', '48000', '-c:a', 'libopus']));
  const spool = writeSpool(
    [
      { kind: 'picture', tongue: '', pieces: ivfPieces(ivf, 10) },
      { kind: 'sound', tongue: 'en', pieces: oggPieces(ogg) },
      { kind: 'sound', tongue: 'de', pieces: oggPieces(ogg) },
    ],
    key,
  );
  const archive = openArchive(
    parseScript(fs.readFileSync('scripts/formats/spool-peatfire.yaml', 'utf8')),
    memorySource(new Uint8Array(spool), 'a.spool'),
    options,
  );
  const [picture] = filmTracks(archive).map(({ entry }) => entry);

  async function takenOut(
    way: string,
    plain: BytesRef,
    described = describedIn(archive, picture!),
  ): Promise<Uint8Array | FormatError> {
    const results: (Uint8Array | FormatError)[] = [];
    const context = { mediaScripts: () => undefined, check: () => undefined };
    await filmConverters[way]!.convert(
      [{ plain, path: 'picture.ivf', described }],
      context,
      (_index, result) => results.push(result instanceof FormatError ? result : collect(result)),
    );
    return results[0]!;
  }

  test.each([
    ['mkv', 'vp8', 'opus'],
    ['webm', 'vp8', 'opus'],
    ['mp4', 'h264', 'aac'],
  ])('as %s with all sounds that lie beside its pictures', async (way, codec, sound) => {
    const file = (await takenOut(way, archive.plain(picture!))) as Uint8Array;
    const film = await probed(file);
    expect(film.picture).toMatchObject({ codec, width: 96, height: 64 });
    expect(film.sounds.map((one) => one.codec)).toEqual([sound, sound]);
    expect(film.sounds.map(({ language }) => language.slice(0, 2))).toEqual(['en', 'de']);
  });

  test('a damaged one is told by its name, without places of this machine', async () => {
    const broken = Uint8Array.from(ivf).map((byte, i) => (i > 60 ? 0xff : byte));
    const result = await takenOut('mp4', refOfBytes(broken), undefined);
    expect(result).toBeInstanceOf(FormatError);
    expect((result as FormatError).message).toContain('picture.ivf');
    expect((result as FormatError).message).not.toMatch(/127\.0\.0\.1|zero-latch-work/);
  });
});

test('an encoder that is to stop is ended, and says nothing of its own', async () => {
  const { urls } = await lent([
    refOfBytes(made('long.ivf', ['-f', 'lavfi', '-i', 'testsrc=size=320x240:rate=30:duration=20', ...VP8])),
  ]);
  const stop = new Error('stopped');
  let asked = 0;
  const work = encode(
    [...INPUT_SAFELY, '-f', 'ivf', '-i', urls[0]!, '-c:v', 'libvpx', '-deadline', 'best', '-f', 'null', '-'],
    {
      progress: () => undefined,
      check() {
        if (asked++ > 1) throw stop;
      },
    },
  );
  await expect(work).rejects.toBe(stop);
});

describe('streams whose first bytes tell nothing, read as their script says', () => {
  const scriptOf = (demuxer: string) =>
    parseScript(`
format script: 1
title: Bare streams
recognise: [{ at: 0, text: BARE }]
byte order: little
records:
  head: { tag: text(4), count: { type: u8, derived: count(rows) }, rows: { type: row, count: count } }
  row: { kind: u8, size: { type: u32, derived: size(payload) }, at: { type: u32, derived: place(payload) } }
parts: { head: { type: head, at: 0 } }
entries:
  each: head.rows
  path: "if(kind == 1, 'picture', 'sound')"
  size: size
  payload: { at: at, size: size }
  film: { track: "if(kind == 1, 'picture', 'sound')", demuxer: "${demuxer}" }
`);
  const archiveBy = (demuxer: string) => {
    const h264 = made('bare.h264', [...PICTURES, '-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-f', 'h264']);
    const g722 = made('bare.g722', [...SOUND, '-ar', '16000', '-c:a', 'g722', '-f', 'g722']);
    const head = Buffer.alloc(5 + 2 * 9);
    head.write('BARE');
    head[4] = 2;
    let at = head.length;
    for (const [i, stream] of [h264, g722].entries()) {
      head[5 + 9 * i] = i + 1;
      head.writeUInt32LE(stream.length, 6 + 9 * i);
      head.writeUInt32LE(at, 10 + 9 * i);
      at += stream.length;
    }
    const bytes = new Uint8Array(Buffer.concat([head, h264, g722]));
    return openArchive(scriptOf(demuxer), memorySource(bytes, 'a.bare'), options);
  };

  test('they are taken out together', async () => {
    const archive = archiveBy("if(kind == 1, 'h264', 'g722')");
    const entry = archive.entries[0]!;
    const results: unknown[] = [];
    const item = { plain: archive.plain(entry), path: 'picture', described: describedIn(archive, entry) };
    const context = { mediaScripts: () => undefined, check: () => undefined };
    await filmConverters.mkv!.convert([item], context, (_i, result) => {
      results.push(result instanceof FormatError ? result : collect(result).slice());
    });
    const file = path.join(root, 'bare.mkv');
    fs.writeFileSync(file, results[0] as Uint8Array);
    const words = [
      '-v',
      'error',
      '-count_packets',
      '-show_entries',
      'stream=codec_name,nb_read_packets',
      '-of',
      'csv=p=0',
      file,
    ];
    const said = execFileSync('ffprobe', words).toString().trim().split('\n');
    expect(said[0]).toBe('h264,15');
    expect(said[1]).toMatch(/^adpcm_g722,\d+$/);
  });

  test('they are watched in pieces, since nothing says when each is shown', () => {
    const coded = { picture: 'h264', pixels: 'yuv420p', sound: 'aac', isOne: false, bytes: 1000 };
    expect(playingOf({ ...coded, demuxer: 'h264' }).how).toBe('in pieces');
    expect(playingOf({ ...coded, demuxer: 'mov' }).how).toBe('whole');
  });

  test.each(['concat', 'hls', 'no such', '-i'])('%s is none', (name) => {
    expect(() => filmTracks(archiveBy(`'${name}'`))).toThrow(/names no other files/);
  });

  test('nothing said leaves it to the first bytes', () => {
    expect(filmTracks(archiveBy("''")).map(({ demuxer }) => demuxer)).toEqual([undefined, undefined]);
  });
});
