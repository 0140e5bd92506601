import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { writeSheet } from '../../../../demo/world/sheet-writer';
import { Recipe } from '@/core/recipe';
import { collect, FormatError, refOfBytes } from '@/core/bytes';
import { decodedLength, readWave, readWaveFacts } from '@/media/sound/core/audio';
import { mediaScriptsOn } from '../media-scripts';
import { readShelf } from '../script-shelf';
import { conversionOf, converterOf } from '.';

const recipe = (convert: object): Recipe =>
  Recipe.parse({ title: 'x', pick: { search: '' }, folder: '/x', convert });
const shelf = readShelf();
const context = {
  mediaScripts: mediaScriptsOn(shelf),
  check: () => undefined,
};

/** What each of some things becomes, or why it does not. */
async function convertAll(
  how: 'png' | 'wav' | 'utf-8' | 'pretty',
  ...things: Uint8Array[]
): Promise<(Buffer | FormatError)[]> {
  const out: (Buffer | FormatError)[] = [];
  const items = things.map((bytes, i) => ({ plain: refOfBytes(bytes), path: `a/thing${i}` }));
  await converterOf(how)!.convert(items, context, (i, result) => {
    out[i] = result instanceof FormatError ? result : Buffer.from(collect(result));
  });
  return out;
}

async function converted(how: 'png' | 'wav' | 'utf-8' | 'pretty', bytes: Uint8Array): Promise<Buffer> {
  const [one] = await convertAll(how, bytes);
  if (one instanceof FormatError) throw one;
  return one!;
}

describe('conversions', () => {
  test('are chosen by kind', () => {
    const all = recipe({ picture: 'png', text: 'pretty' });
    expect(conversionOf(all, 'picture')).toBe('png');
    expect(conversionOf(all, 'text')).toBe('pretty');
    expect(conversionOf(all, 'sound')).toBe('stored');
    expect(conversionOf(recipe({}), 'picture')).toBe('stored');
    expect(converterOf('stored')).toBeUndefined();
  });

  test('a wrapped picture becomes a PNG of the same texels', async () => {
    const data = Buffer.alloc(8 * 8 * 4, 200);
    const sheet = writeSheet({ width: 8, height: 8, data }, 'rgba8', 'colour');
    const png = await converted('png', new Uint8Array(sheet));
    const { data: texels, info } = await sharp(png).raw().toBuffer({ resolveWithObject: true });
    expect(info).toMatchObject({ width: 8, height: 8, channels: 4 });
    expect(texels.equals(data)).toBe(true);
  });

  test('texts become UTF-8, JSON gets lines, and what is no text is refused', async () => {
    const wide = Buffer.from('\ufeffä und ö', 'utf16le');
    expect((await converted('utf-8', wide)).toString('utf8')).toBe('ä und ö');
    expect((await converted('pretty', Buffer.from('{"a":[1]}'))).toString()).toBe(
      '{\n  "a": [\n    1\n  ]\n}\n',
    );
    expect((await converted('pretty', Buffer.from('no json'))).toString()).toBe('no json');
    await expect(converted('utf-8', Buffer.from([0, 1, 2, 0]))).rejects.toThrow(/a text/);
  });

  test('WAV of plain samples stays as it is; other sounds are decoded, and those that cannot be fail alone', async () => {
    const wave = ffmpeg(
      '-f',
      'lavfi',
      '-i',
      'sine=frequency=440:duration=0.3:sample_rate=22050',
      '-f',
      'wav',
    );
    const as = (format: string, codec: string): Uint8Array =>
      ffmpeg(
        '-f',
        'lavfi',
        '-i',
        'sine=frequency=440:duration=0.3:sample_rate=22050',
        '-c:a',
        codec,
        '-f',
        format,
      );
    const flac = as('flac', 'flac');
    const adpcm = as('wav', 'adpcm_ima_wav');
    const cut = flac.slice(0, flac.length - 300);
    const list = new TextEncoder().encode('#EXTM3U\n#EXTINF:1,\nfile:///etc/hostname\n');
    const [plain, lossless, packed, broken, hostile, mp3, vorbis] = await convertAll(
      'wav',
      wave,
      flac,
      adpcm,
      cut,
      list,
      as('mp3', 'libmp3lame'),
      as('ogg', 'libvorbis'),
    );
    expect(plain).toEqual(Buffer.from(wave));
    const want = readWave(wave);
    const got = readWave(new Uint8Array(lossless as Buffer));
    expect(got.rate).toBe(22050);
    expect(got.bits).toBe(16);
    expect(got.channels[0]).toEqual(want.channels[0]);
    expect(readWaveFacts(new Uint8Array(packed as Buffer))).toMatchObject({
      rate: 22050,
      bits: 16,
      channels: 1,
    });
    expect(String(broken)).toMatch(/thing3/);
    expect(broken).toBeInstanceOf(FormatError);
    expect(String(hostile)).toMatch(/a sound/);
    for (const lossy of [mp3, vorbis]) {
      const { channels, rate } = readWave(new Uint8Array(lossy as Buffer));
      expect(rate).toBe(22050);
      // As loud as it was: a sine of an eighth.
      const rms = Math.hypot(...channels[0]!.subarray(2000, 5000)) / Math.sqrt(3000);
      expect(rms).toBeCloseTo(0.125 / Math.SQRT2, 1);
    }
  });

  describe('a sound that would be too long', () => {
    const silence = (seconds: number, format: string, codec: string, ...more: string[]): Uint8Array =>
      ffmpeg(
        ...['-f', 'lavfi', '-i', `anullsrc=r=48000:cl=mono:d=${seconds}`, '-c:a', codec, ...more],
        ...['-f', format],
      );
    beforeEach(() => void (process.env.ZERO_LATCH_MOST_SOUND_BYTES = String(8 << 20)));
    afterEach(() => void delete process.env.ZERO_LATCH_MOST_SOUND_BYTES);

    test('is refused by what its head says, or when it comes to the bound; the others are whole', async () => {
      // Two minutes are 11 MB; each of these is some hundred kilobytes at most.
      const short = silence(1, 'flac', 'flac');
      const results = await convertAll(
        'wav',
        silence(120, 'flac', 'flac'),
        short,
        silence(120, 'mp3', 'libmp3lame', '-b:a', '8k', '-ar', '48000'),
        silence(120, 'ogg', 'libopus'),
        short,
        short,
      );
      for (const i of [0, 2, 3]) {
        expect(results[i]).toBeInstanceOf(FormatError);
        expect(String(results[i])).toMatch(/at most 8388608 bytes once it is decoded/);
      }
      expect(String(results[0])).toContain('11520000 (2 minutes)');
      for (const i of [1, 4, 5])
        expect(readWave(new Uint8Array(results[i] as Buffer)).channels[0]).toHaveLength(48_000);
    });

    test('that lies of its length is given up at the bound', async () => {
      const lying = silence(120, 'flac', 'flac');
      lying.set([0, 0, 1, 0], 22);
      lying[21]! &= 0xf0;
      const [refused] = await convertAll('wav', lying);
      expect(refused).toBeInstanceOf(FormatError);
      expect(
        fs.readdirSync(os.tmpdir()).filter((name) => name.startsWith(`zero-latch-work-${process.pid}-`)),
      ).toEqual([]);
    });

    test.each([
      ['flac', 'flac', 16],
      ['ogg', 'libvorbis', undefined],
      ['ogg', 'libopus', undefined],
    ] as const)('the length of %s by %s is told from its head', (format, codec, bits) => {
      const bytes = silence(3, format, codec, ...(codec === 'libvorbis' ? ['-ac', '2'] : []));
      const said = decodedLength(refOfBytes(bytes))!;
      expect(said).toMatchObject({ rate: 48_000, channels: codec === 'libvorbis' ? 2 : 1, bits });
      expect(Math.abs(said.frames - 144_000)).toBeLessThan(2000);
    });

    test('of anything else nothing is said', () =>
      fc.assert(
        fc.property(fc.uint8Array({ maxLength: 400 }), fc.constantFrom('fLaC', 'OggS', ''), (bytes, head) => {
          const given = new Uint8Array([...new TextEncoder().encode(head), ...bytes]);
          const said = decodedLength(refOfBytes(given));
          expect(said === undefined || said.frames >= 0).toBe(true);
        }),
      ));
  });

  test('FLAC of 24 bits keeps them', async () => {
    const flac = ffmpeg(
      '-f',
      'lavfi',
      '-i',
      'sine=duration=0.1',
      '-c:a',
      'flac',
      '-sample_fmt',
      's32',
      '-bits_per_raw_sample',
      '24',
      '-f',
      'flac',
    );
    expect(readWaveFacts(new Uint8Array(await converted('wav', flac))).bits).toBe(24);
  });
});

/** What ffmpeg makes of its arguments, by way of its output. */
function ffmpeg(...args: string[]): Uint8Array {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'sound-'));
  try {
    const file = path.join(folder, 'out');
    const { status, stderr } = spawnSync('ffmpeg', ['-v', 'error', '-bitexact', ...args, file], {
      encoding: 'utf8',
    });
    if (status !== 0) throw new Error(stderr);
    return new Uint8Array(fs.readFileSync(file));
  } finally {
    fs.rmSync(folder, { recursive: true });
  }
}
