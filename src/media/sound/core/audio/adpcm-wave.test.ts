import { afterAll, describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import {
  isAdpcmWave,
  openAdpcmWave,
  plainForm,
  readWave,
  readWaveFacts,
  signalToNoise,
  withChunks,
  writeWave,
} from './index';
import { markChunks } from './wave-marks';

const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-adpcm-wave-'));
afterAll(() => fs.rmSync(folder, { recursive: true }));
const at = (name: string): string => path.join(folder, name);
const ffmpeg = (...args: string[]): Buffer =>
  execFileSync('ffmpeg', ['-v', 'error', '-nostdin', '-y', ...args]);
const made = (codec: string, channels: number): Uint8Array => {
  const sound = ['-f', 'lavfi', '-i', 'sine=440:d=0.7', '-ac', String(channels), '-ar', '22050'];
  ffmpeg(...sound, '-c:a', codec, at('a.wav'));
  return new Uint8Array(fs.readFileSync(at('a.wav')));
};

describe.each([
  ['adpcm_ima_wav', 1],
  ['adpcm_ima_wav', 2],
  ['adpcm_ms', 1],
  ['adpcm_ms', 2],
] as const)('%s, %i channels', (codec, channels) => {
  test('is a sound of 16 bits, and another one goes back into its form', () => {
    const bytes = made(codec, channels);
    expect(isAdpcmWave(bytes.subarray(0, 64))).toBe(true);
    const sound = openAdpcmWave(bytes)!;
    const facts = readWaveFacts(sound.inner);
    expect(facts).toMatchObject({ rate: 22050, channels, bits: 16 });
    expect(Math.abs(facts.frames - 15435)).toBeLessThan(2500);
    expect(sound.rewrap(sound.inner)).toBe(bytes);
    // Marks that are new do not cost a second coding.
    const marked = sound.rewrap(withChunks(sound.inner, facts, markChunks(22050, { from: 5, to: 900 }, [])));
    expect(marked.length).toBeGreaterThan(bytes.length);
    const samples = (of: Uint8Array): Uint8Array => readWave(openAdpcmWave(of)!.inner).channels[0] as never;
    expect(samples(marked)).toEqual(samples(bytes));
    const other = Float32Array.from({ length: 20_000 }, (_, i) => 0.4 * Math.sin(i / 12) * Math.sin(i / 900));
    const given = writeWave(
      Array.from({ length: channels }, () => other),
      plainForm(22050, channels),
    );
    fs.writeFileSync(at('b.wav'), sound.rewrap(given));
    expect(ffmpeg('-i', at('b.wav'), '-f', 'null', '-')).toHaveLength(0);
    const probed = execFileSync('ffprobe', [
      '-v',
      'error',
      '-show_entries',
      'stream=codec_name',
      '-of',
      'csv=p=0',
      at('b.wav'),
    ]);
    expect(probed.toString().trim()).toBe(codec);
    ffmpeg('-i', at('b.wav'), '-c:a', 'pcm_s16le', at('c.wav'));
    const heard = readWave(new Uint8Array(fs.readFileSync(at('c.wav'))));
    expect(signalToNoise([other], heard.channels)).toBeGreaterThan(25);
    const again = readWave(openAdpcmWave(new Uint8Array(fs.readFileSync(at('b.wav'))))!.inner);
    // The chunk beside says where the last block's own samples end.
    expect(again.channels[0]).toHaveLength(20_000);
    expect(signalToNoise([other], again.channels)).toBeGreaterThan(25);
  });

  test('cut short or wrong in its head, it says so', () => {
    const bytes = made(codec, channels);
    fc.assert(
      fc.property(fc.nat(bytes.length - 1), fc.nat(90), fc.nat(255), (cut, place, value) => {
        for (const damaged of [bytes.slice(0, cut), bytes.map((byte, i) => (i === place ? value : byte))])
          try {
            openAdpcmWave(damaged);
          } catch (error) {
            expect((error as Error).name).toBe('FormatError');
          }
      }),
      { numRuns: 60 },
    );
  });
});

test('other wave files are left alone', () => {
  expect(openAdpcmWave(made('pcm_s16le', 1))).toBeUndefined();
  expect(openAdpcmWave(new Uint8Array(4))).toBeUndefined();
});
