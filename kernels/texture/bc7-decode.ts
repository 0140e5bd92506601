import { bitsOf } from './bits';
import {
  ANCHOR2,
  ANCHOR3A,
  ANCHOR3B,
  MODES,
  PARTITION2,
  PARTITION3,
  WEIGHTS2,
  WEIGHTS3,
  WEIGHTS4,
} from './bc7-tables';

const ENDS: usize = memory.data(24);
/** Of each subset, its sixteen colours. */
const COLOURS: usize = memory.data(3 * 64);

export function weightsFor(bits: u32): usize {
  return bits === 2 ? WEIGHTS2 : bits === 3 ? WEIGHTS3 : WEIGHTS4;
}

function mix(a: u32, b: u32, weight: u32): u32 {
  return ((64 - weight) * a + weight * b + 32) >> 6;
}

/** The subset of texel i. */
export function subsetOf(count: u32, partition: u32, i: u32): u32 {
  if (count === 1) return 0;
  if (count === 2) return ((<u32>load<u16>(PARTITION2 + (partition << 1))) >> i) & 1;
  return (load<u32>(PARTITION3 + (partition << 2)) >> (i << 1)) & 3;
}

/** Whether texel i is the one of its subset whose index has no top bit. */
export function isAnchor(count: u32, partition: u32, i: u32): bool {
  if (i === 0) return true;
  if (count === 1) return false;
  if (count === 2) return load<u8>(ANCHOR2 + partition) === i;
  return load<u8>(ANCHOR3A + partition) === i || load<u8>(ANCHOR3B + partition) === i;
}

/** One block of BC7 (Khronos Data Format Specification, 20.1). A reserved mode is transparent black. */
export function decodeBc7(from: usize, to: usize, stride: usize): void {
  const low = load<u64>(from);
  const high = load<u64>(from, 8);
  const mode = <u32>ctz(low | 256);
  if (mode > 7) {
    for (let y = 0; y < 4; y++) v128.store(to + <usize>y * stride, i32x4.splat(0));
    return;
  }
  const facts = MODES + mode * 10;
  const count = <u32>load<u8>(facts);
  const partitionBits = <u32>load<u8>(facts, 1);
  const rotationBits = <u32>load<u8>(facts, 2);
  const selectorBits = <u32>load<u8>(facts, 3);
  const colourBits = <u32>load<u8>(facts, 4);
  const alphaBits = <u32>load<u8>(facts, 5);
  const ownP = <u32>load<u8>(facts, 6);
  const sharedP = <u32>load<u8>(facts, 7);
  const indexBits = <u32>load<u8>(facts, 8);
  const secondBits = <u32>load<u8>(facts, 9);
  let at = mode + 1;
  const partition = bitsOf(low, high, at, partitionBits);
  at += partitionBits;
  const rotation = bitsOf(low, high, at, rotationBits);
  at += rotationBits;
  const selector = bitsOf(low, high, at, selectorBits);
  at += selectorBits;
  const ends = count * 2;
  for (let c: u32 = 0; c < 3; c++)
    for (let e: u32 = 0; e < ends; e++) {
      store<u8>(ENDS + e * 4 + c, bitsOf(low, high, at, colourBits));
      at += colourBits;
    }
  for (let e: u32 = 0; e < ends; e++) {
    store<u8>(ENDS + e * 4, alphaBits > 0 ? bitsOf(low, high, at, alphaBits) : 255, 3);
    at += alphaBits;
  }
  const withP = ownP + sharedP;
  for (let e: u32 = 0; e < ends; e++) {
    const p = withP > 0 ? bitsOf(low, high, at + (sharedP ? e >> 1 : e), 1) : 0;
    for (let c: u32 = 0; c < 4; c++) {
      const bits = c < 3 ? colourBits : alphaBits;
      if (bits === 0) continue;
      let value = <u32>load<u8>(ENDS + e * 4 + c);
      if (withP > 0) value = (value << 1) | p;
      const total = bits + withP;
      value <<= 8 - total;
      store<u8>(ENDS + e * 4 + c, value | (value >> total));
    }
  }
  at += ownP ? ends : sharedP ? count : 0;
  // Where alpha has an index of its own, the selector says which of the two is the finer one.
  if (secondBits > 0) {
    const second = at + 15 + (indexBits - 1) * 16;
    decodeTwo(low, high, at, indexBits, second, secondBits, selector !== 0, rotation, to, stride);
    return;
  }
  const weights = weightsFor(indexBits);
  const steps = 1 << indexBits;
  for (let s: u32 = 0; s < count; s++) {
    const a = load<u32>(ENDS + s * 8);
    const b = load<u32>(ENDS + s * 8, 4);
    for (let k = 0; k < steps; k++) {
      const w = <u32>load<u8>(weights + k);
      store<u32>(
        COLOURS + s * 64 + (k << 2),
        mix(a & 255, b & 255, w) |
          (mix((a >> 8) & 255, (b >> 8) & 255, w) << 8) |
          (mix((a >> 16) & 255, (b >> 16) & 255, w) << 16) |
          (mix(a >> 24, b >> 24, w) << 24),
      );
    }
  }
  for (let i: u32 = 0; i < 16; i++) {
    const bits = indexBits - <u32>isAnchor(count, partition, i);
    const index = bitsOf(low, high, at, bits);
    at += bits;
    const colour = load<u32>(COLOURS + subsetOf(count, partition, i) * 64 + (index << 2));
    store<u32>(to + <usize>(i >> 2) * stride + ((i & 3) << 2), colour);
  }
}

function decodeTwo(
  low: u64,
  high: u64,
  at: u32,
  indexBits: u32,
  second: u32,
  secondBits: u32,
  isSwapped: bool,
  rotation: u32,
  to: usize,
  stride: usize,
): void {
  const a = load<u32>(ENDS);
  const b = load<u32>(ENDS, 4);
  for (let i: u32 = 0; i < 16; i++) {
    const anchor = <u32>(i === 0);
    const one = bitsOf(low, high, at, indexBits - anchor);
    at += indexBits - anchor;
    const other = bitsOf(low, high, second, secondBits - anchor);
    second += secondBits - anchor;
    const first = <u32>load<u8>(weightsFor(indexBits) + one);
    const last = <u32>load<u8>(weightsFor(secondBits) + other);
    const colour = isSwapped ? last : first;
    let red = mix(a & 255, b & 255, colour);
    let green = mix((a >> 8) & 255, (b >> 8) & 255, colour);
    let blue = mix((a >> 16) & 255, (b >> 16) & 255, colour);
    let alpha = mix(a >> 24, b >> 24, isSwapped ? first : last);
    const kept = alpha;
    if (rotation === 1) {
      alpha = red;
      red = kept;
    } else if (rotation === 2) {
      alpha = green;
      green = kept;
    } else if (rotation === 3) {
      alpha = blue;
      blue = kept;
    }
    store<u32>(
      to + <usize>(i >> 2) * stride + ((i & 3) << 2),
      red | (green << 8) | (blue << 16) | (alpha << 24),
    );
  }
}
