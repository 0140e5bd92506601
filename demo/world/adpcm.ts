/** IMA ADPCM (the recommended practice of the Interactive Multimedia Association, 1992). */
const CHANGES = [-1, -1, -1, -1, 2, 4, 6, 8];
const STEPS = [
  '7 8 9 10 11 12 13 14 16 17 19 21 23 25 28 31 34 37 41 45 50 55 60 66 73 80 88 97 107 118 130 143 157',
  '173 190 209 230 253 279 307 337 371 408 449 494 544 598 658 724 796 876 963 1060 1166 1282 1411 1552',
  '1707 1878 2066 2272 2499 2749 3024 3327 3660 4026 4428 4871 5358 5894 6484 7132 7845 8630 9493 10442',
  '11487 12635 13899 15289 16818 18500 20350 22385 24623 27086 29794 32767',
]
  .join(' ')
  .split(' ')
  .map(Number);

export interface Adpcm {
  first: number;
  nibbles: number[];
}

/** Four bits a sample from the 16-bit samples of a wave file of one channel. */
export function encodeAdpcm(wave: Buffer): Adpcm {
  const samples = (wave.length - 44) >> 1;
  const first = samples > 0 ? wave.readInt16LE(44) : 0;
  const nibbles: number[] = [];
  let value = first;
  let index = 0;
  for (let i = 0; i < samples; i++) {
    const step = STEPS[index]!;
    const wanted = wave.readInt16LE(44 + 2 * i) - value;
    let left = Math.abs(wanted);
    let nibble = wanted < 0 ? 8 : 0;
    let moved = step >> 3;
    for (let bit = 4, part = step; bit > 0; bit >>= 1, part >>= 1)
      if (left >= part) {
        nibble |= bit;
        left -= part;
        moved += part;
      }
    value = Math.max(-32768, Math.min(32767, value + (nibble & 8 ? -moved : moved)));
    index = Math.max(0, Math.min(88, index + CHANGES[nibble & 7]!));
    nibbles.push(nibble);
  }
  return { first, nibbles };
}

/** Two nibbles a byte, the earlier one in the low or the high half. */
export function nibbleBytes(nibbles: readonly number[], lowFirst: boolean): Buffer {
  const out = Buffer.alloc(Math.ceil(nibbles.length / 2));
  nibbles.forEach((nibble, i) => {
    out[i >> 1]! |= (i & 1) === (lowFirst ? 0 : 1) ? nibble : nibble << 4;
  });
  return out;
}
