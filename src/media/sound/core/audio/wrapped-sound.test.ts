import { afterAll, describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { nodePrimitives } from '@/platform/node/primitives';
import { mediaScripts } from '@/core/testing/media-scripts';
import { seeded } from '../../../../../demo/world/random';
import { encodeIma } from '../adpcm';
import {
  openSound,
  plainForm,
  readWave,
  readWaveFacts,
  signalToNoise,
  writeWave,
  type WrappedSound,
} from './index';
import { cuesOf, loopsOf, markChunks } from './wave-marks';
import { otherChunks } from './wave';

/** The sounds of docs/media-scripts.md, on files of another program, which reads what is written. */
const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-sounds-'));
afterAll(() => fs.rmSync(folder, { recursive: true }));

const open = (name: string, bytes: Uint8Array): WrappedSound =>
  openSound(mediaScripts.get(name)!, bytes, name, nodePrimitives);
const ffmpeg = (...args: string[]): Buffer =>
  execFileSync('ffmpeg', ['-v', 'error', '-nostdin', '-y', ...args], { cwd: folder, maxBuffer: 1 << 26 });
const TONE = ['-f', 'lavfi', '-i', 'sine=440:d=0.3', '-ar', '16000', '-bitexact'];

/** A tone in the form of another sound: its own samples from last to first. */
function reversed(inner: Uint8Array): Uint8Array {
  const { channels } = readWave(inner);
  const facts = readWaveFacts(inner);
  const form = plainForm(facts.rate, facts.channels, facts.sort, facts.bits);
  return writeWave(
    channels.map((one) => one.slice().reverse()),
    form,
  );
}

describe('speech', () => {
  test.each([
    'pcm_s8',
    'pcm_s16be',
    'pcm_s24be',
    'pcm_s32be',
    'pcm_f32be',
    'pcm_f64be',
    'pcm_mulaw',
    'pcm_alaw',
  ])('%s is heard as another program hears it, both ways', (codec) => {
    ffmpeg(...TONE, '-ac', '2', '-c:a', codec, 'a.au');
    const bytes = new Uint8Array(fs.readFileSync(path.join(folder, 'a.au')));
    const heard = (file: string): Buffer => ffmpeg('-i', file, '-f', 'f64le', '-');
    const sound = open('speech', bytes);
    fs.writeFileSync(path.join(folder, 'inner.wav'), sound.inner);
    expect(heard('inner.wav').equals(heard('a.au'))).toBe(true);
    expect(readWaveFacts(sound.inner)).toMatchObject({ rate: 16000, channels: 2, frames: 4800 });
    expect(Buffer.from(sound.rewrap(sound.inner)).equals(bytes)).toBe(true);
    const back = reversed(sound.inner);
    fs.writeFileSync(path.join(folder, 'back.wav'), back);
    fs.writeFileSync(path.join(folder, 'back.au'), sound.rewrap(back));
    expect(heard('back.au').equals(heard('back.wav'))).toBe(true);
    expect(heard('back.au').equals(heard('a.au'))).toBe(false);
  });

  test('a sound of another length, and none at all', () => {
    ffmpeg(...TONE, '-c:a', 'pcm_s16be', 'b.au');
    const sound = open('speech', new Uint8Array(fs.readFileSync(path.join(folder, 'b.au'))));
    for (const length of [0, 1, 9000]) {
      const given = writeWave([new Float32Array(length).fill(0.5)], plainForm(16000, 1));
      expect(readWaveFacts(open('speech', sound.rewrap(given)).inner).frames).toBe(length);
    }
    const other = writeWave([new Float32Array(4)], plainForm(22050, 1));
    expect(() => sound.rewrap(other)).toThrow(/sound.rate: does not fit/);
  });
});

describe('bare', () => {
  test('signed bytes by their ending alone', () => {
    const bytes = Uint8Array.of(0, 64, 127, 128, 192);
    const sound = open('bare', bytes);
    expect([...readWave(sound.inner).channels[0]!]).toEqual([0, 0.5, 127 / 128, -1, -0.5]);
    expect(readWaveFacts(sound.inner).rate).toBe(11025);
    expect([...sound.rewrap(reversed(sound.inner))]).toEqual([192, 128, 127, 64, 0]);
  });
});

describe('looped', () => {
  const le = (size: number, ...numbers: number[]): number[] =>
    numbers.flatMap((value) => Array.from({ length: size }, (_, i) => (value >> (8 * i)) & 255));
  const samples = Array.from({ length: 20 }, (_, i) => i * 100 - 900);
  const bytes = Uint8Array.from([
    ...Buffer.from('LOOP'),
    ...[...le(2, 8000), ...le(4, 10, 2, 9), 2, ...le(4, 1, 6)],
    ...le(2, ...samples),
    ...Buffer.from('tail'),
  ]);

  test('loop and markers are told, and what lies behind is kept', () => {
    const sound = open('looped', bytes);
    const facts = readWaveFacts(sound.inner);
    expect([facts.channels, facts.frames, facts.rate]).toEqual([2, 10, 8000]);
    const chunks = otherChunks(sound.inner, facts);
    expect(loopsOf(chunks)).toEqual([{ from: 2, to: 8 }]);
    expect(cuesOf(chunks)).toEqual([1, 6]);
    expect(Buffer.from(sound.rewrap(sound.inner)).equals(bytes)).toBe(true);
  });

  test('another length and loop go into the numbers of the head', () => {
    const given = writeWave(
      [new Float32Array(40), new Float32Array(40)],
      plainForm(8000, 2),
      markChunks(8000, { from: 12, to: 30 }, []),
    );
    const made = open('looped', bytes).rewrap(given);
    expect(Buffer.from(made.slice(-4)).toString()).toBe('tail');
    const facts = readWaveFacts(open('looped', made).inner);
    expect(facts.frames).toBe(40);
    expect(loopsOf(otherChunks(open('looped', made).inner, facts))).toEqual([{ from: 12, to: 30 }]);
  });

  test('a head that claims more than there is, and loops outside', () => {
    const many = bytes.slice();
    many.set([255, 255, 255, 127], 6);
    expect(() => open('looped', many)).toThrow(/2147483647 samples of 4 bytes/);
    const outside = bytes.slice();
    outside.set(le(4, 4_000_000_000), 14);
    expect(
      loopsOf(otherChunks(open('looped', outside).inner, readWaveFacts(open('looped', outside).inner))),
    ).toEqual([]);
    for (let length = 0; length < bytes.length; length += 3) {
      try {
        open('looped', bytes.slice(0, length));
      } catch (error) {
        expect((error as Error).name).toBe('FormatError');
      }
    }
  });
});

describe('coded', () => {
  const layout = { channels: 2, block: 88, hasHead: true, isHighFirst: true, turn: 0 };
  const wave = (frames: number): Int16Array[] =>
    [20, 33].map((period) => Int16Array.from({ length: frames }, (_, i) => 8000 * Math.sin(i / period)));
  const floats = (frames: number): Float32Array[] =>
    wave(frames).map((one) => Float32Array.from(one, (value) => value / 32768));
  const file = (frames: number): Uint8Array => {
    const codes = encodeIma(wave(frames), layout);
    const head = Buffer.alloc(17);
    head.write('CODE');
    head.writeUInt16LE(11025, 4);
    head.writeUInt8(2, 6);
    head.writeUInt16LE(layout.block, 7);
    head.writeUInt32LE(frames, 9);
    head.writeUInt32LE(codes.length, 13);
    return new Uint8Array(Buffer.concat([head, codes]));
  };

  test('codes are samples, and samples become codes; the count goes into the head', () => {
    const sound = open('coded', file(500));
    expect(sound.lossy).toBe('IMA ADPCM');
    expect(readWaveFacts(sound.inner)).toMatchObject({ rate: 11025, channels: 2, bits: 16, frames: 500 });
    expect(signalToNoise(floats(500), readWave(sound.inner).channels)).toBeGreaterThan(25);
    // What did not change is not coded again.
    expect(sound.rewrap(sound.inner)).toEqual(file(500));
    const made = open('coded', sound.rewrap(writeWave(floats(1234), plainForm(11025, 2))));
    expect(readWaveFacts(made.inner).frames).toBe(1234);
    expect(signalToNoise(floats(1234), readWave(made.inner).channels)).toBeGreaterThan(25);
  });

  test('blocks of nothing, of everything, and more samples than there are', () => {
    const changed = (at: number, value: number): Uint8Array => {
      const bytes = file(100);
      bytes.set([value & 255, value >> 8], at);
      return bytes;
    };
    expect(() => open('coded', changed(7, 8))).toThrow(/blocks of more than 8 bytes/);
    expect(readWaveFacts(open('coded', changed(7, 65535)).inner).frames).toBe(100);
    expect(() => open('coded', changed(11, 0x7fff))).toThrow(/samples/);
  });
});

describe('either', () => {
  const sample = (i: number): number => 9000 * Math.sin(i / 9) * Math.sin(i / 700);
  const noise = seeded('either');
  const codes = (isHighFirst: boolean, of: (i: number) => number): Uint8Array =>
    encodeIma([Int16Array.from({ length: 9000 }, (_, i) => of(i))], {
      ...{ channels: 1, block: 0, hasHead: false, isHighFirst, turn: 4, start: 0 },
    });
  const script = mediaScripts.get('either')!;
  const read = (bytes: Uint8Array, said?: number): WrappedSound =>
    openSound(script, bytes, 'a.codes', nodePrimitives, { said });

  test.each([
    ['a swelling tone, low half first', codes(false, sample), 0],
    ['a swelling tone, high half first', codes(true, sample), 1],
    ['noise, low half first', codes(false, () => 20_000 * (noise() - 0.5)), 0],
    ['noise, high half first', codes(true, () => 20_000 * (noise() - 0.5)), 1],
    ['samples of eight bits', Uint8Array.from({ length: 9000 }, (_, i) => 128 + sample(i) / 256), 2],
  ])('%s is told by what it sounds like', (_what, bytes, taken) => {
    const { way, inner } = read(bytes);
    expect(way).toMatchObject({ taken, isSaid: false });
    expect(way!.ways.map(({ title }) => title)).toEqual([
      'IMA ADPCM, first code in the low half',
      'IMA ADPCM, first code in the high half',
      '8 bits, unsigned',
    ]);
    // What comes back in its place is written, and read, in the same way.
    const other = writeWave(
      [readWave(inner).channels[0]!.map((value) => value / 2)],
      plainForm(22050, 1, 'whole', taken === 2 ? 8 : 16),
    );
    const made = read(bytes).rewrap(other);
    expect(
      signalToNoise(readWave(other).channels, readWave(read(made, taken).inner).channels),
    ).toBeGreaterThan(20);
  });

  test('what somebody says counts for more, unless it cannot be', () => {
    const bytes = codes(false, sample);
    expect(read(bytes, 1).way).toMatchObject({ taken: 1, isSaid: true });
    expect(read(bytes, 7).way).toMatchObject({ taken: 0, isSaid: false });
    expect(read(new Uint8Array(1)).way!.ways).toHaveLength(3);
  });
});

describe('masked_song', () => {
  test('a whole file comes out, and another goes in', () => {
    ffmpeg(...TONE, '-c:a', 'flac', 'a.flac');
    const flac = fs.readFileSync(path.join(folder, 'a.flac'));
    const head = Buffer.alloc(12);
    head.write('SONG');
    const key = Buffer.from('Lantern');
    const masked = (of: Buffer): Buffer => Buffer.from(of.map((byte, i) => byte ^ key[i % key.length]!));
    // The check is worked out anew, so that only a right one can be read.
    head.writeUInt32LE(flac.length, 4);
    expect(() => open('masked_song', Buffer.concat([head, masked(flac)]))).toThrow(/check/);
    head.writeUInt32LE(crc32(flac), 8);
    const sound = open('masked_song', new Uint8Array(Buffer.concat([head, masked(flac)])));
    expect(Buffer.from(sound.inner).equals(flac)).toBe(true);
    const other = new Uint8Array(Buffer.from('OggS and so on'));
    expect(Buffer.from(open('masked_song', sound.rewrap(other)).inner).toString()).toBe('OggS and so on');
  });
});

/** CRC-32 (ISO 3309), bit by bit. */
function crc32(bytes: Uint8Array): number {
  let crc = ~0;
  for (const byte of bytes) {
    crc ^= byte;
    for (let i = 0; i < 8; i++) crc = (crc >>> 1) ^ (crc & 1 ? 0xedb88320 : 0);
  }
  return ~crc >>> 0;
}

test('whatever samples are, in whatever form, they come back', () => {
  const script = mediaScripts.get('speech')!;
  fc.assert(
    fc.property(
      fc.constantFrom([1, 1], [2, 1], [3, 2], [4, 3], [5, 4], [27, 1]),
      fc.integer({ min: 1, max: 4 }),
      fc.uint8Array({ maxLength: 200 }),
      ([how, width], channels, body) => {
        const whole = body.slice(0, body.length - (body.length % (width! * channels)));
        const head = Buffer.from('.snd\0\0\0\x18'.padEnd(24, '\0'), 'latin1');
        for (const [i, value] of [whole.length, how!, 8000, channels].entries())
          head.writeUInt32BE(value, 8 + 4 * i);
        const bytes = new Uint8Array(Buffer.concat([head, whole]));
        const sound = openSound(script, bytes, 'a', nodePrimitives);
        expect(Buffer.from(sound.rewrap(sound.inner)).equals(bytes)).toBe(true);
      },
    ),
  );
});
