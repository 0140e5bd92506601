/** A block's sixteen texels as floats, one channel after the other: 64 bytes each of red, green, blue and alpha. */
export const PLANES: usize = memory.data(256);

export function plane(channel: u32, i: u32): f32 {
  return load<f32>(PLANES + (channel << 6) + (i << 2));
}

/** Takes a block apart. */
export function loadPlanes(from: usize, stride: usize): void {
  const byte = i32x4.splat(255);
  for (let y = 0; y < 4; y++) {
    const row = v128.load(from);
    const to = PLANES + (y << 4);
    v128.store(to, f32x4.convert_i32x4_u(v128.and(row, byte)));
    v128.store(to, f32x4.convert_i32x4_u(v128.and(i32x4.shr_u(row, 8), byte)), 64);
    v128.store(to, f32x4.convert_i32x4_u(v128.and(i32x4.shr_u(row, 16), byte)), 128);
    v128.store(to, f32x4.convert_i32x4_u(i32x4.shr_u(row, 24)), 192);
    from += stride;
  }
}

/** Sum of four lanes. */
export function sum4(v: v128): f32 {
  const pairs = f32x4.add(v, v128.shuffle<f32>(v, v, 2, 3, 0, 1));
  return f32x4.extract_lane(pairs, 0) + f32x4.extract_lane(pairs, 1);
}

export function clampF(value: f32, low: f32, high: f32): f32 {
  return min<f32>(max<f32>(value, low), high);
}
