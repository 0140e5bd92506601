import type { Finding } from '@/core/fit';
import { foundInFilm } from './wording';

/** How a player has to read pictures: how fast, and how far it is to where it can begin again. */
export interface Flow {
  /** Bits a second. */
  readonly bitRate: number;
  /** The most seconds from a picture that a player can begin at to the next; undefined where that is not known. */
  readonly keySeconds: number | undefined;
}

/** More bits than this share above the old film's are pointed out. */
const MORE_BITS = 1.25;
/** Pictures that one can begin at may lie so much farther apart. */
const MORE_APART = 1.5;
const LEAST_APART = 0.5;

/** What is harder on a player than what it read before. */
export function flowFindings(made: Flow, old: Flow): Finding[] {
  const [is, was] = [made.keySeconds, old.keySeconds];
  const isApart = is !== undefined && was !== undefined && is > MORE_APART * was && is - was > LEAST_APART;
  return [
    ...(made.bitRate > MORE_BITS * old.bitRate
      ? [foundInFilm('look', 'more-bits', { is: made.bitRate, was: old.bitRate })]
      : []),
    ...(isApart ? [foundInFilm('look', 'keys-apart', { is, was })] : []),
  ];
}
