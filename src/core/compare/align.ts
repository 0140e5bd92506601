import type { Difference } from './differences';

/** So many equal bytes in a row say that two stretches belong together. */
const ANCHOR = 8;
const TABLE_BITS = 18;
/** Places with the same bytes that are looked at; more are runs of one value, which say little. */
const MOST_PLACES = 48;
/** How far a stretch may be from where it was looked for. */
const MOST_REACH = 1 << 16;

const keyAt = (bytes: Uint8Array, at: number): number => {
  let key = 0;
  for (let i = 0; i < ANCHOR; i++) key = (Math.imul(key, 0x01000193) ^ bytes[at + i]!) | 0;
  return (Math.imul(key, 0x9e3779b1) >>> (32 - TABLE_BITS)) | 0;
};

const isAnchor = (a: Uint8Array, atA: number, b: Uint8Array, atB: number): boolean => {
  for (let i = 0; i < ANCHOR; i++) if (a[atA + i] !== b[atB + i]) return false;
  return true;
};

/**
 * Where two things differ when what was put in or taken out is set apart: stretches of the first, each with the stretch of the second
 * that stands in its place. Between them both are equal. Takes the nearest common stretch of eight bytes each time, which is quick and
 * mostly what a reader would see, not the shortest list there is.
 */
export function alignBytes(
  a: Uint8Array,
  b: Uint8Array,
  most: number,
): { differences: Difference[]; hasMore: boolean } {
  const places = placesOf(b);
  const differences: Difference[] = [];
  let [atA, atB] = [0, 0];
  for (;;) {
    while (atA < a.length && atB < b.length && a[atA] === b[atB]) {
      atA++;
      atB++;
    }
    if (atA >= a.length && atB >= b.length) return { differences, hasMore: false };
    if (differences.length >= most) return { differences, hasMore: true };
    const [nextA, nextB] = nextCommon(a, atA, b, atB, places) ?? [a.length, b.length];
    differences.push({
      offset: atA,
      length: nextA - atA,
      other: { offset: atB, length: nextB - atB },
    });
    [atA, atB] = [nextA, nextB];
  }
}

interface Places {
  /** The last place of each key, and for each place the one before it; -1 for none. */
  readonly last: Int32Array;
  readonly before: Int32Array;
}

function placesOf(b: Uint8Array): Places {
  const last = new Int32Array(1 << TABLE_BITS).fill(-1);
  const before = new Int32Array(Math.max(0, b.length - ANCHOR + 1));
  for (let at = before.length - 1; at >= 0; at--) {
    const key = keyAt(b, at);
    before[at] = last[key]!;
    last[key] = at;
  }
  return { last, before };
}

/** The common stretch that is nearest behind two places; chains lead from the first place on. */
function nextCommon(
  a: Uint8Array,
  fromA: number,
  b: Uint8Array,
  fromB: number,
  { last, before }: Places,
): [number, number] | undefined {
  let best: [number, number] | undefined;
  let cost = MOST_REACH;
  const end = Math.min(a.length - ANCHOR, fromA + MOST_REACH);
  for (let atA = fromA; atA <= end && atA - fromA <= cost; atA++) {
    // What lies straight across is the better of two that are as near: a byte changed in place moves nothing.
    const across = fromB + (atA - fromA);
    if (atA - fromA <= cost && across <= b.length - ANCHOR && isAnchor(a, atA, b, across)) {
      best = [atA, across];
      cost = atA - fromA;
    }
    let seen = 0;
    const key = keyAt(a, atA);
    // What lies before the place is never asked for again, so the chain begins behind it from now on.
    while (last[key]! >= 0 && last[key]! < fromB) last[key] = before[last[key]!]!;
    for (let atB = last[key]!; atB >= 0 && seen < MOST_PLACES; atB = before[atB]!) {
      seen++;
      const steps = atA - fromA + (atB - fromB);
      if (steps >= cost) break;
      if (!isAnchor(a, atA, b, atB)) continue;
      best = [atA, atB];
      cost = steps;
      break;
    }
  }
  return best;
}
