import type { Run } from '@/core/catalogue';

/** A row of the wall: the title of a folder, or entries from one number to before another. */
export type WallRow =
  | { readonly sort: 'title'; readonly folder: string; readonly count: number }
  | { readonly sort: 'entries'; readonly from: number; readonly to: number };

/** Lays a list out in rows of so many columns; each run of a folder begins a row of its own under its title. */
export function wallRows(total: number, columns: number, runs: readonly Run[] | undefined): WallRow[] {
  const rows: WallRow[] = [];
  const add = (from: number, to: number): void => {
    for (let at = from; at < to; at += columns)
      rows.push({ sort: 'entries', from: at, to: Math.min(to, at + columns) });
  };
  if (!runs) {
    add(0, total);
    return rows;
  }
  let at = 0;
  for (const { folder, count } of runs) {
    const end = Math.min(total, at + count);
    if (end <= at) break;
    rows.push({ sort: 'title', folder, count });
    add(at, end);
    at = end;
  }
  // The list may have grown since its folders were told.
  if (at < total) add(at, total);
  return rows;
}

/** The row that a picture is in. */
export function rowOf(rows: readonly WallRow[], index: number): number {
  let low = 0;
  let high = rows.length - 1;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (endOf(rows, middle) > index) high = middle;
    else low = middle + 1;
  }
  return low;
}

/** Where a row ends; a title is where the row behind it begins. */
function endOf(rows: readonly WallRow[], at: number): number {
  const row = rows[at]!;
  if (row.sort === 'entries') return row.to;
  const next = rows[at + 1];
  return next?.sort === 'entries' ? next.from : 0;
}
