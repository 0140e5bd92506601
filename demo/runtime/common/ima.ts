/** IMA ADPCM (the recommended practice of the Interactive Multimedia Association, 1992), as the games play it. */
const CHANGES = [-1, -1, -1, -1, 2, 4, 6, 8];
const STEPS = [
  '7 8 9 10 11 12 13 14 16 17 19 21 23 25 28 31 34 37 41 45 50 55 60 66 73 80 88 97 107 118 130 143 157',
  '173 190 209 230 253 279 307 337 371 408 449 494 544 598 658 724 796 876 963 1060 1166 1282 1411 1552',
  '1707 1878 2066 2272 2499 2749 3024 3327 3660 4026 4428 4871 5358 5894 6484 7132 7845 8630 9493 10442',
  '11487 12635 13899 15289 16818 18500 20350 22385 24623 27086 29794 32767',
].flatMap((row) => row.split(' ').map(Number));

export interface Codes {
  /** Two a byte. */
  data: Buffer;
  count: number;
  /** What the first one is told from. */
  first: number;
  lowFirst: boolean;
  rate: number;
}

/** Codes of four bits as a wave file of 16 bits. */
export function codesToWave({ data, count, first, lowFirst, rate }: Codes): Buffer {
  const out = Buffer.alloc(44 + 2 * count);
  out.write('RIFF', 0, 'latin1');
  out.writeUInt32LE(out.length - 8, 4);
  out.write('WAVEfmt ', 8, 'latin1');
  out.writeUInt32LE(16, 16);
  out.writeUInt16LE(1, 20);
  out.writeUInt16LE(1, 22);
  out.writeUInt32LE(rate, 24);
  out.writeUInt32LE(rate * 2, 28);
  out.writeUInt16LE(2, 32);
  out.writeUInt16LE(16, 34);
  out.write('data', 36, 'latin1');
  out.writeUInt32LE(2 * count, 40);
  let value = first;
  let index = 0;
  for (let i = 0; i < count; i++) {
    const byte = data[i >> 1]!;
    const nibble = (i & 1) === (lowFirst ? 0 : 1) ? byte & 15 : byte >> 4;
    const step = STEPS[index]!;
    let moved = step >> 3;
    for (let bit = 4, part = step; bit > 0; bit >>= 1, part >>= 1) if (nibble & bit) moved += part;
    value = Math.max(-32768, Math.min(32767, value + (nibble & 8 ? -moved : moved)));
    index = Math.max(0, Math.min(88, index + CHANGES[nibble & 7]!));
    out.writeInt16LE(value, 44 + 2 * i);
  }
  return out;
}
