import type { Coverage, Stretch } from './archive';
import type { EntryFacts } from './group-entries';

/** What is explained, left over or claimed twice among stretches of files of these lengths. */
export function coverageOf(stretches: readonly Stretch[], lengths: readonly number[]): Coverage {
  const each = lengths.map((length, file) =>
    coverageOfFile(
      stretches.filter((stretch) => stretch.file === file),
      length,
      file,
    ),
  );
  return {
    explained: each.reduce((sum, { explained }) => sum + explained, 0),
    gaps: each.flatMap(({ gaps }) => gaps),
    overlaps: each.flatMap(({ overlaps }) => overlaps),
  };
}

function coverageOfFile(stretches: readonly Stretch[], total: number, file: number): Coverage {
  const sorted = stretches
    .filter(({ length }) => length > 0)
    .sort((a, b) => a.offset - b.offset || b.length - a.length);
  const gaps: Stretch[] = [];
  const overlaps: Stretch[] = [];
  let end = 0;
  let explained = 0;
  let last: Stretch | undefined;
  for (const stretch of sorted) {
    const stop = stretch.offset + stretch.length;
    if (stretch.offset > end)
      gaps.push({ offset: end, length: stretch.offset - end, what: 'unexplained', file });
    const same = last?.offset === stretch.offset && last.length === stretch.length;
    if (stretch.offset < end && !same)
      overlaps.push({
        offset: stretch.offset,
        length: Math.min(end, stop) - stretch.offset,
        what: `${last?.what} and ${stretch.what}`,
        file,
      });
    explained += Math.max(0, stop - Math.max(end, stretch.offset));
    if (stop > end) end = stop;
    last = stretch;
  }
  if (end < total) gaps.push({ offset: end, length: total - end, what: 'unexplained', file });
  return { explained, gaps, overlaps };
}

/**
 * The stretches of payloads. Neighbours that lie side by side become one, since a million entries are often a few
 * stretches; one that several entries share counts once, and what overlaps stays apart.
 */
export function payloadStretches(
  facts: EntryFacts,
  lengths: readonly number[],
  pathOf: (index: number) => string,
): Stretch[] {
  const { offsets, stored, base } = facts;
  const whole = sideBySide(facts, lengths);
  if (whole) return [{ ...whole, what: pathOf(base) }];
  const found: Stretch[] = [];
  let run: { offset: number; length: number; what: string; file: number } | undefined;
  let before = -1;
  for (const i of inOrderOfPlaces(facts)) {
    const offset = offsets[i]!;
    const length = stored[i]!;
    const file = facts.files?.[i] ?? facts.file;
    if (length === 0 || offset + length > lengths[file]!) continue;
    const isShared =
      before >= 0 &&
      offsets[before] === offset &&
      stored[before] === length &&
      (facts.files?.[before] ?? facts.file) === file;
    before = i;
    if (isShared) continue;
    if (run?.file === file && run.offset + run.length === offset) {
      run.length += length;
      continue;
    }
    const stretch = {
      offset,
      length,
      file,
      get what() {
        return pathOf(base + i);
      },
    };
    found.push(stretch);
    // What reaches into the run before must not carry it on.
    if (!run || run.file !== file || offset >= run.offset + run.length) run = stretch;
  }
  return found;
}

/** The one stretch that payloads make where each begins behind the one before it, as in most archives. */
function sideBySide(
  { offsets, stored, files, file, count }: EntryFacts,
  lengths: readonly number[],
): { offset: number; length: number; file: number } | undefined {
  if (files || count === 0) return undefined;
  const offset = offsets[0]!;
  let at = offset;
  for (let i = 0; i < count; i++) {
    if (offsets[i] !== at) return undefined;
    at += stored[i]!;
  }
  return at > offset && at <= lengths[file]! ? { offset, length: at - offset, file } : undefined;
}

/** Numbers of entries by file and place; most archives have them in that order already. */
function inOrderOfPlaces({ offsets, stored, files, count }: EntryFacts): Uint32Array {
  const order = new Uint32Array(count);
  let isSorted = true;
  for (let i = 0; i < count; i++) {
    order[i] = i;
    if (i > 0 && (offsets[i]! < offsets[i - 1]! || files?.[i] !== files?.[i - 1])) isSorted = false;
  }
  if (isSorted) return order;
  return order.sort(
    (a, b) =>
      (files ? files[a]! - files[b]! : 0) || offsets[a]! - offsets[b]! || stored[b]! - stored[a]! || a - b,
  );
}
