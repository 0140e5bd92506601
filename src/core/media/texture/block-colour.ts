/** Shared by BC1 and BC3: eight bytes that hold sixteen texels of colour (Khronos Data Format, 18 and 20). */

const expand5 = (v: number): number => (v << 3) | (v >> 2);
const expand6 = (v: number): number => (v << 2) | (v >> 4);

/** Red, green and blue of a 565 word into `out` at `at`. */
export function from565(word: number, out: Float64Array | Uint8Array, at: number): void {
  out[at] = expand5(word >> 11);
  out[at + 1] = expand6((word >> 5) & 63);
  out[at + 2] = expand5(word & 31);
}

const to565 = (red: number, green: number, blue: number): number =>
  (clamp(red, 31) << 11) | (clamp(green, 63) << 5) | clamp(blue, 31);

const clamp = (value: number, top: number): number =>
  Math.max(0, Math.min(top, Math.round((value * top) / 255)));

/** Four colours of four bytes each. With `fourOnly` the order of the ends does not matter (BC3). */
export function palette(first: number, second: number, fourOnly: boolean, out: Uint8Array): void {
  from565(first, out, 0);
  from565(second, out, 4);
  const four = fourOnly || first > second;
  for (let c = 0; c < 3; c++) {
    const a = out[c]!;
    const b = out[4 + c]!;
    out[8 + c] = four ? (2 * a + b + 1) / 3 : (a + b) / 2;
    out[12 + c] = four ? (a + 2 * b + 1) / 3 : 0;
  }
  out[3] = out[7] = out[11] = 255;
  out[15] = four ? 255 : 0;
}

const REFINEMENTS = 2;

/**
 * Encodes sixteen texels (64 bytes) into eight bytes at `at`. Ends lie on the axis of greatest spread and
 * are then fitted to the chosen steps by least squares. With `punch`, texels of low alpha become the
 * transparent fourth colour.
 */
export function encodeColour(texels: Uint8Array, out: DataView, at: number, punch: boolean): void {
  let transparent = 0;
  if (punch) for (let i = 0; i < 16; i++) if (texels[4 * i + 3]! < 128) transparent |= 1 << i;
  if (transparent !== 0) return encodePunched(texels, transparent, out, at);
  const ends = spread(texels, 0);
  let best = tryEnds(texels, ends);
  for (let round = 0; round < REFINEMENTS; round++) {
    const fitted = refit(texels, best.picks);
    if (!fitted) break;
    const next = tryEnds(texels, fitted);
    if (next.error >= best.error) break;
    best = next;
  }
  out.setUint16(at, best.first, true);
  out.setUint16(at + 2, best.second, true);
  out.setUint32(at + 4, best.picks, true);
}

interface Attempt {
  first: number;
  second: number;
  picks: number;
  error: number;
}

/** The two ends of the texels along the axis of greatest spread: six numbers. */
function spread(texels: Uint8Array, skip: number): Float64Array {
  const mean = [0, 0, 0];
  let count = 0;
  for (let i = 0; i < 16; i++) {
    if ((skip >> i) & 1) continue;
    count++;
    for (let c = 0; c < 3; c++) mean[c]! += texels[4 * i + c]!;
  }
  for (let c = 0; c < 3; c++) mean[c]! /= Math.max(1, count);
  const axis = principalAxis(texels, mean, skip);
  let low = Infinity;
  let high = -Infinity;
  for (let i = 0; i < 16; i++) {
    if ((skip >> i) & 1) continue;
    const along = axis.reduce((sum, v, c) => sum + v * (texels[4 * i + c]! - mean[c]!), 0);
    low = Math.min(low, along);
    high = Math.max(high, along);
  }
  if (count === 0) low = high = 0;
  return Float64Array.from([
    ...axis.map((v, c) => mean[c]! + v * high),
    ...axis.map((v, c) => mean[c]! + v * low),
  ]);
}

/** Power iteration on the covariance; a few rounds are enough for three by three. */
function principalAxis(texels: Uint8Array, mean: number[], skip: number): number[] {
  const spreadOf = [0, 0, 0, 0, 0, 0];
  for (let i = 0; i < 16; i++) {
    if ((skip >> i) & 1) continue;
    const r = texels[4 * i]! - mean[0]!;
    const g = texels[4 * i + 1]! - mean[1]!;
    const b = texels[4 * i + 2]! - mean[2]!;
    [r * r, r * g, r * b, g * g, g * b, b * b].forEach((v, k) => (spreadOf[k]! += v));
  }
  const [rr, rg, rb, gg, gb, bb] = spreadOf as [number, number, number, number, number, number];
  let axis = [1, 1, 1];
  for (let round = 0; round < 6; round++) {
    const [x, y, z] = axis as [number, number, number];
    const next = [rr * x + rg * y + rb * z, rg * x + gg * y + gb * z, rb * x + gb * y + bb * z];
    const length = Math.hypot(...next);
    if (length < 1e-9) return [0, 0, 0];
    axis = next.map((v) => v / length);
  }
  return axis;
}

const COLOURS = new Uint8Array(16);

function tryEnds(texels: Uint8Array, ends: Float64Array): Attempt {
  let first = to565(ends[0]!, ends[1]!, ends[2]!);
  let second = to565(ends[3]!, ends[4]!, ends[5]!);
  if (first < second) [first, second] = [second, first];
  palette(first, second, true, COLOURS);
  let picks = 0;
  let error = 0;
  // Equal ends mean three colours in BC1; only the first is then safe to pick.
  const choices = first === second ? 1 : 4;
  for (let i = 0; i < 16; i++) {
    let least = Infinity;
    let pick = 0;
    for (let k = 0; k < choices; k++) {
      const distance = distanceTo(texels, i, k);
      if (distance < least) {
        least = distance;
        pick = k;
      }
    }
    picks = (picks | (pick << (2 * i))) >>> 0;
    error += least;
  }
  return { first, second, picks, error };
}

function distanceTo(texels: Uint8Array, i: number, k: number): number {
  const r = texels[4 * i]! - COLOURS[4 * k]!;
  const g = texels[4 * i + 1]! - COLOURS[4 * k + 1]!;
  const b = texels[4 * i + 2]! - COLOURS[4 * k + 2]!;
  return r * r + g * g + b * b;
}

/** Share of the first end in each of the four colours. */
const SHARE = [1, 0, 2 / 3, 1 / 3] as const;

/** The ends that fit the chosen steps best, by least squares; undefined where they are not determined. */
function refit(texels: Uint8Array, picks: number): Float64Array | undefined {
  let aa = 0;
  let ab = 0;
  let bb = 0;
  const ax = [0, 0, 0];
  const bx = [0, 0, 0];
  for (let i = 0; i < 16; i++) {
    const a = SHARE[(picks >>> (2 * i)) & 3]!;
    const b = 1 - a;
    aa += a * a;
    ab += a * b;
    bb += b * b;
    for (let c = 0; c < 3; c++) {
      ax[c]! += a * texels[4 * i + c]!;
      bx[c]! += b * texels[4 * i + c]!;
    }
  }
  const determinant = aa * bb - ab * ab;
  if (Math.abs(determinant) < 1e-6) return undefined;
  return Float64Array.from([
    ...ax.map((v, c) => (v * bb - bx[c]! * ab) / determinant),
    ...bx.map((v, c) => (v * aa - ax[c]! * ab) / determinant),
  ]);
}

function encodePunched(texels: Uint8Array, transparent: number, out: DataView, at: number): void {
  const ends = spread(texels, transparent);
  let first = to565(ends[0]!, ends[1]!, ends[2]!);
  let second = to565(ends[3]!, ends[4]!, ends[5]!);
  if (first > second) [first, second] = [second, first];
  palette(first, second, false, COLOURS);
  let picks = 0;
  for (let i = 0; i < 16; i++) {
    let pick = 3;
    if (!((transparent >> i) & 1)) {
      pick = 0;
      for (let k = 1; k < 3; k++) if (distanceTo(texels, i, k) < distanceTo(texels, i, pick)) pick = k;
    }
    picks = (picks | (pick << (2 * i))) >>> 0;
  }
  out.setUint16(at, first, true);
  out.setUint16(at + 2, second, true);
  out.setUint32(at + 4, picks, true);
}
