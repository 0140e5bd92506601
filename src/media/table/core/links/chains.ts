import type { Reference, ReferenceIndex } from './reference-index';

/** A row of a chain, and how many steps it is from where it began. */
export interface ChainRow {
  readonly row: number;
  readonly depth: number;
  /** Rows beyond it that are not shown. */
  readonly hidden: number;
}

export interface Chain {
  readonly rows: readonly ChainRow[];
  readonly steps: readonly (Reference & {
    /** Whether it goes back to a row that leads here: a circle. */
    readonly isCircle: boolean;
  })[];
  /** Whether the bound of rows or of steps left something out. */
  readonly isCut: boolean;
}

/**
 * Rows that lead to one, or that come of it, step by step (breadth first), up to a depth and a number of rows. A step to a row from which this one is reached is a circle, and is not followed again.
 */
export function chainOf(
  index: ReferenceIndex,
  start: number,
  direction: 'leads here' | 'comes of it',
  { depth: most, rows: mostRows }: { readonly depth: number; readonly rows: number },
): Chain {
  const around = (row: number): Iterable<Reference> =>
    direction === 'leads here' ? index.into(row) : index.outOf(row);
  const otherOf = (step: Reference): number => (direction === 'leads here' ? step.from : step.to);
  const depths = new Map<number, number>([[start, 0]]);
  const before = new Map<number, number>();
  const hidden = new Map<number, number>();
  const steps: (Reference & { isCircle: boolean })[] = [];
  let isCut = false;
  const queue = [start];
  const told = new Set<string>();
  const isAbove = (row: number, other: number): boolean => {
    for (let at: number | undefined = row; at !== undefined; at = before.get(at))
      if (at === other) return true;
    return false;
  };
  for (let i = 0; i < queue.length; i++) {
    const row = queue[i]!;
    const depth = depths.get(row)!;
    for (const step of around(row)) {
      const other = otherOf(step);
      const known = depths.has(other);
      if (!known && (depth >= most || depths.size >= mostRows)) {
        isCut = true;
        hidden.set(row, (hidden.get(row) ?? 0) + 1);
        continue;
      }
      if (!known) {
        depths.set(other, depth + 1);
        before.set(other, row);
        queue.push(other);
      }
      // A list that says a row several times says it once here.
      const name = `${row} ${other} ${step.link}`;
      if (told.has(name)) continue;
      told.add(name);
      if (steps.length < mostRows * 8) steps.push({ ...step, isCircle: known && isAbove(row, other) });
      else isCut = true;
    }
  }
  return {
    rows: queue.map((row) => ({ row, depth: depths.get(row)!, hidden: hidden.get(row) ?? 0 })),
    steps,
    isCut,
  };
}
