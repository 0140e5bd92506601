import { FIELDS6, MODE6, ROW6 } from './bc6h-tables';
import { bitsOf } from './bits';
import { isAnchor, subsetOf, weightsFor } from './bc7-decode';

const ENDS: usize = memory.data(4 * 4 * 4);
const ONE: u64 = 0x3c00;

function extend(value: i32, bits: i32): i32 {
  return (value << (32 - bits)) >> (32 - bits);
}

/** An end of so many bits as one of sixteen (17 with its sign). */
function widen(value: i32, bits: i32, isSigned: bool): i32 {
  if (!isSigned) {
    if (bits >= 15 || value === 0) return value;
    if (value === (1 << bits) - 1) return 0xffff;
    return ((value << 16) + 0x8000) >> bits;
  }
  if (bits >= 16) return value;
  const size = abs(value);
  if (size === 0) return 0;
  const wide = size >= (1 << (bits - 1)) - 1 ? 0x7fff : ((size << 15) + 0x4000) >> (bits - 1);
  return value < 0 ? -wide : wide;
}

/** The bits of a half float. */
function half(value: i32, isSigned: bool): u64 {
  if (!isSigned) return <u64>((value * 31) >> 6);
  return <u64>(value < 0 ? 0x8000 | ((-value * 31) >> 5) : (value * 31) >> 5);
}

/** One block of BC6H (Khronos Data Format Specification, 20.2) as four half floats a texel; a reserved mode is black. */
export function decodeBc6h(from: usize, to: usize, stride: usize, isSigned: bool): void {
  const low = load<u64>(from);
  const high = load<u64>(from, 8);
  const row = <u32>load<u8>(ROW6 + <usize>(low & 31));
  if (row === 255) {
    for (let i: u32 = 0; i < 16; i++) store<u64>(to + <usize>(i >> 2) * stride + ((i & 3) << 3), ONE << 48);
    return;
  }
  const facts = MODE6 + (row << 3);
  const endBits = <i32>load<u8>(facts);
  const indexBits = <u32>load<u8>(facts, 1);
  const isDelta = load<u8>(facts, 2) !== 0;
  memory.fill(ENDS, 0, 64);
  let at: u32 = row < 2 ? 2 : 5;
  let field = FIELDS6 + ((<u32>load<u8>(facts, 6)) << 2);
  for (let left = <u32>load<u8>(facts, 7); left > 0; left--, field += 4) {
    const bits = <u32>load<u8>(field, 2);
    let value = bitsOf(low, high, at, bits);
    at += bits;
    if (load<u8>(field, 3)) {
      let turned: u32 = 0;
      for (let b: u32 = 0; b < bits; b++) turned |= ((value >> b) & 1) << (bits - 1 - b);
      value = turned;
    }
    const spot = ENDS + ((<usize>load<u8>(field)) << 2);
    store<u32>(spot, load<u32>(spot) | (value << (<u32>load<u8>(field, 1))));
  }
  const count: u32 = indexBits === 3 ? 2 : 1;
  let partition: u32 = 0;
  if (count === 2) {
    partition = bitsOf(low, high, at, 5);
    at += 5;
  }
  for (let c = 0; c < 3; c++) {
    const base = ENDS + (c << 2);
    let first = load<i32>(base);
    if (isSigned) first = extend(first, endBits);
    for (let e: u32 = 1; e < count * 2; e++) {
      let value = load<i32>(base + (e << 4));
      if (isDelta) {
        value = (first + extend(value, <i32>load<u8>(facts + c, 3))) & ((1 << endBits) - 1);
        if (isSigned) value = extend(value, endBits);
      } else if (isSigned) value = extend(value, endBits);
      store<i32>(base + (e << 4), widen(value, endBits, isSigned));
    }
    store<i32>(base, widen(first, endBits, isSigned));
  }
  const weights = weightsFor(indexBits);
  for (let i: u32 = 0; i < 16; i++) {
    const bits = indexBits - <u32>isAnchor(count, partition, i);
    const share = <i32>load<u8>(weights + bitsOf(low, high, at, bits));
    at += bits;
    const pair = ENDS + (subsetOf(count, partition, i) << 5);
    let texel: u64 = ONE << 48;
    for (let c = 0; c < 3; c++) {
      const a = load<i32>(pair + (c << 2));
      const b = load<i32>(pair + (c << 2), 16);
      texel |= half(((64 - share) * a + share * b + 32) >> 6, isSigned) << (c << 4);
    }
    store<u64>(to + <usize>(i >> 2) * stride + ((i & 3) << 3), texel);
  }
}
