import type { SampleSort } from './wave-head';

/** Reads the sample at a byte as a number from -1 to 1. */
export type ReadSample = (view: DataView, at: number) => number;
/** Writes a number from -1 to 1 as a sample; what is beyond is clipped where the form has an end. */
export type WriteSample = (view: DataView, at: number, value: number) => void;

const clipped = (value: number, scale: number): number =>
  Math.max(-scale, Math.min(scale - 1, Math.round(value * scale)));

/** How samples of a form are read, lowest byte first. */
export function sampleReader(sort: SampleSort, bits: number): ReadSample {
  if (sort === 'a-law') return (view, at) => aLaw[view.getUint8(at)]!;
  if (sort === 'mu-law') return (view, at) => muLaw[view.getUint8(at)]!;
  if (sort === 'float')
    return bits === 64 ? (view, at) => view.getFloat64(at, true) : (view, at) => view.getFloat32(at, true);
  if (bits === 8) return (view, at) => (view.getUint8(at) - 128) / 128;
  if (bits === 16) return (view, at) => view.getInt16(at, true) / 2 ** 15;
  if (bits === 24) return (view, at) => (view.getUint16(at, true) | (view.getInt8(at + 2) << 16)) / 2 ** 23;
  return (view, at) => view.getInt32(at, true) / 2 ** 31;
}

/** How samples of a form are written, lowest byte first. */
export function sampleWriter(sort: SampleSort, bits: number): WriteSample {
  if (sort === 'a-law') return (view, at, value) => view.setUint8(at, nearestLaw(aLaw, value));
  if (sort === 'mu-law') return (view, at, value) => view.setUint8(at, nearestLaw(muLaw, value));
  if (sort === 'float')
    return bits === 64
      ? (view, at, value) => view.setFloat64(at, value, true)
      : (view, at, value) => view.setFloat32(at, value, true);
  if (bits === 8) return (view, at, value) => view.setUint8(at, clipped(value, 128) + 128);
  if (bits === 16) return (view, at, value) => view.setInt16(at, clipped(value, 2 ** 15), true);
  if (bits === 24)
    return (view, at, value) => {
      const whole = clipped(value, 2 ** 23);
      view.setUint16(at, whole & 0xffff, true);
      view.setInt8(at + 2, whole >> 16);
    };
  return (view, at, value) => view.setInt32(at, clipped(value, 2 ** 31), true);
}

/** A-law (ITU-T G.711, table 1): the even bits are turned over; sign, three bits of exponent, four of mantissa. */
const aLaw = Float64Array.from({ length: 256 }, (_, code) => {
  const bits = code ^ 0x55;
  const exponent = (bits >> 4) & 7;
  const mantissa = bits & 15;
  const size = exponent === 0 ? (mantissa << 4) + 8 : ((mantissa << 4) + 0x108) << (exponent - 1);
  return (bits & 0x80 ? size : -size) / 2 ** 15;
});

/** µ-law (ITU-T G.711, table 2): all bits are turned over, and 33 lies under each size. */
const muLaw = Float64Array.from({ length: 256 }, (_, code) => {
  const bits = ~code & 0xff;
  const size = ((((bits & 15) << 3) + 0x84) << ((bits >> 4) & 7)) - 0x84;
  return (bits & 0x80 ? -size : size) / 2 ** 15;
});

const sortedLaws = new Map<Float64Array, readonly number[]>();

/** The code whose value is nearest; the table is gone through by halves. */
function nearestLaw(law: Float64Array, value: number): number {
  let codes = sortedLaws.get(law);
  if (!codes) {
    codes = Array.from(law.keys()).sort((a, b) => law[a]! - law[b]!);
    sortedLaws.set(law, codes);
  }
  let [low, high] = [0, codes.length - 1];
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (law[codes[middle]!]! <= value) low = middle;
    else high = middle;
  }
  return value - law[codes[low]!]! <= law[codes[high]!]! - value ? codes[low]! : codes[high]!;
}
