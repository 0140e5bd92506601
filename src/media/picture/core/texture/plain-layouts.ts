import { requireLength, type PixelLayout } from './pixel-layout';

/** A channel in a word: its lowest bit and how many there are; no bits where the layout does not keep it. */
type Place = readonly [shift: number, bits: number];
const NONE: Place = [0, 0];

interface Word {
  readonly name: string;
  readonly title: string;
  /** Bytes of a texel, the lowest first. */
  readonly bytes: 1 | 2 | 3 | 4;
  readonly places: readonly [red: Place, green: Place, blue: Place, alpha: Place];
  /** A single channel that stands for grey. */
  readonly isGrey?: boolean;
}

const byte = (index: number): Place => [8 * index, 8];

/** Layouts whose texel is one word of whole numbers. Names of bytes go by their order, those of words from the highest bit. */
const WORDS: readonly Word[] = [
  { name: 'rgba8', title: 'RGBA, 8 bits each', bytes: 4, places: [byte(0), byte(1), byte(2), byte(3)] },
  { name: 'bgra8', title: 'BGRA, 8 bits each', bytes: 4, places: [byte(2), byte(1), byte(0), byte(3)] },
  { name: 'argb8', title: 'ARGB, 8 bits each', bytes: 4, places: [byte(1), byte(2), byte(3), byte(0)] },
  { name: 'abgr8', title: 'ABGR, 8 bits each', bytes: 4, places: [byte(3), byte(2), byte(1), byte(0)] },
  { name: 'rgbx8', title: 'RGB and a spare byte', bytes: 4, places: [byte(0), byte(1), byte(2), NONE] },
  { name: 'bgrx8', title: 'BGR and a spare byte', bytes: 4, places: [byte(2), byte(1), byte(0), NONE] },
  { name: 'rgb8', title: 'RGB, 8 bits each', bytes: 3, places: [byte(0), byte(1), byte(2), NONE] },
  { name: 'bgr8', title: 'BGR, 8 bits each', bytes: 3, places: [byte(2), byte(1), byte(0), NONE] },
  {
    name: 'rgb6',
    title: 'RGB, 6 bits each in a byte',
    bytes: 3,
    places: [[0, 6], [8, 6], [16, 6], NONE],
  },
  { name: 'rgb565', title: 'RGB, 5, 6 and 5 bits', bytes: 2, places: [[11, 5], [5, 6], [0, 5], NONE] },
  { name: 'bgr565', title: 'BGR, 5, 6 and 5 bits', bytes: 2, places: [[0, 5], [5, 6], [11, 5], NONE] },
  {
    name: 'argb1555',
    title: 'ARGB, 1 and 5 bits each',
    bytes: 2,
    places: [
      [10, 5],
      [5, 5],
      [0, 5],
      [15, 1],
    ],
  },
  { name: 'xrgb1555', title: 'RGB, 5 bits each', bytes: 2, places: [[10, 5], [5, 5], [0, 5], NONE] },
  {
    name: 'rgba5551',
    title: 'RGBA, 5 bits each and 1',
    bytes: 2,
    places: [
      [11, 5],
      [6, 5],
      [1, 5],
      [0, 1],
    ],
  },
  {
    name: 'argb4444',
    title: 'ARGB, 4 bits each',
    bytes: 2,
    places: [
      [8, 4],
      [4, 4],
      [0, 4],
      [12, 4],
    ],
  },
  {
    name: 'rgba4444',
    title: 'RGBA, 4 bits each',
    bytes: 2,
    places: [
      [12, 4],
      [8, 4],
      [4, 4],
      [0, 4],
    ],
  },
  { name: 'r8', title: 'one channel, 8 bits', bytes: 1, places: [byte(0), NONE, NONE, NONE], isGrey: true },
  { name: 'a8', title: 'alpha alone, 8 bits', bytes: 1, places: [NONE, NONE, NONE, byte(0)] },
  {
    name: 'ra8',
    title: 'grey and alpha, 8 bits each',
    bytes: 2,
    places: [byte(0), NONE, NONE, byte(1)],
    isGrey: true,
  },
  { name: 'rg8', title: 'two channels, 8 bits each', bytes: 2, places: [byte(0), byte(1), NONE, NONE] },
];

/** What each value of so many bits is in eight bits, and the other way round. */
const up = (bits: number): Uint8Array =>
  Uint8Array.from({ length: 1 << bits }, (_, v) => Math.round((v * 255) / ((1 << bits) - 1)));
const down = (bits: number): Uint8Array =>
  Uint8Array.from({ length: 256 }, (_, v) => Math.round((v * ((1 << bits) - 1)) / 255));

function channelsOf({ places: [red, green, blue, alpha] }: Word): PixelLayout['channels'] {
  if (!red[1]) return 'a';
  const colour = blue[1] ? 'rgb' : green[1] ? 'rg' : 'r';
  return alpha[1] ? (colour === 'rgb' ? 'rgba' : 'ra') : colour;
}

function wordLayout(word: Word): PixelLayout {
  const { name, title, bytes: size, places, isGrey } = word;
  const alphaBits = places[3][1];
  const used = places.flatMap(([shift, bits], channel) =>
    bits > 0 ? [{ channel, shift, mask: (1 << bits) - 1, up: up(bits), down: down(bits) }] : [],
  );
  const levelLength = (width: number, height: number): number => width * height * size;
  return {
    name,
    title,
    alpha: alphaBits === 0 ? 'none' : alphaBits === 1 ? 'one bit' : 'full',
    channels: channelsOf(word),
    depth: 8,
    block: 1,
    isExact: used.every(({ mask }) => mask === 255),
    levelLength,
    decode(bytes, width, height) {
      requireLength(name, bytes, levelLength(width, height));
      const count = width * height;
      if (name === 'rgba8') return { width, height, data: bytes.slice(0, count * 4) };
      const data = new Uint8Array(count * 4);
      if (alphaBits === 0) for (let i = 3; i < data.length; i += 4) data[i] = 255;
      for (let i = 0, at = 0; i < count; i++, at += size) {
        let value = bytes[at]!;
        for (let b = 1; b < size; b++) value |= bytes[at + b]! << (8 * b);
        for (const { channel, shift, mask, up: table } of used)
          data[4 * i + channel] = table[(value >>> shift) & mask]!;
        if (isGrey) data[4 * i + 1] = data[4 * i + 2] = data[4 * i]!;
      }
      return { width, height, data };
    },
    encode({ data }) {
      if (name === 'rgba8') return data.slice();
      const count = data.length / 4;
      const out = new Uint8Array(count * size);
      for (let i = 0, at = 0; i < count; i++, at += size) {
        let value = 0;
        for (const { channel, shift, down: table } of used) value |= table[data[4 * i + channel]!]! << shift;
        for (let b = 0; b < size; b++) out[at + b] = value >>> (8 * b);
      }
      return out;
    },
  };
}

export const PLAIN_LAYOUTS: readonly PixelLayout[] = WORDS.map(wordLayout);
