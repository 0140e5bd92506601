import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { packedSound, shapedSound } from '@/media/sound/node/packed';
import { fitMedia, type MediaTools } from '@/media/sound/core/fit';
import { worst, type Mend } from '@/core/fit';

/** What is given is known or refused: files that ordinary programs make, in each other's places. */
const FILES: Record<string, readonly string[]> = {
  'a.mp3': ['-f', 'lavfi', '-i', 'sine=d=1', '-write_xing', '0', '-id3v2_version', '0'],
  'tagged.mp3': ['-f', 'lavfi', '-i', 'sine=d=1', '-metadata', 'title=Lamp', '-id3v2_version', '3'],
  'a.opus.ogg': ['-f', 'lavfi', '-i', 'sine=d=1', '-c:a', 'libopus'],
  'longer.opus.ogg': ['-f', 'lavfi', '-i', 'sine=d=4', '-c:a', 'libopus'],
  'stereo.opus.ogg': ['-f', 'lavfi', '-i', 'sine=d=1', '-ac', '2', '-c:a', 'libopus'],
  'a.vorbis.ogg': ['-f', 'lavfi', '-i', 'sine=d=1', '-c:a', 'libvorbis'],
  'a.wav': ['-f', 'lavfi', '-i', 'sine=d=1:sample_rate=22050'],
  'a.flac': ['-f', 'lavfi', '-i', 'sine=d=1'],
  'a.mp4': ['-f', 'lavfi', '-i', 'testsrc=d=1:s=64x48:r=24', '-pix_fmt', 'yuv420p'],
  'a.ivf': ['-f', 'lavfi', '-i', 'testsrc=d=1:s=64x48:r=24', '-c:v', 'libvpx', '-f', 'ivf'],
  'large.ivf': ['-f', 'lavfi', '-i', 'testsrc=d=1:s=128x96:r=24', '-c:v', 'libvpx', '-f', 'ivf'],
};
const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-fit-'));
beforeAll(() => {
  for (const [name, how] of Object.entries(FILES))
    execFileSync('ffmpeg', ['-v', 'error', '-y', ...how, path.join(folder, name)]);
  fs.writeFileSync(
    path.join(folder, 'noise.bin'),
    Buffer.from(Array.from({ length: 4000 }, (_, i) => (i * i * 31) & 255)),
  );
  fs.writeFileSync(path.join(folder, 'other.bin'), Buffer.from('neither of them is anything that is known'));
});
afterAll(() => fs.rmSync(folder, { recursive: true }));
const read = (name: string): Uint8Array => new Uint8Array(fs.readFileSync(path.join(folder, name)));

describe('what is given for a slot', () => {
  test.each([
    [
      'a.opus.ogg',
      'a.mp3',
      'other-format',
      { given: { format: 'MP3', rate: 44100, channels: 1 }, slot: { format: 'OPUS in OGG' } },
    ],
    ['a.opus.ogg', 'tagged.mp3', 'other-format', { slot: { format: 'OPUS in OGG' } }],
    [
      'a.opus.ogg',
      'a.vorbis.ogg',
      'other-format',
      { given: { format: 'VORBIS in OGG' }, slot: { format: 'OPUS in OGG' } },
    ],
    ['a.ivf', 'a.mp4', 'other-format', { slot: { format: 'VP8 in IVF', width: 64, height: 48 } }],
    ['a.mp3', 'a.flac', 'other-format', { given: { format: 'FLAC' }, slot: { format: 'MP3' } }],
    ['a.flac', 'noise.bin', 'unknown-given', { name: 'noise.bin', slot: { format: 'FLAC' } }],
    ['noise.bin', 'a.mp4', 'for-no-sound', { given: { format: expect.stringContaining('MP4') as unknown } }],
  ])('%s is not replaced by %s', async (slot, given, code, facts) => {
    const made = await fitMedia(read(slot), read(given), given);
    expect(made).toMatchObject({
      bytes: undefined,
      findings: [{ state: 'does not fit', code: `sound.${code}`, facts }],
    });
  });

  test.each([
    ['a.opus.ogg', 'a.opus.ogg', 'fits'],
    ['a.ivf', 'a.ivf', 'fits'],
    ['a.mp3', 'a.mp3', 'fits'],
    ['a.opus.ogg', 'stereo.opus.ogg', 'look'],
    ['a.opus.ogg', 'longer.opus.ogg', 'look'],
    ['a.ivf', 'large.ivf', 'look'],
  ])('%s takes %s: %s', async (slot, given, state) => {
    const made = await fitMedia(read(slot), read(given), given);
    expect(made!.bytes).toBeDefined();
    expect(worst(made!.findings)).toBe(state);
  });

  test('where neither is known nothing is said of it', async () => {
    expect(await fitMedia(read('noise.bin'), read('other.bin'), 'other.bin')).toBeUndefined();
  });

  describe('a sound that is packed in another way', () => {
    const convert: ReadonlySet<Mend> = new Set(['convert sound']);
    const tools: MediaTools = { pack: packedSound };
    const slots = ['a.vorbis.ogg', 'a.opus.ogg', 'a.flac', 'a.mp3'];

    test.each(
      slots.flatMap((slot) =>
        ['a.wav', 'stereo.opus.ogg', 'tagged.mp3'].map((given) => [slot, given] as const),
      ),
    )('the slot of %s takes %s once it is converted', async (slot, given) => {
      const first = await fitMedia(read(slot), read(given), given, new Set(), tools);
      const offered = first!.findings.some(({ mend }) => mend === 'convert sound');
      // One that is as the slot has it already needs none.
      expect(offered).toBe(!(slot === 'a.mp3' && given === 'tagged.mp3'));
      if (!offered) return;
      const { bytes, findings } = (await fitMedia(read(slot), read(given), given, convert, tools))!;
      expect(worst(findings)).toBe('fits');
      // Put in its place it is taken as it is.
      expect((await fitMedia(read(slot), bytes!, given, new Set(), tools))!.findings).toEqual([
        expect.objectContaining({ state: 'fits' }),
      ]);
    });

    test('a much longer one is converted and pointed out', async () => {
      const { bytes, findings } = (await fitMedia(
        read('a.vorbis.ogg'),
        read('longer.opus.ogg'),
        'l.ogg',
        convert,
        tools,
      ))!;
      expect(bytes).toBeDefined();
      expect(findings.at(-1)).toMatchObject({
        state: 'look',
        code: 'sound.played-length',
        facts: { was: expect.closeTo(1, 2) as unknown },
      });
    });

    test('a film is not, and what is cut is refused in words', async () => {
      const film = (await fitMedia(read('a.mp3'), read('a.mp4'), 'a.mp4', convert, tools))!;
      expect(film).toMatchObject({ bytes: undefined, findings: [{ state: 'does not fit' }] });
      expect(film.findings[0]!.mend).toBeUndefined();
      const cut = read('a.flac').subarray(0, 9000);
      await expect(fitMedia(read('a.mp3'), cut, 'cut.flac', convert, tools)).rejects.toThrow('cut.flac');
    });
  });

  describe('how it is heard is held against the slot, whatever both are packed in', () => {
    const tools: MediaTools = { pack: packedSound, hear: shapedSound };
    const convert: ReadonlySet<Mend> = new Set(['convert sound']);
    const made = (name: string, filter: string): Uint8Array => {
      const source = ['-v', 'error', '-y', '-f', 'lavfi', '-i', 'sine=d=1', '-af', filter];
      execFileSync('ffmpeg', [...source, path.join(folder, name)]);
      return read(name);
    };

    test.each<[string, string, string | undefined]>([
      ['as loud', 'volume=1', undefined],
      ['much softer', 'volume=0.05', 'level'],
      ['silent', 'volume=0', 'silent'],
      ['late', 'adelay=400', 'silence'],
    ])('%s', async (_what, filter, code) => {
      const given = made(`heard.${code ?? 'same'}.wav`, filter);
      for (const slot of ['a.vorbis.ogg', 'a.opus.ogg', 'a.mp3']) {
        const { findings } = (await fitMedia(read(slot), given, 'given.wav', convert, tools))!;
        const looks = findings.filter(({ state }) => state === 'look').map((found) => found.code);
        expect([slot, looks]).toEqual([slot, code === undefined ? [] : [expect.stringContaining(code)]]);
      }
    });

    test('taken as it is as well, and a damaged slot says nothing', async () => {
      const soft = made('soft.mp3', 'volume=0.05');
      const taken = (await fitMedia(read('a.mp3'), soft, 'soft.mp3', new Set(), tools))!;
      expect(taken.bytes).toBe(soft);
      expect(taken.findings.map(({ code }) => code)).toContain('sound.level');
      const cut = read('a.flac').slice(0, 3000);
      const over = await fitMedia(cut, read('a.flac'), 'a.flac', new Set(), tools);
      expect(over!.findings.map(({ code }) => code)).not.toContain('sound.level');
    });
  });
});
