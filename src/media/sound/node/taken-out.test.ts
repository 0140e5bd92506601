import { afterAll, describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { collect, FormatError, refOfBytes } from '@/core/bytes';
import {
  cuesOf,
  heardFrames,
  loopsOf,
  loudnessOf,
  otherChunks,
  plainForm,
  readWave,
  readWaveFacts,
  signalToNoise,
  writeWave,
} from '../core/audio';
import { markChunks } from '../core/audio/wave-marks';
import { soundWays } from '../core/ways';
import { packedSound, shapedSound } from './packed';
import { soundConverters } from './sounds';

const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-taken-out-'));
afterAll(() => fs.rmSync(folder, { recursive: true, force: true }));
const none = (): undefined => undefined;

const RATE = 22050;
/** A falling tone, so that a shift in time is an error as well. */
const samples = (seconds: number, channels = 1): Float32Array[] =>
  Array.from({ length: channels }, (_, c) =>
    Float32Array.from(
      { length: Math.round(RATE * seconds) },
      (__, i) => 0.4 * Math.sin((0.06 + 0.02 * c) * i - 4e-7 * i * i),
    ),
  );
const wave = (seconds = 1, channels = 1): Uint8Array =>
  writeWave(samples(seconds, channels), plainForm(RATE, channels));

async function takenAs(way: string, ...things: Uint8Array[]): Promise<(Uint8Array | FormatError)[]> {
  const out: (Uint8Array | FormatError)[] = [];
  const items = things.map((bytes, i) => ({ plain: refOfBytes(bytes), path: `take ${i}` }));
  await soundConverters[way]!.convert(items, { mediaScripts: none, check: none }, (i, made) => {
    out[i] = made instanceof FormatError ? made : collect(made).slice();
  });
  return out;
}
/** What ffprobe says of a file. */
function probed(bytes: Uint8Array): { codec_name: string; channels: number; tags: Record<string, string> } {
  const file = path.join(folder, 'probed');
  fs.writeFileSync(file, bytes);
  const said = JSON.parse(
    execFileSync('ffprobe', ['-v', 'error', '-of', 'json', '-show_streams', '-show_format', file], {
      encoding: 'utf8',
    }),
  ) as {
    streams: { codec_name: string; channels: number; tags?: Record<string, string> }[];
    format: { tags?: Record<string, string> };
  };
  const { codec_name, channels, tags } = said.streams[0]!;
  return { codec_name, channels, tags: { ...tags, ...said.format.tags } };
}
/** What ffmpeg hears in it, at the rate of the test. */
function heard(bytes: Uint8Array, channels = 1): Float32Array[] {
  const file = path.join(folder, 'heard');
  fs.writeFileSync(file, bytes);
  const out = path.join(folder, 'heard.wav');
  execFileSync('ffmpeg', [
    ...['-v', 'error', '-y', '-i', file, '-ar', String(RATE), '-ac', String(channels)],
    ...['-c:a', 'pcm_f32le', out],
  ]);
  return readWave(new Uint8Array(fs.readFileSync(out))).channels.map((channel) => channel.slice());
}

test('every way has its converter', () => {
  expect(Object.keys(soundConverters)).toEqual(soundWays.ways.map(({ name }) => name));
});

describe.each([
  ['flac', 'flac', Infinity],
  ['ogg', 'vorbis', 20],
  ['opus', 'opus', 20],
  ['mp3', 'mp3', 20],
])('as %s', (way, codec, least) => {
  test.each([1, 2])('a sound of %i channels is heard as it was', async (channels) => {
    const [made] = await takenAs(way, wave(1, channels));
    expect(probed(made as Uint8Array)).toMatchObject({ codec_name: codec, channels });
    const back = heard(made as Uint8Array, channels);
    const length = Math.min(back[0]!.length, RATE);
    expect(length).toBeGreaterThan(RATE - 300);
    const [was, is] = [samples(1, channels), back].map((all) => all.map((one) => one.subarray(0, length)));
    // Sixteen bits are what the file has.
    const ratio = signalToNoise(was!, is!);
    expect(ratio).toBeGreaterThan(Math.min(60, least));
  });

  test('one that is such already stays byte by byte, and goes with those that are not', async () => {
    const [made] = await takenAs(way, wave());
    const [kept, other] = await takenAs(way, made as Uint8Array, wave(0.5));
    expect(kept).toEqual(made);
    expect(probed(other as Uint8Array).codec_name).toBe(codec);
  });

  test('a broken one among many fails alone', async () => {
    const broken = (await takenAs('flac', wave(2)))[0] as Uint8Array;
    const cut = way === 'flac' ? Uint8Array.of(1, 2, 3) : broken.slice(0, broken.length >> 1);
    const all = await takenAs(way, wave(0.2), cut, wave(0.3));
    expect(all.map((one) => one instanceof FormatError)).toEqual([false, true, false]);
    expect((all[1] as FormatError).facts.file).toBe('take 1');
    expect(heard(all[2] as Uint8Array)[0]!.length).toBeGreaterThan(0.28 * RATE);
  });

  test('an empty sound and one of a single sample are no end of it', async () => {
    const one = writeWave([Float32Array.of(0.5)], plainForm(RATE, 1));
    const nothing = writeWave([new Float32Array()], plainForm(RATE, 1));
    const [short, empty, whole] = await takenAs(way, one, nothing, wave(0.2));
    expect(short).toBeDefined();
    expect(empty).toBeDefined();
    expect(probed(whole as Uint8Array).codec_name).toBe(codec);
  });

  test('a loop goes along as a comment', async () => {
    const looped = writeWave(samples(1), plainForm(RATE, 1), markChunks(RATE, { from: 2205, to: 11024 }, []));
    const [made] = await takenAs(way, looped);
    const { tags } = probed(made as Uint8Array);
    const by = way === 'opus' ? 48000 / RATE : 1;
    expect(tags).toMatchObject({ LOOPSTART: `${2205 * by}`, LOOPLENGTH: `${8820 * by}` });
    const [without] = await takenAs(way, wave(0.3));
    expect(probed(without as Uint8Array).tags).not.toHaveProperty('LOOPSTART');
  });
});

test('a loop stays in a WAV', async () => {
  const looped = writeWave(samples(1), plainForm(RATE, 1), markChunks(RATE, { from: 100, to: 9000 }, []));
  const [made] = await takenAs('wav', looped);
  expect(made).toEqual(looped);
  const facts = readWaveFacts(made as Uint8Array);
  expect(loopsOf(otherChunks(made as Uint8Array, facts))).toEqual([{ from: 100, to: 9000 }]);
});

test.each(['adpcm_ima_wav', 'adpcm_ms'])(
  'so does that of codes in one (%s), and it goes along elsewhere',
  async (codec) => {
    const plain = path.join(folder, 'plain.wav');
    const coded = path.join(folder, `${codec}.wav`);
    fs.writeFileSync(plain, writeWave(samples(1), plainForm(RATE, 1)));
    execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', plain, '-c:a', codec, coded]);
    const [smpl] = markChunks(RATE, { from: 2205, to: 11024 }, []) as [{ name: string; bytes: Uint8Array }];
    const head = Buffer.alloc(8);
    head.write('smpl');
    head.writeUInt32LE(smpl.bytes.length, 4);
    const looped = Buffer.concat([fs.readFileSync(coded), head, smpl.bytes]);
    looped.writeUInt32LE(looped.length - 8, 4);
    const bytes = new Uint8Array(looped);
    const [wav] = await takenAs('wav', bytes);
    const facts = readWaveFacts(wav as Uint8Array);
    expect(loopsOf(otherChunks(wav as Uint8Array, facts))).toEqual([{ from: 2205, to: 11024 }]);
    const [flac] = await takenAs('flac', bytes);
    expect(probed(flac as Uint8Array).tags).toMatchObject({ LOOPSTART: '2205', LOOPLENGTH: '8820' });
  },
);

test.each(['flac', 'ogg', 'opus', 'mp3'])('the loop of %s becomes one of the WAV', async (way) => {
  const looped = writeWave(samples(1), plainForm(RATE, 1), markChunks(RATE, { from: 2205, to: 11024 }, []));
  const [packed] = await takenAs(way, looped);
  const [made, plain] = await takenAs(
    'wav',
    packed as Uint8Array,
    (await takenAs(way, wave()))[0] as Uint8Array,
  );
  const facts = readWaveFacts(made as Uint8Array);
  const by = facts.rate / RATE;
  expect(loopsOf(otherChunks(made as Uint8Array, facts))).toEqual([
    { from: 2205 * by, to: Math.round(11025 * by) - 1 },
  ]);
  // Other programs read the file with what stands behind its samples.
  expect(probed(made as Uint8Array).codec_name).toBe('pcm_s16le');
  expect(loopsOf(otherChunks(plain as Uint8Array, readWaveFacts(plain as Uint8Array)))).toEqual([]);
  // And packed again it is a comment again, whatever it is packed in.
  const [again] = await takenAs(way === 'ogg' ? 'flac' : 'ogg', packed as Uint8Array);
  expect(probed(again as Uint8Array).tags).toMatchObject({ LOOPSTART: `${2205 * by}` });
});

test.each([
  ['wav16', 'whole', 16],
  ['wav24', 'whole', 24],
  ['wavf', 'float', 32],
])('as %s it has samples of that form, and its marks', async (way, sort, bits) => {
  const marked = writeWave(
    samples(0.5, 2),
    plainForm(RATE, 2),
    markChunks(RATE, { from: 10, to: 99 }, [7, 70]),
  );
  const [made, packed] = await takenAs(way, marked, (await takenAs('ogg', wave()))[0] as Uint8Array);
  const facts = readWaveFacts(made as Uint8Array);
  expect(facts).toMatchObject({ sort, bits, channels: 2, rate: RATE });
  const chunks = otherChunks(made as Uint8Array, facts);
  expect([loopsOf(chunks), cuesOf(chunks)]).toEqual([[{ from: 10, to: 99 }], [7, 70]]);
  expect(signalToNoise(samples(0.5, 2), readWave(made as Uint8Array).channels)).toBeGreaterThan(80);
  expect(readWaveFacts(packed as Uint8Array)).toMatchObject({ sort, bits, channels: 1 });
  // What is so already stays byte for byte.
  expect(await takenAs(way, made as Uint8Array)).toEqual([made]);
});

test.each(['wav-even', 'ogg-even', 'mp3-even'])(
  'as %s all are as loud, as far as no peak is cut off',
  async (way) => {
    const soft = writeWave([samples(1)[0]!.map((value) => value * 0.05)], plainForm(RATE, 1));
    const spiky = writeWave(
      [samples(1)[0]!.map((value, i) => (i === 999 ? 0.9 : value * 0.02))],
      plainForm(RATE, 1),
    );
    const silent = writeWave([new Float32Array(RATE)], plainForm(RATE, 1));
    const broken = Uint8Array.from(Buffer.from('OggS and nothing'));
    const made = await takenAs(way, wave(), soft, spiky, silent, broken);
    const levels = made.slice(0, 4).map((one) => loudnessOf([heard(one as Uint8Array)[0]!], RATE).level);
    expect(levels[0]).toBeCloseTo(-16, 0);
    expect(levels[1]).toBeCloseTo(-16, 0);
    expect(levels[2]).toBeLessThan(-30);
    expect(levels[3]).toBe(-Infinity);
    expect(made[4]).toBeInstanceOf(FormatError);
    for (const one of made.slice(0, 3))
      expect(Math.max(...heard(one as Uint8Array)[0]!.map(Math.abs))).toBeLessThanOrEqual(1.05);
  },
);

test('forty at once are forty files, each as long as it was, and back again', async () => {
  const lengths = Array.from({ length: 40 }, (_, i) => 1102 + 97 * i);
  const things = lengths.map((length) => wave(length / RATE));
  const made = await takenAs('ogg', ...things);
  expect(made.map((one) => heardFrames(refOfBytes(one as Uint8Array)))).toEqual(lengths);
  // Most lie in a single page each, of which ffmpeg by itself takes some more or some less.
  const back = await takenAs('wav', ...(made as Uint8Array[]));
  expect(back.map((one) => readWaveFacts(one as Uint8Array).frames)).toEqual(lengths);
  for (const [i, one] of back.entries()) {
    const { channels } = readWave(one as Uint8Array);
    expect(signalToNoise(readWave(things[i]!).channels, channels)).toBeGreaterThan(15);
  }
});

test.each([1, 2])(
  'of a Vorbis that is brought to another rate and %i channels none are lost',
  async (channels) => {
    const [made] = await takenAs('ogg', wave(0.1));
    const shaped = await shapedSound(made as Uint8Array, 'a.ogg', { rate: 2 * RATE, channels, from: 1 });
    const { frames, channels: count } = readWaveFacts(shaped);
    expect(count).toBe(channels);
    expect(Math.abs(frames - 2 * 2205)).toBeLessThan(20);
  },
);

describe('a slot of any bit rate is packed', () => {
  test.each(
    (['vorbis', 'opus', 'mp3'] as const).flatMap((codec) =>
      // Each rate with each bit rate; both numbers of channels with each of them.
      [8000, 22050, 44100].flatMap((rate, i) =>
        [8000, 16_000, 64_000, 320_000].map(
          (bitRate, k) => [codec, rate, bitRate, 1 + ((i + k) % 2)] as const,
        ),
      ),
    ),
  )('%s at %i Hz with %i bits a second in %i channels', async (codec, rate, bitRate, channels) => {
    // Opus has a rate of its own.
    const wanted = { codec, rate: codec === 'opus' ? 48_000 : rate, channels, from: 1, bitRate, bits: 16 };
    const made = await packedSound(wave(0.3), 'a.wav', wanted);
    expect(probed(made)).toMatchObject({ codec_name: codec, channels });
  });
});
