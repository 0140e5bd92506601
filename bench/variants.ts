import { bell, chirp, mumble, tune, wash } from '../demo/world/sounds';
import { seeded } from '../demo/world/random';
import { decodeIma, decodeMs, encodeIma, encodeMs, MS_COEFFICIENTS } from '../src/media/sound/core/adpcm';
import { readWave } from '../src/media/sound/core/audio';
import { unlikeliness } from '../src/media/sound/core/variants';

/** Of sounds that are stored in one of two ways, how many are told right by what they sound like. */
const RATE = 22_050;
const MOST = 16_384;
const sounds = new Map<string, Int16Array[]>();
const add = (kind: string, samples: Int16Array): void =>
  void sounds.set(kind, [...(sounds.get(kind) ?? []), samples.subarray(0, MOST)]);
const ofWave = (wave: Buffer): Int16Array =>
  Int16Array.from(readWave(new Uint8Array(wave)).channels[0]!, (value) => Math.round(value * 32_767));
const made = (of: (i: number) => number): Int16Array => Int16Array.from({ length: 8000 }, (_, i) => of(i));
const WORDS = 'the lamp keeper row on water reeds who is it not tonight there hush promise ferry widow'.split(
  ' ',
);
for (let n = 0; n < 120; n++) {
  const random = seeded(`variants ${n}`);
  const word = (): string => WORDS[Math.floor(random() * WORDS.length)]!;
  add('voices', ofWave(mumble(`${Array.from({ length: 4 }, word).join(' ')}.`, 90 + 200 * random())));
  add('bells', ofWave(bell(100 + 900 * random())));
  add('chirps', ofWave(chirp(100 + 800 * random(), 200 + 2000 * random(), 1 + (n % 4))));
  add('water and wind', ofWave(wash(`${n}`, 0.02 + 0.5 * random(), 0.3 + 3 * random())));
  if (n < 30) add('music', ofWave(tune(`${n}`, [147 + 100 * random(), 196 + 200 * random(), 220, 330])));
  const size = 3000 + 25_000 * random();
  const pitch = 200 + 5000 * random();
  const half = 10 + Math.floor(100 * random());
  add(
    'noise',
    made(() => (2 * random() - 1) * size),
  );
  add(
    'tones',
    made((i) => size * Math.sin((2 * Math.PI * pitch * i) / RATE)),
  );
  add(
    'square waves',
    made((i) => (i % (2 * half) < half ? size : -size)),
  );
  add(
    'nearly silent',
    made((i) => 60 * Math.sin(i / (5 + (n % 9))) + 20 * (2 * random() - 1)),
  );
  const every = 900 + n;
  add(
    'clicks',
    made((i) => (i % every < 30 ? (2 * random() - 1) * size * Math.exp(-(i % every) / 8) : 0)),
  );
}

interface Way {
  readonly block: number;
  encode(samples: Int16Array): Uint8Array;
  decode(bytes: Uint8Array, count: number): ArrayLike<number>;
}
const BLOCK = 512;
const ima = (isHighFirst: boolean, block = 0): Way => {
  const layout = { channels: 1, block, hasHead: block > 0, isHighFirst, turn: 4, start: 0 };
  return {
    block: block > 0 ? 2 * (block - 4) + 1 : 0,
    encode: (samples) => encodeIma([samples], layout),
    decode: (bytes, count) => decodeIma(bytes, layout, count)[0]!,
  };
};
const layout = { channels: 1, block: BLOCK, coefficients: MS_COEFFICIENTS };
const ms: Way = {
  block: 2 * (BLOCK - 7) + 2,
  encode: (samples) => encodeMs([samples], layout),
  decode: (bytes, count) => decodeMs(bytes, layout, count)[0]!,
};
const whole = (isBig: boolean): Way => ({
  block: 0,
  encode(samples) {
    const out = new DataView(new ArrayBuffer(2 * samples.length));
    samples.forEach((value, i) => out.setInt16(2 * i, value, !isBig));
    return new Uint8Array(out.buffer);
  },
  decode(bytes, count) {
    const view = new DataView(bytes.buffer);
    return Int16Array.from({ length: count }, (_, i) => view.getInt16(2 * i, !isBig));
  },
});
const byte = (isSigned: boolean): Way => ({
  block: 0,
  encode: (samples) => Uint8Array.from(samples, (value) => ((value >> 8) + (isSigned ? 0 : 128)) & 255),
  decode: (bytes, count) =>
    Int16Array.from({ length: count }, (_, i) =>
      isSigned ? (bytes[i]! << 24) >> 16 : (bytes[i]! - 128) << 8,
    ),
});
const PAIRS: readonly (readonly [string, Way, Way])[] = [
  ['IMA, either half first', ima(false), ima(true)],
  ['IMA in blocks, either half first', ima(false, BLOCK), ima(true, BLOCK)],
  ["IMA in blocks or Microsoft's", ima(false, BLOCK), ms],
  ['16 bits, either byte first', whole(false), whole(true)],
  ['8 bits, signed or not', byte(true), byte(false)],
];
for (const [title, ...ways] of PAIRS) {
  let [right, all] = [0, 0];
  const wrong = new Map<string, number>();
  for (const [kind, list] of sounds)
    for (const samples of list)
      for (const own of ways) {
        const bytes = own.encode(samples);
        const score = (way: Way): number => {
          try {
            return unlikeliness(way.decode(bytes, samples.length & ~1), way.block);
          } catch {
            return Infinity;
          }
        };
        const other = ways.find((way) => way !== own)!;
        all++;
        if (score(own) < score(other)) right++;
        else wrong.set(kind, (wrong.get(kind) ?? 0) + 1);
      }
  const missed = [...wrong].map(([kind, count]) => `${count} ${kind}`).join(', ');
  process.stdout.write(
    `${title}: ${((100 * right) / all).toFixed(1)} % of ${all}${missed && `; not ${missed}`}\n`,
  );
}
