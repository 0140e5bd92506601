/**
 * Blocks of BC7 in its mode 6 alone (Khronos Data Format Specification, 20.1): one pair of ends of seven bits and a shared low bit a
 * channel, and sixteen steps between them. It is what a simple tool writes.
 */
const STEPS = [0, 4, 9, 13, 17, 21, 26, 30, 34, 38, 43, 47, 51, 55, 60, 64];

/** Writes bits into 16 bytes, the lowest first. */
class Bits {
  private at = 0;
  constructor(
    private readonly out: Buffer,
    private readonly from: number,
  ) {}

  put(value: number, width: number): void {
    for (let i = 0; i < width; i++, this.at++)
      if ((value >> i) & 1) this.out[this.from + (this.at >> 3)]! |= 1 << (this.at & 7);
  }
}

/** The nearest end that has seven bits a channel over one shared low bit. */
function quantised(colour: ArrayLike<number>, from: number): { seven: number[]; low: number } {
  let best = { seven: [0, 0, 0, 0], low: 0 };
  let least = Infinity;
  for (const low of [0, 1]) {
    const seven = [0, 1, 2, 3].map((c) =>
      Math.max(0, Math.min(127, Math.round((colour[from + c]! - low) / 2))),
    );
    const error = seven.reduce((sum, value, c) => sum + ((value << 1) + low - colour[from + c]!) ** 2, 0);
    if (error >= least) continue;
    least = error;
    best = { seven, low };
  }
  return best;
}

/** One block of sixteen texels, four bytes each. */
export function bc7Block(texels: Uint8Array, out: Buffer, at: number): void {
  const far = (a: number, b: number): number =>
    [0, 1, 2, 3].reduce((sum, c) => sum + (texels[4 * a + c]! - texels[4 * b + c]!) ** 2, 0);
  let [from, to, most] = [0, 0, 0];
  for (let a = 0; a < 16; a++)
    for (let b = a + 1; b < 16; b++) if (far(a, b) > most) [from, to, most] = [a, b, far(a, b)];
  let ends = [quantised(texels, 4 * from), quantised(texels, 4 * to)] as const;
  const colourAt = (end: { seven: number[]; low: number }, c: number): number =>
    (end.seven[c]! << 1) | end.low;
  const indexOf = (i: number): number => {
    let [best, least] = [0, Infinity];
    for (const [k, w] of STEPS.entries()) {
      let error = 0;
      for (let c = 0; c < 4; c++) {
        const value = ((64 - w) * colourAt(ends[0], c) + w * colourAt(ends[1], c) + 32) >> 6;
        error += (value - texels[4 * i + c]!) ** 2;
      }
      if (error < least) [best, least] = [k, error];
    }
    return best;
  };
  // The first index has no top bit.
  if (indexOf(0) > 7) ends = [ends[1], ends[0]];
  const bits = new Bits(out, at);
  bits.put(1 << 6, 7);
  for (let c = 0; c < 4; c++) for (const end of ends) bits.put(end.seven[c]!, 7);
  for (const end of ends) bits.put(end.low, 1);
  for (let i = 0; i < 16; i++) bits.put(indexOf(i), i === 0 ? 3 : 4);
}
