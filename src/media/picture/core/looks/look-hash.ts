import type { Pixels } from '../texture';

/** What a picture looks like from afar: 64 bits of its lights and darks, and its mean colour, as 22 hexadecimal digits. */
export type LookHash = string;

const COLUMNS = 9;
const ROWS = 8;
/** What is see-through is seen over this. */
const GROUND = 128;

/**
 * The look of a picture: its greys averaged to 9 x 8 fields, one bit for each whether a field is lighter than the one beside it
 * (a difference hash), and the mean colour. Size, codec and small edits hardly change it.
 */
export function lookOf({ width, height, data }: Pixels): LookHash {
  const sums = new Float64Array(COLUMNS * ROWS);
  const counts = new Float64Array(COLUMNS * ROWS);
  const colour = [0, 0, 0];
  for (let y = 0; y < height; y++) {
    const row = COLUMNS * Math.min(ROWS - 1, Math.floor((y * ROWS) / height));
    for (let x = 0; x < width; x++) {
      const at = 4 * (y * width + x);
      const alpha = data[at + 3]! / 255;
      const field = row + Math.min(COLUMNS - 1, Math.floor((x * COLUMNS) / width));
      let grey = 0;
      for (let c = 0; c < 3; c++) {
        const value = data[at + c]! * alpha + GROUND * (1 - alpha);
        colour[c]! += value;
        grey += value * [0.299, 0.587, 0.114][c]!;
      }
      sums[field]! += grey;
      counts[field]!++;
    }
  }
  const grey = (field: number): number => (counts[field]! > 0 ? sums[field]! / counts[field]! : 0);
  let bits = 0n;
  for (let y = 0; y < ROWS; y++)
    for (let x = 0; x + 1 < COLUMNS; x++)
      // What differs by less than a step is the same, so that flat fields do not follow noise.
      bits = (bits << 1n) | BigInt(grey(y * COLUMNS + x) > grey(y * COLUMNS + x + 1) + 1);
  const mean = colour.map((sum) =>
    Math.round(sum / (width * height))
      .toString(16)
      .padStart(2, '0'),
  );
  return bits.toString(16).padStart(16, '0') + mean.join('');
}

function bitsOf(bits: bigint): number {
  let count = 0;
  for (let left = bits; left > 0n; left &= left - 1n) count++;
  return count;
}

/** A picture with fewer fields that are lighter than their neighbours has nothing that could be told again. */
const LEAST_TOLD = 4;

/** Whether a look says anything but a colour. */
export const isTelling = (look: LookHash): boolean => {
  const count = bitsOf(BigInt(`0x${look.slice(0, 16)}`));
  return count >= LEAST_TOLD && count <= 64 - LEAST_TOLD;
};

/** How far two looks are apart: bits that differ, and one more for each 12 steps of a colour; below 10 a person would call them alike. */
export function apartness(a: LookHash, b: LookHash): number {
  let count = bitsOf(BigInt(`0x${a.slice(0, 16)}`) ^ BigInt(`0x${b.slice(0, 16)}`));
  for (const at of [16, 18, 20])
    count += Math.abs(parseInt(a.slice(at, at + 2), 16) - parseInt(b.slice(at, at + 2), 16)) / 12;
  return count;
}

/** Looks that are no farther apart are alike. */
export const ALIKE = 10;
