import { createHash } from 'node:crypto';
import { NameList } from '@/core/archive';
import { FLAG } from '@/core/catalogue';
import { readListing } from '@/platform/node/catalogue-files';
import type { ArchiveOutcome } from './look-into';

const LINE_END = 10;

export const digestOfNames = ({ lines }: NameList): string => createHash('sha1').update(lines).digest('hex');

/** All of an outcome with those within it. */
export function* withNested(outcomes: readonly ArchiveOutcome[]): Generator<ArchiveOutcome> {
  for (const outcome of outcomes) {
    yield outcome;
    yield* withNested(outcome.nested);
  }
}

/** The names that archives know by themselves, together with those given: names of one are names in all. */
export function knownNames(given: NameList, outcomes: readonly ArchiveOutcome[]): NameList {
  const pieces: Uint8Array[] = given.lines.length > 0 ? [given.lines, Uint8Array.of(LINE_END)] : [];
  for (const outcome of withNested(outcomes)) {
    if (outcome.named === 0 || outcome.state !== 'open') continue;
    const { lines, ends, flags, count } = readListing(outcome.listing);
    const under = underOf(outcome.path);
    let start = 0;
    // Neighbouring lines go over as one piece.
    let from = -1;
    for (let row = 0; row < count; row++) {
      const isNamed = (flags[row]! & FLAG.named) !== 0;
      if (under > 0) {
        if (isNamed) pieces.push(lines.subarray(start + under, ends[row]! + 1));
      } else if (isNamed && from < 0) from = start;
      else if (!isNamed && from >= 0) {
        pieces.push(lines.subarray(from, start));
        from = -1;
      }
      start = ends[row]! + 1;
    }
    if (from >= 0) pieces.push(lines.subarray(from, start));
  }
  const joined = new Uint8Array(pieces.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const piece of pieces) {
    joined.set(piece, at);
    at += piece.length;
  }
  return NameList.parse(joined);
}

/** How many bytes of an inner archive's paths say where it lies: `a.hold//b.hold` has its entries under `b.hold/`. */
function underOf(path: string): number {
  const at = path.indexOf('//');
  return at < 0 ? 0 : new TextEncoder().encode(path.slice(at + 2).replaceAll('//', '/')).length + 1;
}
