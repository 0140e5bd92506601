import type { Catalogue } from './catalogue';
import { FLAG } from './listing';

/** Where the hash of an entry's name stands in some bytes. */
export interface HashReference {
  readonly row: number;
  readonly byteOffset: number;
}

export interface HashReferences {
  readonly found: readonly HashReference[];
  /** Why hashes of 32 bits were not looked for: so many would be found by mere chance. */
  readonly byChance: number | undefined;
}

/** With more finds than this to be expected by chance, hashes of 32 bits say nothing. */
const MOST_BY_CHANCE = 0.05;
/** Smaller numbers are counts and places. */
const LEAST_HASH = 1 << 20;
const STEP = 4;

/** Hashes that a catalogue's entries are kept by, to be looked up by their two halves. */
export class HashIndex {
  private readonly slots: Int32Array;
  private readonly mask: number;
  /** How many hashes have 32 bits. */
  readonly narrow: number;
  readonly wide: number;

  constructor(private readonly catalogue: Catalogue) {
    const { columns, count, wins } = catalogue;
    let [narrow, wide] = [0, 0];
    for (let row = 0; row < count; row++)
      if (columns.flags[row]! & FLAG.hashed && wins[row] === 1)
        if (columns.hashHigh[row] === 0) narrow++;
        else wide++;
    this.narrow = narrow;
    this.wide = wide;
    const length = 2 ** Math.ceil(Math.log2(2 * (narrow + wide) + 2));
    this.mask = length - 1;
    this.slots = new Int32Array(length).fill(-1);
    for (let row = 0; row < count; row++) {
      if (!(columns.flags[row]! & FLAG.hashed) || wins[row] !== 1) continue;
      let slot = this.slotOf(columns.hashHigh[row]!, columns.hashLow[row]!);
      while (this.slots[slot]! >= 0) slot = (slot + 1) & this.mask;
      this.slots[slot] = row;
    }
  }

  /** The row whose hash has these halves, or -1. */
  find(high: number, low: number): number {
    const { hashHigh, hashLow } = this.catalogue.columns;
    for (let slot = this.slotOf(high, low); ; slot = (slot + 1) & this.mask) {
      const row = this.slots[slot]!;
      if (row < 0 || (hashLow[row] === low && hashHigh[row] === high)) return row;
    }
  }

  private slotOf(high: number, low: number): number {
    return (Math.imul(low ^ Math.imul(high, 0x9e3779b1), 0x85ebca6b) >>> 7) & this.mask;
  }
}

/**
 * Entries whose hash stands in some bytes at a multiple of four, in either byte order. A hash of 64 bits does not get there by
 * chance; those of 32 bits are looked for only where hardly one would.
 */
export function hashReferences(bytes: Uint8Array, index: HashIndex, most: number): HashReferences {
  const words = Math.floor(bytes.length / STEP);
  const expected = (2 * words * index.narrow) / 2 ** 32;
  const narrow = index.narrow > 0 && expected <= MOST_BY_CHANCE;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  const found = new Map<number, HashReference>();
  const take = (row: number, byteOffset: number): void => {
    if (row >= 0 && !found.has(row)) found.set(row, { row, byteOffset });
  };
  for (let at = 0; at + STEP <= bytes.length && found.size < most; at += STEP) {
    const [little, big] = [view.getUint32(at, true), view.getUint32(at, false)];
    if (narrow) {
      if (little >= LEAST_HASH) take(index.find(0, little), at);
      if (big >= LEAST_HASH) take(index.find(0, big), at);
    }
    if (index.wide === 0 || at + 2 * STEP > bytes.length) continue;
    const [nextLittle, nextBig] = [view.getUint32(at + STEP, true), view.getUint32(at + STEP, false)];
    if (nextLittle >= LEAST_HASH) take(index.find(nextLittle, little), at);
    if (big >= LEAST_HASH) take(index.find(big, nextBig), at);
  }
  return {
    found: [...found.values()],
    byChance: index.narrow > 0 && !narrow ? expected : undefined,
  };
}
