import { FormatError, fromHalf, toHalf } from '@/core/bytes';

/** How the numbers of one field of a stream are kept. */
export interface NumberForm {
  /** As a script spells it: `f32x3`, `snorm8x4`, `octahedron16`. */
  readonly text: string;
  /** Bytes of one item. */
  readonly bytes: number;
  /** Numbers of one item. */
  readonly numbers: number;
  /** The largest error of a number between -1 and 1 that is kept and read again; 0 where nothing is lost but what is behind the comma of whole numbers. */
  readonly step: number;
  /** The numbers that it is made of, where each is kept by itself. */
  readonly plain?: { readonly kind: PlainKind; readonly high: number } | undefined;
  /** The least and the most that each number can be; undefined for floats. */
  readonly range: readonly [number, number] | undefined;
  get(view: DataView, at: number, little: boolean, out: Float64Array): void;
  set(view: DataView, at: number, little: boolean, from: Float64Array): void;
}

/** How bytes are numbers; what is normalised is divided by `high`, and no lower than -1. */
export type PlainKind = 'u8' | 'i8' | 'u16' | 'i16' | 'u32' | 'i32' | 'f32' | 'f16';

interface Scalar {
  readonly plain: { readonly kind: PlainKind; readonly high: number };
  readonly bytes: number;
  readonly step: number;
  readonly range: readonly [number, number] | undefined;
  get(view: DataView, at: number, little: boolean): number;
  set(view: DataView, at: number, value: number, little: boolean): void;
}

const clamped = (value: number, low: number, high: number): number => {
  const whole = Math.round(value);
  if (whole >= low && whole <= high) return whole;
  throw new FormatError('does-not-fit', {
    ...{ expected: `a number from ${low} to ${high}`, actual: `${value}` },
  });
};

type Kind = 'u8' | 'i8' | 'u16' | 'i16' | 'u32' | 'i32';
const WHOLE: Readonly<Record<Kind, { bytes: 1 | 2 | 4; low: number; high: number }>> = {
  u8: { bytes: 1, low: 0, high: 255 },
  i8: { bytes: 1, low: -128, high: 127 },
  u16: { bytes: 2, low: 0, high: 65_535 },
  i16: { bytes: 2, low: -32_768, high: 32_767 },
  u32: { bytes: 4, low: 0, high: 4_294_967_295 },
  i32: { bytes: 4, low: -2_147_483_648, high: 2_147_483_647 },
};

const NAMES: Readonly<Record<Kind, 'Uint8' | 'Int8' | 'Uint16' | 'Int16' | 'Uint32' | 'Int32'>> = {
  ...{ u8: 'Uint8', i8: 'Int8', u16: 'Uint16', i16: 'Int16', u32: 'Uint32', i32: 'Int32' },
};

function wholeScalar(kind: Kind): Scalar {
  const { bytes, low, high } = WHOLE[kind];
  const name = NAMES[kind];
  return {
    ...{ bytes, step: 0.5, range: [low, high], plain: { kind, high: 1 } },
    get: (view, at, little) => view[`get${name}`](at, little),
    set: (view, at, value, little) => view[`set${name}`](at, clamped(value, low, high), little),
  };
}

/** Whole numbers that stand for 0 to 1, or -1 to 1 (OpenGL 4.2, section 2.3.4: the lowest two of signed ones mean -1). */
function normalised(kind: Kind): Scalar {
  const { bytes, low, high } = WHOLE[kind];
  const name = NAMES[kind];
  return {
    ...{ bytes, step: 0.5 / high, range: [low < 0 ? -1 : 0, 1], plain: { kind, high } },
    get: (view, at, little) => Math.max(-1, view[`get${name}`](at, little) / high),
    set(view, at, value, little) {
      const bounded = Math.min(1, Math.max(low < 0 ? -1 : 0, value));
      view[`set${name}`](at, Math.round(bounded * high), little);
    },
  };
}

const floats: Scalar = {
  ...{ bytes: 4, step: 0, range: undefined, plain: { kind: 'f32', high: 1 } },
  get: (view, at, little) => view.getFloat32(at, little),
  set: (view, at, value, little) => view.setFloat32(at, value, little),
};

/** IEEE 754 binary16. */
const halves: Scalar = {
  ...{ bytes: 2, step: 2 ** -11, range: undefined, plain: { kind: 'f16', high: 1 } },
  get: (view, at, little) => fromHalf(view.getUint16(at, little)),
  set: (view, at, value, little) => view.setUint16(at, toHalf(value), little),
};

const SCALARS: Readonly<Record<string, Scalar>> = {
  ...{ f32: floats, f16: halves },
  ...Object.fromEntries((Object.keys(WHOLE) as Kind[]).map((kind) => [kind, wholeScalar(kind)])),
  ...{ unorm8: normalised('u8'), snorm8: normalised('i8') },
  ...{ unorm16: normalised('u16'), snorm16: normalised('i16') },
};

/** Ten bits each of x, y and z, the lowest first, and two of w. */
function tens(isSigned: boolean): NumberForm {
  const high = isSigned ? 511 : 1023;
  const last = isSigned ? 1 : 3;
  const part = (bits: number, from: number, width: number): number => {
    const value = (bits >>> from) & ((1 << width) - 1);
    return isSigned && value >> (width - 1) ? value - (1 << width) : value;
  };
  return {
    ...{
      text: isSigned ? 'snorm10' : 'unorm10',
      bytes: 4,
      numbers: 4,
      step: 0.5 / high,
      range: [isSigned ? -1 : 0, 1],
    },
    get(view, at, little, out) {
      const bits = view.getUint32(at, little);
      for (let i = 0; i < 3; i++) out[i] = Math.max(-1, part(bits, 10 * i, 10) / high);
      out[3] = Math.max(-1, part(bits, 30, 2) / last);
    },
    set(view, at, little, from) {
      const least = isSigned ? -1 : 0;
      let bits = 0;
      for (let i = 0; i < 4; i++) {
        const value = Math.round(Math.min(1, Math.max(least, from[i]!)) * (i < 3 ? high : last));
        bits |= (value & (i < 3 ? 1023 : 3)) << (10 * i);
      }
      view.setUint32(at, bits >>> 0, little);
    },
  };
}

/** A direction on an octahedron that is unfolded into a square (Meyer and others, 2010). */
function octahedron(of: 'snorm8' | 'snorm16'): NumberForm {
  const scalar = SCALARS[of]!;
  const fold = (x: number, y: number): [number, number] => [
    (1 - Math.abs(y)) * (x < 0 ? -1 : 1),
    (1 - Math.abs(x)) * (y < 0 ? -1 : 1),
  ];
  return {
    ...{ text: of === 'snorm8' ? 'octahedron8' : 'octahedron16' },
    ...{ bytes: 2 * scalar.bytes, numbers: 3, step: 3 * scalar.step, range: [-1, 1] },
    get(view, at, little, out) {
      let [x, y] = [scalar.get(view, at, little), scalar.get(view, at + scalar.bytes, little)];
      const z = 1 - Math.abs(x) - Math.abs(y);
      if (z < 0) [x, y] = fold(x, y);
      const length = Math.hypot(x, y, z) || 1;
      [out[0], out[1], out[2]] = [x / length, y / length, z / length];
    },
    set(view, at, little, from) {
      const sum = Math.abs(from[0]!) + Math.abs(from[1]!) + Math.abs(from[2]!) || 1;
      let [x, y] = [from[0]! / sum, from[1]! / sum];
      if (from[2]! < 0) [x, y] = fold(x, y);
      scalar.set(view, at, x, little);
      scalar.set(view, at + scalar.bytes, y, little);
    },
  };
}

/** The three smallest numbers of a unit quaternion, 15 bits each, and in the highest bits which one is left out. */
const threeOfFour: NumberForm = {
  ...{ text: 'turn48', bytes: 6, numbers: 4, step: Math.SQRT1_2 / 32_767, range: [-1, 1] },
  get(view, at, little, out) {
    const words = [0, 2, 4].map((i) => view.getUint16(at + i, little));
    const largest = (words[0]! >> 15) | ((words[1]! >> 15) << 1);
    let sum = 0;
    for (let i = 0, word = 0; i < 4; i++) {
      if (i === largest) continue;
      const value = (((words[word++]! & 0x7fff) / 32_767) * 2 - 1) * Math.SQRT1_2;
      out[i] = value;
      sum += value * value;
    }
    out[largest] = Math.sqrt(Math.max(0, 1 - sum));
  },
  set(view, at, little, from) {
    let largest = 0;
    for (let i = 1; i < 4; i++) if (Math.abs(from[i]!) > Math.abs(from[largest]!)) largest = i;
    const length = Math.hypot(from[0]!, from[1]!, from[2]!, from[3]!) || 1;
    // A turn and its negative are the same one.
    const sign = (from[largest]! < 0 ? -1 : 1) / length;
    for (let i = 0, word = 0; i < 4; i++) {
      if (i === largest) continue;
      const value = Math.round(((from[i]! * sign) / Math.SQRT1_2 / 2 + 0.5) * 32_767);
      const bit = word === 0 ? largest & 1 : word === 1 ? largest >> 1 : 0;
      view.setUint16(at + 2 * word++, Math.min(32_767, Math.max(0, value)) | (bit << 15), little);
    }
  },
};

const WHOLES: readonly NumberForm[] = [
  ...[tens(true), tens(false), octahedron('snorm8'), octahedron('snorm16'), threeOfFour],
];

/** What a script may say of how numbers are kept, as it says it. */
export const FORM_WORDS: readonly string[] = [
  ...Object.keys(SCALARS).map((name) => `${name}x1 to ${name}x4`),
  ...WHOLES.map(({ text }) => text),
];

/** The form of a word. Throws FormatError for one that there is not. */
export function numberForm(text: string): NumberForm {
  const whole = WHOLES.find((form) => form.text === text);
  if (whole) return whole;
  const [, name, count] = /^([a-z]+[0-9]+)(?:x([1-4]))?$/.exec(text) ?? [];
  const scalar = name === undefined ? undefined : SCALARS[name];
  if (!scalar)
    throw new FormatError('script-wrong', {
      ...{ expected: `one of ${FORM_WORDS.join(', ')}`, actual: `'${text}'` },
    });
  const numbers = Number(count ?? 1);
  return {
    ...{
      text,
      numbers,
      bytes: scalar.bytes * numbers,
      step: scalar.step,
      range: scalar.range,
      plain: scalar.plain,
    },
    get(view, at, little, out) {
      for (let i = 0; i < numbers; i++) out[i] = scalar.get(view, at + i * scalar.bytes, little);
    },
    set(view, at, little, from) {
      for (let i = 0; i < numbers; i++) scalar.set(view, at + i * scalar.bytes, from[i]!, little);
    },
  };
}
