import { weightsFor } from './bc7-decode';
import { clampF, PLANES, plane } from './planes';

/**
 * Fits two ends and the indices between them to some texels of a block: ends along the axis of greatest spread,
 * rounded with the best p bits, then fitted to the chosen indices by least squares as long as that helps.
 */

/** How ends are kept: bits of colour and of alpha (0 for none), p bits (0 none, 1 for each end, 2 shared), bits of index. */
let channels: u32 = 4;
let colourBits: u32 = 7;
let alphaBits: u32 = 7;
let pBits: u32 = 1;
let indexBits: u32 = 4;

/** Two ends as floats, four channels each. */
const ENDS: usize = memory.data(32);
const DELTA: usize = memory.data(16);
const COV: usize = memory.data(64);
/** Ends as they are kept (with their p bit) and as they come out, four bytes each, two of each. */
const RAW: usize = memory.data(8);
const WIDE: usize = memory.data(8);
const INDEX: usize = memory.data(16);
const COLOURS: usize = memory.data(64);
/** The index nearest to each weight from 0 to 64. */
const NEAREST2: usize = memory.data(65);
const NEAREST3: usize = memory.data(65);
const NEAREST4: usize = memory.data(65);
/** The texels that are fitted, in order. */
const TEXELS: usize = memory.data(16);
let texelCount: u32 = 0;

/** Of the last fit: its ends as kept, two words, and the indices of its texels. */
export const BEST_RAW: usize = memory.data(8);
export const BEST_INDEX: usize = memory.data(16);

export function prepareFit(): void {
  for (let bits: u32 = 2; bits <= 4; bits++) {
    const table = bits === 2 ? NEAREST2 : bits === 3 ? NEAREST3 : NEAREST4;
    const weights = weightsFor(bits);
    for (let w = 0; w <= 64; w++) {
      let best = 0;
      for (let k = 1; k < 1 << bits; k++)
        if (abs(<i32>load<u8>(weights + k) - w) < abs(<i32>load<u8>(weights + best) - w)) best = k;
      store<u8>(table + w, best);
    }
  }
}

export function layEnds(count: u32, colour: u32, alpha: u32, p: u32, index: u32): void {
  channels = count;
  colourBits = colour;
  alphaBits = alpha;
  pBits = p;
  indexBits = index;
}

function end(e: u32, c: u32): f32 {
  return load<f32>(ENDS + (e << 4) + (c << 2));
}

function widen(value: u32, bits: u32): u32 {
  value <<= 8 - bits;
  return value | (value >> bits);
}

let lastError: f32 = 0;

/** Rounds one end with a given p bit (0 or 1; ignored where there is none); the squared error is left in `lastError`. */
function roundEnd(e: u32, p: u32, raw: usize, wide: usize): void {
  let error: f32 = 0;
  for (let c: u32 = 0; c < channels; c++) {
    const bits = c < 3 ? colourBits : alphaBits;
    const value = end(e, c);
    let kept: u32;
    let total = bits;
    if (pBits === 0) kept = <u32>nearest<f32>((value * <f32>((1 << bits) - 1)) / 255);
    else {
      total++;
      const top = <f32>((1 << total) - 1);
      kept =
        ((<u32>clampF(nearest<f32>(((value * top) / 255 - <f32>p) * 0.5), 0, <f32>((1 << bits) - 1))) << 1) |
        p;
    }
    const out = widen(kept, total);
    store<u8>(raw + c, kept);
    store<u8>(wide + c, out);
    const off = value - <f32>out;
    error += off * off;
  }
  lastError = error;
}

const TRY: usize = memory.data(8);

function roundEnds(): void {
  if (pBits === 0) {
    roundEnd(0, 0, RAW, WIDE);
    roundEnd(1, 0, RAW + 4, WIDE + 4);
    return;
  }
  if (pBits === 1) {
    for (let e: u32 = 0; e < 2; e++) {
      roundEnd(e, 0, RAW + (e << 2), WIDE + (e << 2));
      const zero = lastError;
      roundEnd(e, 1, TRY, TRY + 4);
      if (lastError >= zero) continue;
      store<u32>(RAW + (e << 2), load<u32>(TRY));
      store<u32>(WIDE + (e << 2), load<u32>(TRY, 4));
    }
    return;
  }
  roundEnd(0, 0, RAW, WIDE);
  let zero = lastError;
  roundEnd(1, 0, RAW + 4, WIDE + 4);
  zero += lastError;
  roundEnd(0, 1, TRY, TRY + 4);
  const raw = load<u32>(TRY);
  const wide = load<u32>(TRY, 4);
  let one = lastError;
  roundEnd(1, 1, TRY, TRY + 4);
  one += lastError;
  if (one >= zero) return;
  store<u32>(RAW, raw);
  store<u32>(WIDE, wide);
  store<u32>(RAW, load<u32>(TRY), 4);
  store<u32>(WIDE, load<u32>(TRY, 4), 4);
}

function mix(a: i32, b: i32, weight: i32): u8 {
  return <u8>(((64 - weight) * a + weight * b + 32) >> 6);
}

/** Indices for the ends as they come out; the squared error. */
function assign(): f32 {
  const weights = weightsFor(indexBits);
  const table = indexBits === 2 ? NEAREST2 : indexBits === 3 ? NEAREST3 : NEAREST4;
  const steps: u32 = 1 << indexBits;
  let length: f32 = 0;
  for (let c: u32 = 0; c < channels; c++) {
    const a = <i32>load<u8>(WIDE + c);
    const b = <i32>load<u8>(WIDE + c, 4);
    const d = <f32>(b - a);
    store<f32>(DELTA + (c << 2), d);
    length += d * d;
    for (let k: u32 = 0; k < steps; k++)
      store<u8>(COLOURS + (k << 2) + c, mix(a, b, <i32>load<u8>(weights + k)));
  }
  const scale: f32 = length > 0 ? 64 / length : 0;
  let error: f32 = 0;
  for (let n: u32 = 0; n < texelCount; n++) {
    const i = <u32>load<u8>(TEXELS + n);
    let along: f32 = 0;
    for (let c: u32 = 0; c < channels; c++)
      along += (plane(c, i) - <f32>load<u8>(WIDE + c)) * load<f32>(DELTA + (c << 2));
    const index = <u32>load<u8>(table + <usize>nearest<f32>(clampF(along * scale, 0, 64)));
    store<u8>(INDEX + i, index);
    for (let c: u32 = 0; c < channels; c++) {
      const off = plane(c, i) - <f32>load<u8>(COLOURS + (index << 2) + c);
      error += off * off;
    }
  }
  return error;
}

/** Ends by least squares for the best indices; false where they do not determine ends. */
function refit(): bool {
  const weights = weightsFor(indexBits);
  let aa: f32 = 0;
  let ab: f32 = 0;
  let bb: f32 = 0;
  for (let n: u32 = 0; n < texelCount; n++) {
    const i = <u32>load<u8>(TEXELS + n);
    const b = <f32>load<u8>(weights + <usize>load<u8>(BEST_INDEX + i)) / 64;
    const a: f32 = <f32>1 - b;
    aa += a * a;
    ab += a * b;
    bb += b * b;
  }
  const determinant = aa * bb - ab * ab;
  if (abs<f32>(determinant) < 1e-4) return false;
  const k: f32 = 1 / determinant;
  for (let c: u32 = 0; c < channels; c++) {
    let ax: f32 = 0;
    let bx: f32 = 0;
    for (let n: u32 = 0; n < texelCount; n++) {
      const i = <u32>load<u8>(TEXELS + n);
      const b = <f32>load<u8>(weights + <usize>load<u8>(BEST_INDEX + i)) / 64;
      const value = plane(c, i);
      ax += (<f32>1 - b) * value;
      bx += b * value;
    }
    store<f32>(ENDS + (c << 2), clampF((ax * bb - bx * ab) * k, 0, 255));
    store<f32>(ENDS + (c << 2), clampF((bx * aa - ax * ab) * k, 0, 255), 16);
  }
  return true;
}

/** Ends where the texels reach furthest along their axis of greatest spread. */
function outermost(): void {
  const size = <f32>max<u32>(texelCount, 1);
  const mean = ENDS; // the first end serves as the mean until the ends are known
  for (let c: u32 = 0; c < channels; c++) {
    let sum: f32 = 0;
    for (let n: u32 = 0; n < texelCount; n++) sum += plane(c, <u32>load<u8>(TEXELS + n));
    store<f32>(mean + (c << 2), sum / size);
  }
  for (let c: u32 = 0; c < channels; c++)
    for (let d = c; d < channels; d++) {
      const mc = load<f32>(mean + (c << 2));
      const md = load<f32>(mean + (d << 2));
      let sum: f32 = 0;
      for (let n: u32 = 0; n < texelCount; n++) {
        const i = <u32>load<u8>(TEXELS + n);
        sum += (plane(c, i) - mc) * (plane(d, i) - md);
      }
      store<f32>(COV + (c << 4) + (d << 2), sum);
      store<f32>(COV + (d << 4) + (c << 2), sum);
    }
  let widest: u32 = 0;
  for (let c: u32 = 1; c < channels; c++)
    if (load<f32>(COV + c * 20) > load<f32>(COV + widest * 20)) widest = c;
  let x = load<f32>(COV + (widest << 4));
  let y = load<f32>(COV + (widest << 4), 4);
  let z = load<f32>(COV + (widest << 4), 8);
  let w: f32 = channels === 4 ? load<f32>(COV + (widest << 4), 12) : 0;
  const four = channels === 4;
  for (let round = 0; round < 5; round++) {
    let nx = load<f32>(COV) * x + load<f32>(COV, 4) * y + load<f32>(COV, 8) * z;
    let ny = load<f32>(COV, 16) * x + load<f32>(COV, 20) * y + load<f32>(COV, 24) * z;
    let nz = load<f32>(COV, 32) * x + load<f32>(COV, 36) * y + load<f32>(COV, 40) * z;
    let nw: f32 = 0;
    if (four) {
      nx += load<f32>(COV, 12) * w;
      ny += load<f32>(COV, 28) * w;
      nz += load<f32>(COV, 44) * w;
      nw = load<f32>(COV, 48) * x + load<f32>(COV, 52) * y + load<f32>(COV, 56) * z + load<f32>(COV, 60) * w;
    }
    const most = max<f32>(max<f32>(abs<f32>(nx), abs<f32>(ny)), max<f32>(abs<f32>(nz), abs<f32>(nw)));
    if (most < 1e-12) break;
    x = nx / most;
    y = ny / most;
    z = nz / most;
    w = nw / most;
  }
  const length: f32 = x * x + y * y + z * z + w * w;
  const scale: f32 = length > 0 ? 1 / sqrt<f32>(length) : 0;
  x *= scale;
  y *= scale;
  z *= scale;
  w *= scale;
  let low: f32 = 0;
  let high: f32 = 0;
  const mx = load<f32>(mean);
  const my = load<f32>(mean, 4);
  const mz = load<f32>(mean, 8);
  const mw: f32 = four ? load<f32>(mean, 12) : 0;
  for (let n: u32 = 0; n < texelCount; n++) {
    const i = <u32>load<u8>(TEXELS + n);
    let along = (plane(0, i) - mx) * x + (plane(1, i) - my) * y + (plane(2, i) - mz) * z;
    if (four) along += (plane(3, i) - mw) * w;
    low = min<f32>(low, along);
    high = max<f32>(high, along);
  }
  store<f32>(ENDS, clampF(mx + x * low, 0, 255));
  store<f32>(ENDS, clampF(my + y * low, 0, 255), 4);
  store<f32>(ENDS, clampF(mz + z * low, 0, 255), 8);
  store<f32>(ENDS, clampF(mw + w * low, 0, 255), 12);
  store<f32>(ENDS, clampF(mx + x * high, 0, 255), 16);
  store<f32>(ENDS, clampF(my + y * high, 0, 255), 20);
  store<f32>(ENDS, clampF(mz + z * high, 0, 255), 24);
  store<f32>(ENDS, clampF(mw + w * high, 0, 255), 28);
}

function keep(): void {
  store<u64>(BEST_RAW, load<u64>(RAW));
  for (let n: u32 = 0; n < texelCount; n++) {
    const i = <u32>load<u8>(TEXELS + n);
    store<u8>(BEST_INDEX + i, load<u8>(INDEX + i));
  }
}

/** Fits the texels of a mask; the squared error. Ends and indices are left in BEST_RAW and BEST_INDEX. */
export function fit(mask: u32, rounds: i32, bound: f32): f32 {
  texelCount = 0;
  for (let i: u32 = 0; i < 16; i++)
    if ((mask >> i) & 1) {
      store<u8>(TEXELS + texelCount, i);
      texelCount++;
    }
  outermost();
  roundEnds();
  let error = assign();
  keep();
  for (let round = 0; round < rounds && error > 0; round++) {
    // What is far off is not worth fitting.
    if (error > bound * 4 || !refit()) break;
    roundEnds();
    const next = assign();
    if (next >= error) break;
    error = next;
    keep();
  }
  return error;
}

/** Moves numbers of the ends by one step as long as that helps, from the last fit on. */
export function polish(error: f32, sweeps: i32): f32 {
  const step = pBits === 0 ? 1 : 2;
  for (let sweep = 0; sweep < sweeps && error > 0; sweep++) {
    const before = error;
    for (let e: u32 = 0; e < 2; e++)
      for (let c: u32 = 0; c < channels; c++) {
        const bits = (c < 3 ? colourBits : alphaBits) + <u32>(pBits > 0);
        const top = (1 << bits) - 1;
        for (let by = -step; by <= step; by += step * 2) {
          store<u64>(RAW, load<u64>(BEST_RAW));
          const value = <i32>load<u8>(RAW + (e << 2) + c) + by;
          if (value < 0 || value > top) continue;
          store<u8>(RAW + (e << 2) + c, value);
          for (let k: u32 = 0; k < channels; k++) {
            const b = (k < 3 ? colourBits : alphaBits) + <u32>(pBits > 0);
            store<u8>(WIDE + k, widen(<u32>load<u8>(RAW + k), b));
            store<u8>(WIDE + k, widen(<u32>load<u8>(RAW + k, 4), b), 4);
          }
          const next = assign();
          if (next >= error) continue;
          error = next;
          keep();
        }
      }
    if (error === before) break;
  }
  return error;
}

const CHANNEL_INDEX: usize = memory.data(16);
/** Of the last single channel: its indices and ends. */
export const BEST_CHANNEL: usize = memory.data(16);
export let channelFirst: u32 = 0;
export let channelSecond: u32 = 0;

/** Fits one channel alone with ends of so many bits; the squared error. */
export function fitChannel(channel: u32, bits: u32, index: u32): f32 {
  let low: f32 = 255;
  let high: f32 = 0;
  for (let i: u32 = 0; i < 16; i++) {
    low = min<f32>(low, plane(channel, i));
    high = max<f32>(high, plane(channel, i));
  }
  const top = <f32>((1 << bits) - 1);
  const weights = weightsFor(index);
  const table = index === 2 ? NEAREST2 : index === 3 ? NEAREST3 : NEAREST4;
  let best: f32 = Infinity;
  for (let round = 0; round < 2; round++) {
    const first = <u32>nearest<f32>((clampF(low, 0, 255) * top) / 255);
    const second = <u32>nearest<f32>((clampF(high, 0, 255) * top) / 255);
    const a = <i32>widen(first, bits);
    const b = <i32>widen(second, bits);
    const scale: f32 = b === a ? 0 : 64 / <f32>(b - a);
    let error: f32 = 0;
    let aa: f32 = 0;
    let ab: f32 = 0;
    let bb: f32 = 0;
    let ax: f32 = 0;
    let bx: f32 = 0;
    for (let i: u32 = 0; i < 16; i++) {
      const value = plane(channel, i);
      const k = <u32>load<u8>(table + <usize>nearest<f32>(clampF((value - <f32>a) * scale, 0, 64)));
      const weight = <i32>load<u8>(weights + k);
      store<u8>(CHANNEL_INDEX + i, k);
      const off = value - <f32>mix(a, b, weight);
      error += off * off;
      const share = <f32>weight / 64;
      aa += (<f32>1 - share) * (<f32>1 - share);
      ab += (<f32>1 - share) * share;
      bb += share * share;
      ax += (<f32>1 - share) * value;
      bx += share * value;
    }
    if (error < best) {
      best = error;
      channelFirst = first;
      channelSecond = second;
      v128.store(BEST_CHANNEL, v128.load(CHANNEL_INDEX));
    }
    const determinant = aa * bb - ab * ab;
    if (error === 0 || abs<f32>(determinant) < 1e-4) break;
    low = (ax * bb - bx * ab) / determinant;
    high = (bx * aa - ax * ab) / determinant;
  }
  return best;
}

/** Changes two channels for each other, which is its own opposite. */
export function swapChannels(a: u32, b: u32): void {
  for (let n = 0; n < 64; n += 16) {
    const one = PLANES + (a << 6) + n;
    const other = PLANES + (b << 6) + n;
    const kept = v128.load(one);
    v128.store(one, v128.load(other));
    v128.store(other, kept);
  }
}
