import { PARTITION2, PARTITION3 } from './bc7-tables';
import { plane } from './planes';

/**
 * Which ways to share a block out are worth fitting: those that leave the least spread beside the main axis of each
 * share. Sums of products are kept for each texel, so that a share costs three additions a texel.
 */

/** Of each texel: r g b a, then rr rg rb gg, then gb bb ra ga, then ba aa. */
const PRODUCTS: usize = memory.data(16 * 64);
const TOTAL: usize = memory.data(64);
const PART: usize = memory.data(64);
const REST: usize = memory.data(64);
export const RANKED: usize = memory.data(64);
const SCORES: usize = memory.data(64 * 4);

export function prepareProducts(): void {
  memory.fill(TOTAL, 0, 64);
  for (let i: u32 = 0; i < 16; i++) {
    const to = PRODUCTS + (i << 6);
    const r = plane(0, i);
    const g = plane(1, i);
    const b = plane(2, i);
    const a = plane(3, i);
    v128.store(to, f32x4(r, g, b, a));
    v128.store(to, f32x4(r * r, r * g, r * b, g * g), 16);
    v128.store(to, f32x4(g * b, b * b, r * a, g * a), 32);
    v128.store(to, f32x4(b * a, a * a, 1, 0), 48);
    for (let n = 0; n < 64; n += 16)
      v128.store(TOTAL + n, f32x4.add(v128.load(TOTAL + n), v128.load(to + n)));
  }
}

function at(sums: usize, n: u32): f32 {
  return load<f32>(sums + (n << 2));
}

/** Spread of a share beside its main axis. */
function leftOver(sums: usize, withAlpha: bool): f32 {
  const n = at(sums, 14);
  if (n < 2) return 0;
  const k: f32 = 1 / n;
  const r = at(sums, 0);
  const g = at(sums, 1);
  const b = at(sums, 2);
  const a = at(sums, 3);
  const rr = at(sums, 4) - r * r * k;
  const rg = at(sums, 5) - r * g * k;
  const rb = at(sums, 6) - r * b * k;
  const gg = at(sums, 7) - g * g * k;
  const gb = at(sums, 8) - g * b * k;
  const bb = at(sums, 9) - b * b * k;
  let trace = rr + gg + bb;
  let x: f32 = rr >= gg && rr >= bb ? rr : gg >= bb ? rg : rb;
  let y: f32 = rr >= gg && rr >= bb ? rg : gg >= bb ? gg : gb;
  let z: f32 = rr >= gg && rr >= bb ? rb : gg >= bb ? gb : bb;
  if (withAlpha) {
    const ra = at(sums, 10) - r * a * k;
    const ga = at(sums, 11) - g * a * k;
    const ba = at(sums, 12) - b * a * k;
    const aa = at(sums, 13) - a * a * k;
    trace += aa;
    if (trace < 1) return 0;
    let w: f32 = 0;
    if (aa >= rr && aa >= gg && aa >= bb) {
      x = ra;
      y = ga;
      z = ba;
      w = aa;
    } else w = rr >= gg && rr >= bb ? ra : gg >= bb ? ga : ba;
    let most: f32 = 0;
    for (let round = 0; round < 3; round++) {
      const nx = rr * x + rg * y + rb * z + ra * w;
      const ny = rg * x + gg * y + gb * z + ga * w;
      const nz = rb * x + gb * y + bb * z + ba * w;
      const nw = ra * x + ga * y + ba * z + aa * w;
      most = nx * nx + ny * ny + nz * nz + nw * nw;
      const before = x * x + y * y + z * z + w * w;
      if (before < 1e-12) return trace;
      const scale: f32 = 1 / sqrt<f32>(max<f32>(most, 1e-12));
      most = sqrt<f32>(most / before);
      x = nx * scale;
      y = ny * scale;
      z = nz * scale;
      w = nw * scale;
    }
    return max<f32>(0, trace - most);
  }
  if (trace < 1) return 0;
  let most: f32 = 0;
  for (let round = 0; round < 3; round++) {
    const nx = rr * x + rg * y + rb * z;
    const ny = rg * x + gg * y + gb * z;
    const nz = rb * x + gb * y + bb * z;
    const before = x * x + y * y + z * z;
    if (before < 1e-12) return trace;
    most = nx * nx + ny * ny + nz * nz;
    const scale: f32 = 1 / sqrt<f32>(max<f32>(most, 1e-12));
    most = sqrt<f32>(most / before);
    x = nx * scale;
    y = ny * scale;
    z = nz * scale;
  }
  return max<f32>(0, trace - most);
}

function sumOf(mask: u32, to: usize): void {
  let a = f32x4.splat(0);
  let b = f32x4.splat(0);
  let c = f32x4.splat(0);
  let d = f32x4.splat(0);
  while (mask) {
    const from = PRODUCTS + (ctz(mask) << 6);
    mask &= mask - 1;
    a = f32x4.add(a, v128.load(from));
    b = f32x4.add(b, v128.load(from, 16));
    c = f32x4.add(c, v128.load(from, 32));
    d = f32x4.add(d, v128.load(from, 48));
  }
  v128.store(to, a);
  v128.store(to, b, 16);
  v128.store(to, c, 32);
  v128.store(to, d, 48);
}

function without(from: usize, part: usize, to: usize): void {
  for (let n = 0; n < 64; n += 16) v128.store(to + n, f32x4.sub(v128.load(from + n), v128.load(part + n)));
}

/** The texels of one of three shares. */
export function maskOf3(partition: u32, share: u32): u32 {
  const packed = load<u32>(PARTITION3 + (partition << 2));
  let mask: u32 = 0;
  for (let i: u32 = 0; i < 16; i++) mask |= (<u32>(((packed >> (i << 1)) & 3) === share)) << i;
  return mask;
}

export function maskOf2(partition: u32): u32 {
  return <u32>load<u16>(PARTITION2 + (partition << 1));
}

/** Ranks the first `count` ways to share a block out into two or three; the best `wanted` are left in RANKED. */
export function rank(shares: u32, count: u32, wanted: u32, withAlpha: bool): void {
  for (let p: u32 = 0; p < count; p++) {
    let score: f32;
    if (shares === 2) {
      sumOf(maskOf2(p), PART);
      without(TOTAL, PART, REST);
      score = leftOver(PART, withAlpha) + leftOver(REST, withAlpha);
    } else {
      sumOf(maskOf3(p, 1), PART);
      without(TOTAL, PART, REST);
      score = leftOver(PART, withAlpha);
      sumOf(maskOf3(p, 2), PART);
      score += leftOver(PART, withAlpha);
      without(REST, PART, REST);
      score += leftOver(REST, withAlpha);
    }
    store<f32>(SCORES + (p << 2), score);
  }
  for (let n: u32 = 0; n < wanted; n++) {
    let best: u32 = 0;
    for (let p: u32 = 1; p < count; p++)
      if (load<f32>(SCORES + (p << 2)) < load<f32>(SCORES + (best << 2))) best = p;
    store<u8>(RANKED + n, best);
    store<f32>(SCORES + (best << 2), Infinity);
  }
}
