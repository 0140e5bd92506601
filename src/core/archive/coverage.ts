import type { Coverage, Stretch } from './archive';

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
