import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { shapedSound } from '@/media/sound/node/packed';
import { tone } from '../../../../../e2e/waves';
import {
  cuesOf,
  loopsOf,
  otherChunks,
  plainForm,
  readWave,
  readWaveFacts,
  withChunks,
  writeWave,
  formOf,
  type NewChunk,
  type SampleSort,
} from '../audio';
import { readTracks } from '@/media/film/core';
import { fitSound, type SoundTools } from '@/media/sound/core/fit';
import { worded, worst, type Mend, type Prepared } from '@/core/fit';
import { soundWording } from '../wording';

const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-fit-sound-'));
afterAll(() => fs.rmSync(folder, { recursive: true, force: true }));
const none: ReadonlySet<Mend> = new Set();
const convert: ReadonlySet<Mend> = new Set(['convert sound']);
const tools: SoundTools = {
  decode: shapedSound,
  async about(given) {
    const head = await readTracks(given.length, (at, length) => given.subarray(at, at + length));
    return head?.sort === 'sound' && head.rate && head.channels
      ? { rate: head.rate, channels: head.channels, codec: head.codec }
      : undefined;
  },
};
const fits = (slot: Uint8Array, given: Uint8Array, mends = none): Promise<Prepared> =>
  fitSound(slot, given, 'given.wav', mends, tools);

/** What ffmpeg makes of a tone. */
function made(name: string, ...args: string[]): Uint8Array {
  const file = path.join(folder, name);
  execFileSync('ffmpeg', [
    '-v',
    'error',
    '-y',
    '-f',
    'lavfi',
    '-i',
    'sine=frequency=440:duration=1:sample_rate=22050',
    ...args,
    file,
  ]);
  return new Uint8Array(fs.readFileSync(file));
}
/** What ffmpeg reads in a file, as floats. */
function heard(bytes: Uint8Array, name: string): Float32Array {
  const file = path.join(folder, name);
  fs.writeFileSync(file, bytes);
  const out = execFileSync('ffmpeg', ['-v', 'error', '-i', file, '-f', 'f32le', '-c:a', 'pcm_f32le', '-'], {
    maxBuffer: 1 << 26,
  });
  return new Float32Array(out.buffer.slice(out.byteOffset, out.byteOffset + out.length));
}
const most = (values: Float32Array): number =>
  values.reduce((top, value) => Math.max(top, Math.abs(value)), 0);
const apart = (a: Float32Array, b: Float32Array): number => {
  expect(a.length).toBe(b.length);
  return a.reduce((top, value, i) => Math.max(top, Math.abs(value - b[i]!)), 0);
};
const marked = (bytes: Uint8Array, ...chunks: NewChunk[]): Uint8Array =>
  withChunks(bytes, readWaveFacts(bytes), chunks);

function loop(from: number, to: number): NewChunk {
  const bytes = new Uint8Array(60);
  const view = new DataView(bytes.buffer);
  view.setUint32(28, 1, true);
  view.setUint32(44, from, true);
  view.setUint32(48, to, true);
  return { name: 'smpl', bytes };
}
function cues(...places: number[]): NewChunk {
  const bytes = new Uint8Array(4 + 24 * places.length);
  const view = new DataView(bytes.buffer);
  view.setUint32(0, places.length, true);
  places.forEach((place, i) => {
    view.setUint32(4 + 24 * i, i + 1, true);
    view.setUint32(4 + 24 * i + 20, place, true);
  });
  return { name: 'cue ', bytes };
}
const chunksOf = (bytes: Uint8Array): NewChunk[] => otherChunks(bytes, readWaveFacts(bytes));

/** Each form with the name of it in ffmpeg, and how far a sample of it may be from what was meant. */
const FORMS: [what: string, codec: string, sort: SampleSort, bits: number, near: number][] = [
  ['8 bits', 'pcm_u8', 'whole', 8, 1 / 127],
  ['16 bits', 'pcm_s16le', 'whole', 16, 1 / 32_000],
  ['24 bits', 'pcm_s24le', 'whole', 24, 1 / 8_000_000],
  ['32 bits', 'pcm_s32le', 'whole', 32, 1 / 8_000_000],
  ['floats of 32 bits', 'pcm_f32le', 'float', 32, 0],
  ['floats of 64 bits', 'pcm_f64le', 'float', 64, 0],
  ['A-law', 'pcm_alaw', 'a-law', 8, 1 / 32],
  ['mu-law', 'pcm_mulaw', 'mu-law', 8, 1 / 32],
];

describe('every form of WAV', () => {
  test.each(FORMS)(
    '%s is read as ffmpeg reads it, and written so that it reads the same',
    (_what, codec, sort, bits) => {
      const bytes = made(`${codec}.wav`, '-c:a', codec, '-ac', '2');
      const facts = readWaveFacts(bytes);
      expect(facts).toMatchObject({ sort, bits, rate: 22050, channels: 2, frames: 22050 });
      const { channels } = readWave(bytes);
      const interleaved = new Float32Array(2 * facts.frames);
      channels.forEach((channel, c) => channel.forEach((value, i) => (interleaved[2 * i + c] = value)));
      // Both laws are whole numbers of 16 bits to ffmpeg.
      expect(apart(interleaved, heard(bytes, 'there.wav'))).toBeLessThan(1e-6);
      const again = writeWave(channels, formOf(bytes, facts));
      expect(readWaveFacts(again)).toMatchObject({ sort, bits, rate: 22050, channels: 2, frames: 22050 });
      expect(apart(heard(again, 'again.wav'), heard(bytes, 'there.wav'))).toBe(0);
    },
  );

  test('an extensible format is what its sub-format says', () => {
    // More than two channels, or more than 16 bits, are written so.
    const floats = made('six.wav', '-c:a', 'pcm_f32le', '-ac', '6');
    expect(new DataView(floats.buffer, floats.byteOffset).getUint16(20, true)).toBe(0xfffe);
    expect(readWaveFacts(floats)).toMatchObject({ sort: 'float', bits: 32, channels: 6 });
    const other = floats.slice();
    const at = Buffer.from(other).indexOf(Buffer.from([3, 0, 0, 0, 0, 0, 0x10, 0]));
    other[at + 8] = 0x77;
    expect(() => readWaveFacts(other)).toThrow('fmt.subFormat');
  });

  test('RF64 with its length elsewhere', () => {
    const bytes = made('wide.wav', '-c:a', 'pcm_s16le', '-rf64', 'always');
    expect(Buffer.from(bytes.subarray(0, 4)).toString()).toBe('RF64');
    expect(readWaveFacts(bytes)).toMatchObject({ sort: 'whole', bits: 16, frames: 22050 });
  });

  test('one cut anywhere is refused or whole', () => {
    const bytes = new Uint8Array(tone(8000, 0.01, 700));
    for (let length = 0; length < bytes.length; length++)
      expect(() => readWaveFacts(bytes.subarray(0, length))).toThrow(/WAV|wave|early|data/);
  });
});

describe('what is given for the slot of a wave file', () => {
  test('of the same form it goes in as it is', async () => {
    const given = new Uint8Array(tone(22050, 1, 440));
    expect(await fits(new Uint8Array(tone(22050, 1, 300)), given)).toMatchObject({
      bytes: given,
      findings: [{ state: 'fits' }],
    });
  });

  test.each(FORMS)(
    'into a slot of %s it is converted when asked, and sounds the same',
    async (_what, codec, sort, bits, near) => {
      const slot = made(`slot-${codec}.wav`, '-c:a', codec, '-ar', '16000');
      const given = made('given.wav', '-c:a', 'pcm_s16le', '-ac', '2', '-ar', '48000');
      expect(await fits(slot, given)).toMatchObject({
        bytes: undefined,
        findings: [{ mend: 'convert sound' }],
      });
      const { bytes, findings } = await fits(slot, given, convert);
      expect(worst(findings)).toBe('fits');
      expect(readWaveFacts(bytes!)).toMatchObject({ sort, bits, rate: 16000, channels: 1 });
      const wanted = readWave(await shapedSound(given, 'given.wav', { rate: 16000, channels: 1, from: 2 }))
        .channels[0]!;
      expect(apart(heard(bytes!, 'converted.wav'), wanted)).toBeLessThanOrEqual(near + 1e-6);
    },
  );

  let others: [string, Uint8Array][] = [];
  beforeAll(() => {
    others = [
      ['Ogg Vorbis', made('a.ogg', '-c:a', 'libvorbis')],
      ['Opus', made('a.opus', '-c:a', 'libopus')],
      ['FLAC', made('a.flac')],
      ['MP3', made('a.mp3')],
    ];
  });

  test('any common sound is decoded, at the rate and with the channels of the slot', async () => {
    const slot = made('stereo.wav', '-c:a', 'pcm_s16le', '-ac', '2', '-ar', '44100');
    for (const [what, given] of others) {
      const first = await fits(slot, given);
      expect(first.findings[0]).toMatchObject({ state: 'does not fit', mend: 'convert sound' });
      const { bytes } = await fits(slot, given, convert);
      const { channels } = readWave(bytes!);
      expect([what, readWaveFacts(bytes!).rate, channels.length]).toEqual([what, 44100, 2]);
      // Mono is copied to both, as loud as it was.
      expect(channels[0]).toEqual(channels[1]);
      expect(most(channels[0]!)).toBeGreaterThan(0.1);
      expect(most(channels[0]!)).toBeLessThan(0.16);
    }
  });

  test('what is no sound is refused in words', async () => {
    const slot = new Uint8Array(tone(22050, 1, 300));
    await expect(fits(slot, new TextEncoder().encode('no sound at all'), convert)).rejects.toThrow(
      'a RIFF wave file',
    );
  });

  test('pitch and level stay, and a tone above the new band is gone instead of folded down', async () => {
    const slot = new Uint8Array(tone(22050, 1, 300));
    const { bytes } = await fits(slot, new Uint8Array(tone(48000, 1, 440)), convert);
    const [samples] = readWave(bytes!).channels;
    let crossings = 0;
    for (let i = 1; i < samples!.length; i++) if (samples![i - 1]! < 0 && samples![i]! >= 0) crossings++;
    expect(Math.abs(crossings - 440)).toBeLessThanOrEqual(1);
    expect(most(samples!)).toBeCloseTo(12000 / 32768, 2);
    const high = await fits(slot, new Uint8Array(tone(48000, 0.5, 20000)), convert);
    expect(most(readWave(high.bytes!).channels[0]!.subarray(200, -200))).toBeLessThan(0.01);
  });

  test('a much longer sound is pointed out, and one that is too loud', async () => {
    const slot = new Uint8Array(tone(22050, 1, 300));
    const { findings } = await fits(slot, new Uint8Array(tone(22050, 4, 300)));
    expect(findings.at(-1)).toMatchObject({ state: 'look', code: 'sound.length', facts: { is: 4, was: 1 } });
    const loud = made('loud.wav', '-af', 'volume=20', '-c:a', 'pcm_f32le');
    const told = (await fits(slot, loud, convert)).findings;
    expect(told).toContainEqual(expect.objectContaining({ state: 'look', code: 'sound.clipped' }));
  });
});

describe('what is heard otherwise than in the slot', () => {
  const slot = new Uint8Array(tone(22050, 1, 300));
  const wave = (seconds: number, size: number, lead = 0, tail = 0): Uint8Array => {
    const channel = Float32Array.from({ length: 22050 * (lead + seconds + tail) }, (_, i) =>
      i < 22050 * lead || i >= 22050 * (lead + seconds) ? 0 : size * Math.sin(i / 12),
    );
    return writeWave([channel], plainForm(22050, 1));
  };

  test.each<[string, Uint8Array, string | undefined, object]>([
    ['as loud', wave(1, 0.4), undefined, {}],
    ['much softer', wave(1, 0.05), 'level', {}],
    ['silence', wave(1, 0), 'silent', {}],
    [
      'late',
      wave(0.7, 0.4, 0.3),
      'silence',
      { at: 'start', is: expect.closeTo(0.3, 2), was: expect.closeTo(0, 2) },
    ],
    ['with a long end', wave(0.6, 0.4, 0, 0.4), 'silence', { at: 'end', is: expect.closeTo(0.4, 2) }],
  ])('%s', async (_what, given, code, facts) => {
    const { bytes, findings } = await fits(slot, given);
    expect(bytes).toBeDefined();
    const looks = findings.filter(({ state }) => state === 'look');
    if (code === undefined) expect(looks).toEqual([]);
    else expect(looks).toMatchObject([{ code: `sound.${code}`, facts }]);
  });

  test('much louder', async () => {
    const { findings } = await fits(wave(1, 0.05), wave(1, 0.9));
    expect(worded(findings.at(-1)!, { sound: soundWording }).what).toMatch(/^25 dB louder than the slot/);
  });

  test('where the slot is silent nothing is expected', async () => {
    expect(worst((await fits(wave(1, 0), wave(1, 0.9))).findings)).toBe('fits');
  });
});

describe('loops and cues', () => {
  const slot = marked(new Uint8Array(tone(22050, 1, 300)), loop(2205, 20000), cues(100, 22000));

  test('of the given file are moved with its rate', async () => {
    const given = marked(new Uint8Array(tone(44100, 1, 300)), loop(4410, 40000), cues(200));
    const { bytes, findings } = await fits(slot, given, convert);
    expect([loopsOf(chunksOf(bytes!)), cuesOf(chunksOf(bytes!))]).toEqual([
      [{ from: 2205, to: 20000 }],
      [100],
    ]);
    expect(findings.map((finding) => worded(finding, { sound: soundWording }).what)).toContain(
      'with marks of its own: loops from 0.10 s to 0.91 s, 1 cue',
    );
  });

  test.each([
    ['of the same form', 22050, none],
    ['converted', 48000, convert],
  ])('of the slot are kept where the given file (%s) has none', async (_what, rate, mends) => {
    const { bytes, findings } = await fits(slot, new Uint8Array(tone(rate, 1, 300)), mends);
    expect([loopsOf(chunksOf(bytes!)), cuesOf(chunksOf(bytes!))]).toEqual([
      [{ from: 2205, to: 20000 }],
      [100, 22000],
    ]);
    expect(worst(findings)).toBe('fits');
  });

  test('are put beside samples that stay byte by byte, however fine they are', async () => {
    const fine = made('fine.wav', '-c:a', 'pcm_f64le');
    const { bytes } = await fits(marked(fine, loop(5, 9000)), fine);
    const facts = readWaveFacts(bytes!);
    const before = readWaveFacts(fine);
    const length = facts.frames * 8;
    expect(Buffer.from(bytes!.subarray(facts.dataOffset, facts.dataOffset + length))).toEqual(
      Buffer.from(fine.subarray(before.dataOffset, before.dataOffset + length)),
    );
    expect(loopsOf(chunksOf(bytes!))).toEqual([{ from: 5, to: 9000 }]);
  });

  test('that lie behind the end of a shorter sound stand at its end, and that is said', async () => {
    const { bytes, findings } = await fits(slot, new Uint8Array(tone(22050, 0.6, 300)));
    const { frames } = readWaveFacts(bytes!);
    expect(loopsOf(chunksOf(bytes!))).toEqual([{ from: 2205, to: frames - 1 }]);
    expect(findings).toContainEqual(
      expect.objectContaining({
        state: 'look',
        code: 'sound.slot-marks',
        facts: { isBehind: true, marks: expect.anything() as unknown },
      }),
    );
  });

  test('chunks that are cut tell of as many as they have', () => {
    for (let length = 0; length < 60; length++)
      expect(loopsOf([{ name: 'smpl', bytes: loop(1, 2).bytes.slice(0, length) }]).length).toBe(0);
    expect(cuesOf([{ name: 'cue ', bytes: cues(5, 6).bytes.slice(0, 30) }])).toEqual([5]);
  });
});
