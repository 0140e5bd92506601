/** BC1 to BC5 (Khronos Data Format Specification, 18 and 19). Each writes rows of `stride` bytes, four bytes a texel. */

const PALETTE: usize = memory.data(16);
const STEPS: usize = memory.data(8);

function expand(word: u32): u32 {
  const r = word >> 11;
  const g = (word >> 5) & 63;
  const b = word & 31;
  return (r << 3) | (r >> 2) | (((g << 2) | (g >> 4)) << 8) | (((b << 3) | (b >> 2)) << 16);
}

function mix3(a: u32, b: u32): u32 {
  const r = (2 * (a & 255) + (b & 255) + 1) / 3;
  const g = (2 * ((a >> 8) & 255) + ((b >> 8) & 255) + 1) / 3;
  const c = (2 * (a >> 16) + (b >> 16) + 1) / 3;
  return r | (g << 8) | (c << 16);
}

function mix2(a: u32, b: u32): u32 {
  // The mean of each byte without a carry into the next one.
  return (a & b) + (((a ^ b) & 0x00fefefe) >> 1);
}

/** Four colours of a block. With `fourOnly` the order of the ends does not matter (BC2, BC3). */
export function colours(first: u32, second: u32, fourOnly: bool, to: usize): void {
  const a = expand(first);
  const b = expand(second);
  store<u32>(to, a | 0xff000000);
  store<u32>(to, b | 0xff000000, 4);
  if (fourOnly || first > second) {
    store<u32>(to, mix3(a, b) | 0xff000000, 8);
    store<u32>(to, mix3(b, a) | 0xff000000, 12);
  } else {
    store<u32>(to, mix2(a, b) | 0xff000000, 8);
    store<u32>(to, 0, 12);
  }
}

/** For each byte of picks, which byte of the palette each byte of a row of four texels comes from. */
const ROWS: usize = memory.data(256 * 16);
const ALPHA_BYTES = i32x4.splat(0xff000000);

export function prepareRows(): void {
  for (let picks = 0; picks < 256; picks++)
    for (let b = 0; b < 16; b++)
      store<u8>(ROWS + (picks << 4) + b, (((picks >> ((b >> 2) << 1)) & 3) << 2) | (b & 3));
}

function rowOf(palette: v128, picks: u32): v128 {
  return i8x16.swizzle(palette, v128.load(ROWS + <usize>((picks & 255) << 4)));
}

export function decodeColour(from: usize, to: usize, stride: usize, fourOnly: bool): void {
  const ends = load<u32>(from);
  colours(ends & 0xffff, ends >> 16, fourOnly, PALETTE);
  const palette = v128.load(PALETTE);
  const picks = load<u32>(from, 4);
  v128.store(to, rowOf(palette, picks));
  v128.store(to + stride, rowOf(palette, picks >> 8));
  v128.store(to + 2 * stride, rowOf(palette, picks >> 16));
  v128.store(to + 3 * stride, rowOf(palette, picks >> 24));
}

/** Four values, one a byte, as the alpha of four texels. */
function asAlpha(values: v128): v128 {
  return i8x16.swizzle(values, i8x16(-1, -1, -1, 0, -1, -1, -1, 1, -1, -1, -1, 2, -1, -1, -1, 3));
}

function withAlpha(row: v128, alpha: v128): v128 {
  return v128.or(v128.andnot(row, ALPHA_BYTES), alpha);
}

/** Twelve bits of picks, three for each of four texels, as a byte each. */
function spreadPicks(bits: u32): v128 {
  return i32x4.splat(
    (bits & 7) | ((bits << 5) & 0x700) | ((bits << 10) & 0x70000) | ((bits << 15) & 0x7000000),
  );
}

/** BC3: colour, and alpha in steps between two ends. */
export function decodeSmoothAlpha(from: usize, to: usize, stride: usize): void {
  const ends = load<u32>(from, 8);
  colours(ends & 0xffff, ends >> 16, true, PALETTE);
  const palette = v128.load(PALETTE);
  let picks = load<u32>(from, 12);
  steps(load<u8>(from), load<u8>(from, 1), STEPS);
  const values = v128.load64_zero(STEPS);
  let alphas = load<u64>(from) >> 16;
  for (let y = 0; y < 4; y++) {
    const alpha = asAlpha(i8x16.swizzle(values, spreadPicks(<u32>alphas)));
    v128.store(to, withAlpha(rowOf(palette, picks), alpha));
    picks >>= 8;
    alphas >>= 12;
    to += stride;
  }
}

/** BC2: alpha in four bits each. */
export function decodeSharpAlpha(from: usize, to: usize, stride: usize): void {
  for (let y = 0; y < 4; y++) {
    const row = <u32>load<u16>(from + (y << 1));
    for (let x = 0; x < 4; x++) store<u8>(to + (x << 2), ((row >> (x << 2)) & 15) * 17, 3);
    to += stride;
  }
}

/** The eight values of a channel's block, the ends first. */
export function steps(first: i32, second: i32, to: usize): void {
  store<u8>(to, first);
  store<u8>(to, second, 1);
  if (first > second)
    for (let k = 1; k < 7; k++) store<u8>(to + k, (first * (7 - k) + second * k + 3) / 7, 1);
  else {
    for (let k = 1; k < 5; k++) store<u8>(to + k, (first * (5 - k) + second * k + 2) / 5, 1);
    store<u8>(to, 0, 6);
    store<u8>(to, 255, 7);
  }
}

function unsigned(value: i32): i32 {
  // -127 to 127 over 0 to 255; -128 is the same as -127.
  return ((max(value, -127) + 127) * 255 + 127) / 254;
}

/** As `steps`, of values from -127 to 127, which come out spread over 0 to 255. */
function signedSteps(first: i32, second: i32, to: usize): void {
  store<u8>(to, unsigned(first));
  store<u8>(to, unsigned(second), 1);
  const count = first > second ? 7 : 5;
  for (let k = 1; k < count; k++) {
    const sum = <f32>(max(first, -127) * (count - k) + max(second, -127) * k) / <f32>count;
    store<u8>(to + k, <u8>nearest<f32>(((sum + 127) * 255) / 254), 1);
  }
  if (count === 5) {
    store<u8>(to, 0, 6);
    store<u8>(to, 255, 7);
  }
}

/** One channel of a block into every fourth byte from `to` on. */
export function decodeChannel(from: usize, to: usize, stride: usize, isSigned: bool): void {
  if (isSigned) signedSteps(load<i8>(from), load<i8>(from, 1), STEPS);
  else steps(load<u8>(from), load<u8>(from, 1), STEPS);
  let picks = load<u64>(from) >> 16;
  for (let y = 0; y < 4; y++) {
    store<u8>(to, load<u8>(STEPS + <usize>(picks & 7)));
    store<u8>(to, load<u8>(STEPS + <usize>((picks >> 3) & 7)), 4);
    store<u8>(to, load<u8>(STEPS + <usize>((picks >> 6) & 7)), 8);
    store<u8>(to, load<u8>(STEPS + <usize>((picks >> 9) & 7)), 12);
    picks >>= 12;
    to += stride;
  }
}

/** Fills a block: grey from red with `isGrey`, otherwise no blue; opaque. */
export function spreadChannels(to: usize, stride: usize, isGrey: bool): void {
  for (let y = 0; y < 4; y++) {
    for (let x = 0; x < 4; x++) {
      const spot = to + (x << 2);
      const red = <u32>load<u8>(spot);
      store<u32>(spot, (isGrey ? red | (red << 8) | (red << 16) : load<u32>(spot) & 0xffff) | 0xff000000);
    }
    to += stride;
  }
}
