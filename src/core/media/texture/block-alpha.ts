/** The alpha half of BC3: eight bytes for sixteen values (Khronos Data Format, 20). */

/** The eight steps between two ends; with the first not above the second, six and both extremes. */
export function alphaSteps(first: number, second: number, out: Uint8Array): void {
  out[0] = first;
  out[1] = second;
  const inner = first > second ? 6 : 4;
  for (let k = 1; k <= inner; k++)
    out[1 + k] = Math.floor((first * (inner + 1 - k) + second * k + ((inner + 1) >> 1)) / (inner + 1));
  if (inner === 4) {
    out[6] = 0;
    out[7] = 255;
  }
}

const STEPS = new Uint8Array(8);

/** Sixteen alpha values of the texels at `at` of a block into its first eight bytes. */
export function encodeAlpha(texels: Uint8Array, out: DataView, at: number): void {
  let low = 255;
  let high = 0;
  for (let i = 0; i < 16; i++) {
    low = Math.min(low, texels[4 * i + 3]!);
    high = Math.max(high, texels[4 * i + 3]!);
  }
  out.setUint8(at, high);
  out.setUint8(at + 1, low);
  alphaSteps(high, low, STEPS);
  for (let half = 0; half < 2; half++) {
    let bits = 0;
    for (let i = 0; i < 8; i++) bits |= nearestStep(texels[4 * (half * 8 + i) + 3]!, high === low) << (3 * i);
    for (let b = 0; b < 3; b++) out.setUint8(at + 2 + half * 3 + b, (bits >> (8 * b)) & 255);
  }
}

function nearestStep(value: number, flat: boolean): number {
  if (flat) return 0;
  let best = 0;
  for (let k = 1; k < 8; k++) if (Math.abs(value - STEPS[k]!) < Math.abs(value - STEPS[best]!)) best = k;
  return best;
}

/** Writes the sixteen alpha values of a block into every fourth byte of `texels`. */
export function decodeAlpha(view: DataView, at: number, texels: Uint8Array): void {
  alphaSteps(view.getUint8(at), view.getUint8(at + 1), STEPS);
  for (let half = 0; half < 2; half++) {
    const from = at + 2 + half * 3;
    const bits = view.getUint8(from) | (view.getUint8(from + 1) << 8) | (view.getUint8(from + 2) << 16);
    for (let i = 0; i < 8; i++) texels[4 * (half * 8 + i) + 3] = STEPS[(bits >> (3 * i)) & 7]!;
  }
}
