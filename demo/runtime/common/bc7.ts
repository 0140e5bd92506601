/** The engine's reader of BC7 blocks, in all eight modes (Khronos Data Format Specification, 20.1). */

/** Of each mode: subsets, and bits of partition, rotation, selector, colour, alpha, p each end, p shared, index, second index. */
const MODES = [
  [3, 4, 0, 0, 4, 0, 1, 0, 3, 0],
  [2, 6, 0, 0, 6, 0, 0, 1, 3, 0],
  [3, 6, 0, 0, 5, 0, 0, 0, 2, 0],
  [2, 6, 0, 0, 7, 0, 1, 0, 2, 0],
  [1, 0, 2, 1, 5, 6, 0, 0, 2, 3],
  [1, 0, 2, 0, 7, 8, 0, 0, 2, 2],
  [1, 0, 0, 0, 7, 7, 1, 0, 4, 0],
  [2, 6, 0, 0, 5, 5, 1, 0, 2, 0],
] as const;

const words = (text: string): number[] => text.split(' ').map((word) => Number.parseInt(word, 16));

/** Which of two subsets each texel is in: bit i for texel i. */
const TWO = words(
  'cccc 8888 eeee ecc8 c880 feec fec8 ec80 c800 ffec fe80 e800 ffe8 ff00 fff0 f000 f710 8e 7100 8ce 8c 7310 3100 8cce 88c 3110 6666 366c 17e8 ff0 718e 399c aaaa f0f0 5a5a 33cc 3c3c 55aa 9696 a55a 73ce 13c8 324c 3bdc 6996 c33c 9966 660 272 4e4 4e40 2720 c936 936c 39c6 639c 9336 9cc6 817e e718 ccf0 fcc 7744 ee22',
);
/** Which of three: two bits a texel. */
const THREE = words(
  'aa685050 6a5a5040 5a5a4200 5450a0a8 a5a50000 a0a05050 5555a0a0 5a5a5050 aa550000 aa555500 aaaa5500 90909090 94949494 a4a4a4a4 a9a59450 2a0a4250 a5945040 a425054 a5a5a500 55a0a0a0 a8a85454 6a6a4040 a4a45000 1a1a0500 50a4a4 aaa59090 14696914 69691400 a08585a0 aa821414 50a4a450 6a5a0200 a9a58000 5090a0a8 a8a09050 24242424 aa5500 24924924 24499224 50a50a50 500aa550 aaaa4444 66660000 a5a0a5a0 50a050a0 69286928 44aaaa44 66666600 aa444444 54a854a8 95809580 96969600 a85454a8 80959580 aa141414 96960000 aaaa1414 a05050a0 a0a5a5a0 96000000 40804080 a9a8a9a8 aaaaaa44 2a4a5254',
);
/** Texels of the second and third subsets whose index has no top bit. */
const ANCHOR_OF_TWO = words(
  'f f f f f f f f f f f f f f f f f 2 8 2 2 8 8 f 2 8 2 2 8 8 2 2 f f 6 8 2 8 f f 2 8 2 2 2 f f 6 6 2 6 8 f f 2 2 f f f f f 2 2 f',
);
const ANCHOR_A = words(
  '3 3 f f 8 3 f f 8 8 6 6 6 5 3 3 3 3 8 f 3 3 6 a 5 8 8 6 8 5 f f 8 f 3 5 6 a 8 f f 3 f 5 f f f f 3 f 5 5 5 8 5 a 5 a 8 d f c 3 3',
);
const ANCHOR_B = words(
  'f 8 8 3 f f 3 8 f f f f f f f 8 f 8 f 3 f 8 f 8 3 f 6 a f f a 8 f 3 f a a 8 9 a 6 f 8 f 3 6 6 8 f 3 f f f f f f f f f f 3 f f 8',
);
const WEIGHTS: Readonly<Record<number, readonly number[]>> = {
  2: [0, 21, 43, 64],
  3: [0, 9, 18, 27, 37, 46, 55, 64],
  4: [0, 4, 9, 13, 17, 21, 26, 30, 34, 38, 43, 47, 51, 55, 60, 64],
};

const mix = (a: number, b: number, weight: number): number => ((64 - weight) * a + weight * b + 32) >> 6;

/** The sixteen texels of a block, four numbers each. */
export function bc7Texels(block: Buffer): number[][] {
  let at = 0;
  const take = (width: number): number => {
    let value = 0;
    for (let i = 0; i < width; i++, at++) value |= ((block[at >> 3]! >> (at & 7)) & 1) << i;
    return value;
  };
  let mode = 0;
  while (mode < 8 && take(1) === 0) mode++;
  const facts = MODES[mode];
  if (!facts) return Array.from({ length: 16 }, () => [0, 0, 0, 0]);
  const [
    subsets,
    partitionBits,
    rotationBits,
    selectorBits,
    colourBits,
    alphaBits,
    ownP,
    sharedP,
    bits,
    more,
  ] = facts;
  const partition = take(partitionBits);
  const rotation = take(rotationBits);
  const selector = take(selectorBits);
  const ends = Array.from({ length: 2 * subsets }, () => [0, 0, 0, 255]);
  for (let c = 0; c < 3; c++) for (const end of ends) end[c] = take(colourBits);
  if (alphaBits > 0) for (const end of ends) end[3] = take(alphaBits);
  const low = ownP ? ends.map(() => take(1)) : sharedP ? Array.from({ length: subsets }, () => take(1)) : [];
  for (const [i, end] of ends.entries())
    for (let c = 0; c < (alphaBits > 0 ? 4 : 3); c++) {
      const width = (c < 3 ? colourBits : alphaBits) + ownP + sharedP;
      const value = low.length > 0 ? (end[c]! << 1) | low[sharedP ? i >> 1 : i]! : end[c]!;
      end[c] = ((value << (8 - width)) | (value >> (2 * width - 8))) & 255;
    }
  const subsetOf = (i: number): number =>
    subsets === 1 ? 0 : subsets === 2 ? (TWO[partition]! >> i) & 1 : (THREE[partition]! >>> (2 * i)) & 3;
  const isAnchor = (i: number): boolean =>
    i === 0 ||
    (subsets === 2 && ANCHOR_OF_TWO[partition] === i) ||
    (subsets === 3 && (ANCHOR_A[partition] === i || ANCHOR_B[partition] === i));
  const first = Array.from({ length: 16 }, (_, i) => take(bits - Number(isAnchor(i))));
  const second = more > 0 ? Array.from({ length: 16 }, (_, i) => take(more - Number(i === 0))) : undefined;
  return first.map((index, i) => {
    const [a, b] = [ends[2 * subsetOf(i)]!, ends[2 * subsetOf(i) + 1]!];
    const one = WEIGHTS[bits]![index]!;
    const other = second ? WEIGHTS[more]![second[i]!]! : one;
    const [colour, alpha] = selector ? [other, one] : [one, other];
    const texel = [0, 1, 2, 3].map((channel) => {
      const weight = channel < 3 ? colour! : alpha!;
      return mix(a[channel]!, b[channel]!, weight);
    });
    if (rotation > 0) [texel[3], texel[rotation - 1]] = [texel[rotation - 1]!, texel[3]!];
    return texel;
  });
}
