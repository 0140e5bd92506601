import { colours, steps } from './bc1-decode';
import { clampF, PLANES, plane, sum4 } from './planes';

/**
 * BC1 and the colour half of BC3: the ends are laid along the axis of greatest spread, then fitted to the chosen steps
 * by least squares, then each of their six numbers is moved by one as long as that helps.
 */

/** For each value of eight bits the pair of ends whose step at a third comes nearest to it: of 5 bits, of 6 bits. */
const FLAT5: usize = memory.data(512);
const FLAT6: usize = memory.data(512);
/** Weights of the texels: 1, or 0 for those that are transparent. */
const WEIGHTS: usize = memory.data(64);
const PALETTE: usize = memory.data(16);
const AXIS: usize = memory.data(16);
const MEAN: usize = memory.data(16);

let first: u32 = 0;
let second: u32 = 0;
let picks: u32 = 0;
let bestFirst: u32 = 0;
let bestSecond: u32 = 0;
let bestPicks: u32 = 0;

function fillFlat(table: usize, bits: u32): void {
  const top = (1 << bits) - 1;
  for (let value = 0; value < 256; value++) {
    let least = i32.MAX_VALUE;
    for (let a = 0; a <= top; a++)
      for (let b = 0; b <= top; b++) {
        const wideA = bits === 5 ? (a << 3) | (a >> 2) : (a << 2) | (a >> 4);
        const wideB = bits === 5 ? (b << 3) | (b >> 2) : (b << 2) | (b >> 4);
        // Ends far apart differ more between decoders.
        const error = abs((2 * wideA + wideB + 1) / 3 - value) * 1024 + abs(wideA - wideB);
        if (error >= least) continue;
        least = error;
        store<u8>(table + (value << 1), a);
        store<u8>(table + (value << 1), b, 1);
      }
  }
}

export function prepareFlat(): void {
  fillFlat(FLAT5, 5);
  fillFlat(FLAT6, 6);
}

function quantise(value: f32, top: f32): u32 {
  return <u32>nearest<f32>((clampF(value, 0, 255) * top) / 255);
}

function pack(r: f32, g: f32, b: f32): u32 {
  return (quantise(r, 31) << 11) | (quantise(g, 63) << 5) | quantise(b, 31);
}

/** Picks the nearest colour for every texel; `count` is 4, or 3 for blocks with a hole. Gives the squared error. */
function tryEnds(one: u32, other: u32, count: i32): f32 {
  first = one;
  second = other;
  colours(one, other, count === 4, PALETTE);
  let error = f32x4.splat(0);
  picks = 0;
  for (let group = 0; group < 4; group++) {
    const at = PLANES + (group << 4);
    const r = v128.load(at);
    const g = v128.load(at, 64);
    const b = v128.load(at, 128);
    let least = f32x4.splat(Infinity);
    let choice = i32x4.splat(0);
    for (let k = 0; k < count; k++) {
      const entry = PALETTE + (k << 2);
      const dr = f32x4.sub(r, f32x4.splat(<f32>load<u8>(entry)));
      const dg = f32x4.sub(g, f32x4.splat(<f32>load<u8>(entry, 1)));
      const db = f32x4.sub(b, f32x4.splat(<f32>load<u8>(entry, 2)));
      const far = f32x4.add(f32x4.add(f32x4.mul(dr, dr), f32x4.mul(dg, dg)), f32x4.mul(db, db));
      const nearer = f32x4.lt(far, least);
      least = f32x4.min(far, least);
      choice = v128.bitselect(i32x4.splat(k), choice, nearer);
    }
    error = f32x4.add(error, f32x4.mul(least, v128.load(WEIGHTS + (group << 4))));
    picks |=
      (i32x4.extract_lane(choice, 0) |
        (i32x4.extract_lane(choice, 1) << 2) |
        (i32x4.extract_lane(choice, 2) << 4) |
        (i32x4.extract_lane(choice, 3) << 6)) <<
      (group << 3);
  }
  return sum4(error);
}

function keep(): void {
  bestFirst = first;
  bestSecond = second;
  bestPicks = picks;
}

/** Mean and axis of greatest spread of the weighed texels; false where all are the same. */
function spread(): bool {
  let n = f32x4.splat(0);
  let sr = f32x4.splat(0);
  let sg = f32x4.splat(0);
  let sb = f32x4.splat(0);
  for (let group = 0; group < 4; group++) {
    const at = PLANES + (group << 4);
    const w = v128.load(WEIGHTS + (group << 4));
    n = f32x4.add(n, w);
    sr = f32x4.add(sr, f32x4.mul(w, v128.load(at)));
    sg = f32x4.add(sg, f32x4.mul(w, v128.load(at, 64)));
    sb = f32x4.add(sb, f32x4.mul(w, v128.load(at, 128)));
  }
  const count = max<f32>(sum4(n), 1);
  const mr = sum4(sr) / count;
  const mg = sum4(sg) / count;
  const mb = sum4(sb) / count;
  store<f32>(MEAN, mr);
  store<f32>(MEAN, mg, 4);
  store<f32>(MEAN, mb, 8);
  let rr = f32x4.splat(0);
  let rg = f32x4.splat(0);
  let rb = f32x4.splat(0);
  let gg = f32x4.splat(0);
  let gb = f32x4.splat(0);
  let bb = f32x4.splat(0);
  for (let group = 0; group < 4; group++) {
    const at = PLANES + (group << 4);
    const w = v128.load(WEIGHTS + (group << 4));
    const r = f32x4.mul(w, f32x4.sub(v128.load(at), f32x4.splat(mr)));
    const g = f32x4.mul(w, f32x4.sub(v128.load(at, 64), f32x4.splat(mg)));
    const b = f32x4.mul(w, f32x4.sub(v128.load(at, 128), f32x4.splat(mb)));
    rr = f32x4.add(rr, f32x4.mul(r, r));
    rg = f32x4.add(rg, f32x4.mul(r, g));
    rb = f32x4.add(rb, f32x4.mul(r, b));
    gg = f32x4.add(gg, f32x4.mul(g, g));
    gb = f32x4.add(gb, f32x4.mul(g, b));
    bb = f32x4.add(bb, f32x4.mul(b, b));
  }
  const crr = sum4(rr);
  const crg = sum4(rg);
  const crb = sum4(rb);
  const cgg = sum4(gg);
  const cgb = sum4(gb);
  const cbb = sum4(bb);
  if (crr + cgg + cbb < 0.5) return false;
  // The row of the channel that varies most is a good beginning.
  let x: f32 = crr;
  let y: f32 = crg;
  let z: f32 = crb;
  if (cgg >= crr && cgg >= cbb) {
    x = crg;
    y = cgg;
    z = cgb;
  } else if (cbb >= crr && cbb >= cgg) {
    x = crb;
    y = cgb;
    z = cbb;
  }
  for (let round = 0; round < 6; round++) {
    const nx = crr * x + crg * y + crb * z;
    const ny = crg * x + cgg * y + cgb * z;
    const nz = crb * x + cgb * y + cbb * z;
    const scale: f32 = 1 / max<f32>(max<f32>(abs<f32>(nx), abs<f32>(ny)), max<f32>(abs<f32>(nz), 1e-20));
    x = nx * scale;
    y = ny * scale;
    z = nz * scale;
  }
  const length = sqrt<f32>(x * x + y * y + z * z);
  store<f32>(AXIS, x / length);
  store<f32>(AXIS, y / length, 4);
  store<f32>(AXIS, z / length, 8);
  return true;
}

/** Ends where the weighed texels reach furthest along the axis. */
function outermost(count: i32): f32 {
  const ax = load<f32>(AXIS);
  const ay = load<f32>(AXIS, 4);
  const az = load<f32>(AXIS, 8);
  const mr = load<f32>(MEAN);
  const mg = load<f32>(MEAN, 4);
  const mb = load<f32>(MEAN, 8);
  let low: f32 = 0;
  let high: f32 = 0;
  for (let i = 0; i < 16; i++) {
    if (load<f32>(WEIGHTS + (i << 2)) === 0) continue;
    const along = (plane(0, i) - mr) * ax + (plane(1, i) - mg) * ay + (plane(2, i) - mb) * az;
    low = min<f32>(low, along);
    high = max<f32>(high, along);
  }
  return ordered(
    pack(mr + ax * high, mg + ay * high, mb + az * high),
    pack(mr + ax * low, mg + ay * low, mb + az * low),
    count,
  );
}

/** The order of the ends says whether a block has four colours or three. */
function ordered(one: u32, other: u32, count: i32): f32 {
  const isFirst = count === 4 ? one >= other : one <= other;
  return isFirst ? tryEnds(one, other, count) : tryEnds(other, one, count);
}

/** Ends fitted to the picks that are best so far; the error, or infinity where they do not determine ends. */
function refit(count: i32): f32 {
  let aa: f32 = 0;
  let ab: f32 = 0;
  let bb: f32 = 0;
  let ar: f32 = 0;
  let ag: f32 = 0;
  let ac: f32 = 0;
  let br: f32 = 0;
  let bg: f32 = 0;
  let bc: f32 = 0;
  for (let i = 0; i < 16; i++) {
    const w = load<f32>(WEIGHTS + (i << 2));
    const pick = (bestPicks >> (i << 1)) & 3;
    const share: f32 =
      pick === 0 ? 1 : pick === 1 ? 0 : count === 3 ? 0.5 : pick === 2 ? 2.0 / 3.0 : 1.0 / 3.0;
    const a = share * w;
    const b: f32 = (<f32>1 - share) * w;
    aa += a * a;
    ab += a * b;
    bb += b * b;
    const r = plane(0, i);
    const g = plane(1, i);
    const c = plane(2, i);
    ar += a * r;
    ag += a * g;
    ac += a * c;
    br += b * r;
    bg += b * g;
    bc += b * c;
  }
  const determinant = aa * bb - ab * ab;
  if (abs<f32>(determinant) < 1e-4) return Infinity;
  const k: f32 = 1 / determinant;
  return ordered(
    pack((ar * bb - br * ab) * k, (ag * bb - bg * ab) * k, (ac * bb - bc * ab) * k),
    pack((br * aa - ar * ab) * k, (bg * aa - ag * ab) * k, (bc * aa - ac * ab) * k),
    count,
  );
}

function stepped(word: u32, part: i32, by: i32): u32 {
  const shift = part === 0 ? 11 : part === 1 ? 5 : 0;
  const top: i32 = part === 1 ? 63 : 31;
  const value = ((<i32>(word >> shift)) & top) + by;
  if (value < 0 || value > top) return word;
  return (word & ~((<u32>top) << shift)) | ((<u32>value) << shift);
}

/** Moves each number of the ends by one as long as that helps. */
function polish(error: f32, count: i32, sweeps: i32): f32 {
  for (let sweep = 0; sweep < sweeps; sweep++) {
    const before = error;
    for (let part = 0; part < 6; part++)
      for (let by = -1; by <= 1; by += 2) {
        const one = part < 3 ? stepped(bestFirst, part, by) : bestFirst;
        const other = part < 3 ? bestSecond : stepped(bestSecond, part - 3, by);
        if (one === bestFirst && other === bestSecond) continue;
        if (count === 4 ? one < other : one > other) continue;
        const next = tryEnds(one, other, count);
        if (next >= error) continue;
        error = next;
        keep();
      }
    if (error === before || error === 0) break;
  }
  return error;
}

/** The colour of a block whose planes are loaded. With `punch`, texels of low alpha become a hole. */
export function encodeColour(to: usize, punch: bool, quality: i32): void {
  let holes: u32 = 0;
  for (let i: u32 = 0; i < 16; i++) {
    const isHole = punch && plane(3, i) < 128;
    holes |= (<u32>isHole) << i;
    store<f32>(WEIGHTS + (i << 2), isHole ? 0 : 1);
  }
  const count = holes ? 3 : 4;
  if (holes === 0xffff) {
    store<u32>(to, 0);
    store<u32>(to, 0xffffffff, 4);
    return;
  }
  if (!spread() && count === 4) {
    writeFlat(to);
    return;
  }
  let error = outermost(count);
  keep();
  const rounds = quality === 0 ? 1 : quality === 1 ? 2 : 4;
  for (let round = 0; round < rounds && error > 0; round++) {
    const next = refit(count);
    if (next >= error) break;
    error = next;
    keep();
  }
  if (quality === 2 && error > 0) error = polish(error, count, 4);
  for (let i: u32 = 0; i < 16; i++) if ((holes >> i) & 1) bestPicks |= 3 << (i << 1);
  // Equal ends mean three colours in BC1; only the first is then safe to pick.
  if (count === 4 && bestFirst === bestSecond) bestPicks = 0;
  store<u16>(to, bestFirst);
  store<u16>(to, bestSecond, 2);
  store<u32>(to, bestPicks, 4);
}

/** One colour: the ends whose step at a third is nearest to it. */
function writeFlat(to: usize): void {
  const r = FLAT5 + ((<usize>nearest<f32>(load<f32>(MEAN))) << 1);
  const g = FLAT6 + ((<usize>nearest<f32>(load<f32>(MEAN, 4))) << 1);
  const b = FLAT5 + ((<usize>nearest<f32>(load<f32>(MEAN, 8))) << 1);
  const one = ((<u32>load<u8>(r)) << 11) | ((<u32>load<u8>(g)) << 5) | (<u32>load<u8>(b));
  const other = ((<u32>load<u8>(r, 1)) << 11) | ((<u32>load<u8>(g, 1)) << 5) | (<u32>load<u8>(b, 1));
  store<u16>(to, max(one, other));
  store<u16>(to, min(one, other), 2);
  store<u32>(to, one === other ? 0 : one > other ? 0xaaaaaaaa : 0xffffffff, 4);
}

const STEPS: usize = memory.data(8);
let channelPicks: u64 = 0;

function tryChannel(channel: u32, one: i32, other: i32): f32 {
  steps(one, other, STEPS);
  let error: f32 = 0;
  channelPicks = 0;
  for (let i: u32 = 0; i < 16; i++) {
    const value = plane(channel, i);
    let least: f32 = Infinity;
    let pick: u64 = 0;
    for (let k = 0; k < 8; k++) {
      const far = abs<f32>(value - <f32>load<u8>(STEPS + k));
      if (far < least) {
        least = far;
        pick = k;
      }
    }
    channelPicks |= pick << (i * 3);
    error += least * least;
  }
  return error;
}

/** One channel of a block whose planes are loaded, into eight bytes (BC4, the halves of BC5, the alpha of BC3). */
export function encodeChannel(channel: u32, to: usize, quality: i32): void {
  let low: f32 = 255;
  let high: f32 = 0;
  let innerLow: f32 = 255;
  let innerHigh: f32 = 0;
  for (let i: u32 = 0; i < 16; i++) {
    const value = plane(channel, i);
    low = min<f32>(low, value);
    high = max<f32>(high, value);
    if (value > 0 && value < 255) {
      innerLow = min<f32>(innerLow, value);
      innerHigh = max<f32>(innerHigh, value);
    }
  }
  if (low === high) {
    store<u64>(to, (<u64>low) | ((<u64>low) << 8));
    return;
  }
  let one = <i32>high;
  let other = <i32>low;
  let error = tryChannel(channel, one, other);
  let kept = channelPicks;
  // Six steps and both extremes, where the extremes are there.
  if (quality > 0 && error > 0 && (low === 0 || high === 255)) {
    const from: i32 = innerLow <= innerHigh ? <i32>innerLow : 0;
    const until: i32 = innerLow <= innerHigh ? <i32>innerHigh : 255;
    const next = tryChannel(channel, from, until);
    if (next < error) {
      error = next;
      kept = channelPicks;
      one = from;
      other = until;
    }
  }
  const sweeps = quality === 0 ? 0 : quality === 1 ? 1 : 6;
  for (let sweep = 0; sweep < sweeps && error > 0; sweep++) {
    const before = error;
    for (let move = 0; move < 4; move++) {
      const by = move & 1 ? 1 : -1;
      const a = move < 2 ? one + by : one;
      const b = move < 2 ? other : other + by;
      if (a < 0 || b < 0 || a > 255 || b > 255 || a > b !== one > other) continue;
      const next = tryChannel(channel, a, b);
      if (next >= error) continue;
      error = next;
      kept = channelPicks;
      one = a;
      other = b;
    }
    if (error === before) break;
  }
  store<u64>(to, (<u64>one) | ((<u64>other) << 8) | (kept << 16));
}

/** BC2: alpha in four bits each. */
export function encodeSharpAlpha(to: usize): void {
  let bits: u64 = 0;
  for (let i: u32 = 0; i < 16; i++) bits |= (<u64>nearest<f32>(plane(3, i) / 17)) << (i << 2);
  store<u64>(to, bits);
}
