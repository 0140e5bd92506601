import type { ByteSource } from '../bytes';
import type { KeyProbe } from './key-probe';
import { scheduledKeys } from './key-schedule';
import {
  base64Keys,
  halvedKeys,
  hexKeys,
  leastDistinct,
  MARGIN,
  rawKeys,
  type Spelling,
  type Stretch,
  type Visit,
} from './spellings';

/** A key that was found and proved. */
export interface FoundKey {
  readonly key: Uint8Array;
  /** Where it begins in the program, in bytes. */
  readonly offset: number;
  readonly spelling: Spelling;
  /** Entries of the archive that it opened. */
  readonly entries: number;
}

export interface KeySearch {
  readonly found: readonly FoundKey[];
  /** Candidates that were held against the archive. */
  readonly tested: number;
}

export interface KeySearchOptions {
  /** All keys instead of the first. */
  readonly all?: boolean;
  /** The part of the program in which keys are to begin; all of it where nothing is said. */
  readonly from?: number;
  readonly to?: number;
  /** Told how many bytes of all looks have been gone through; throwing ends the search. */
  readonly progress?: (done: number, total: number) => void;
}

const PIECE = 1 << 20;
/** The same key may lie in a program many times. */
const MOST_FOUND = 64;

type Look = (stretch: Stretch, length: number, visit: Visit) => boolean;

/**
 * The looks at a program, from those that take least to the one that takes most: what is spelled as text or expanded for
 * use, then bytes at every place that are as varied as those of a key, then halves, then bytes that are less varied, and
 * in the end what lies in the midst of packed data.
 */
const LOOKS: readonly Look[] = [
  (stretch, length, visit) =>
    scheduledKeys(stretch, length, visit) ||
    hexKeys(stretch, length, visit) ||
    base64Keys(stretch, length, visit),
  (stretch, length, visit) =>
    rawKeys(stretch, length, { least: leastDistinct(length).strict, most: length, where: 'alone' }, visit),
  halvedKeys,
  (stretch, length, visit) => {
    const { strict, patient } = leastDistinct(length);
    return rawKeys(stretch, length, { least: patient, most: strict - 1, where: 'alone' }, visit);
  },
  (stretch, length, visit) =>
    rawKeys(stretch, length, { least: leastDistinct(length).strict, most: length, where: 'crowds' }, visit),
];

/** Looks for keys in the bytes of a program and proves each against a locked archive. */
export function findKeys(program: ByteSource, probe: KeyProbe, options: KeySearchOptions = {}): KeySearch {
  const { from = 0, to = program.length, all = false, progress } = options;
  const found: FoundKey[] = [];
  const known = new Set<string>();
  let tested = 0;
  const visit: Visit = (key, offset, spelling) => {
    tested++;
    if (!probe.passes(key)) return false;
    const text = key.join();
    if (known.has(text)) return false;
    const entries = probe.opens(key);
    if (typeof entries !== 'number') return false;
    known.add(text);
    found.push({ key: key.slice(), offset, spelling, entries });
    return !all || found.length >= MOST_FOUND;
  };
  const total = (to - from) * LOOKS.length;
  let done = 0;
  for (const look of LOOKS)
    for (let base = from; base < to; base += PIECE) {
      const own = Math.min(PIECE, to - base);
      const bytes = program.read(base, Math.min(own + MARGIN, program.length - base)).slice();
      for (const length of probe.lengths)
        if (look({ bytes, base, own }, length, visit)) return { found, tested };
      done += own;
      progress?.(done, total);
    }
  return { found, tested };
}
