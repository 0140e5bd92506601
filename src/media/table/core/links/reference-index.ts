import type { KeyField, TableFields } from './guess-links';

/** That a field of one table means rows of another, by a field of that. */
export interface TableLink {
  readonly from: number;
  readonly field: number;
  readonly to: number;
  readonly by: number;
}

/** A row says another one in a field. Rows are counted through all tables. */
export interface Reference {
  readonly from: number;
  readonly to: number;
  /** Number of the link. */
  readonly link: number;
}

/** A value of a linked field that no row of the other table has. */
export interface Dangling {
  readonly from: number;
  readonly link: number;
  readonly value: number | string;
}

/** So many that lead nowhere are kept. */
const MOST_DANGLING = 10_000;

/**
 * Every reference between rows of tables, followed from both ends at once: sorted by either end, with the place of each row's first one (compressed sparse rows), 20 bytes a reference.
 */
export class ReferenceIndex {
  /** The number of the first row of each table, and of the row behind the last. */
  readonly starts: Uint32Array;
  readonly count: number;
  readonly dangling: readonly Dangling[];
  private readonly outAt: Uint32Array;
  private readonly outTo: Uint32Array;
  private readonly outLink: Uint16Array;
  private readonly inAt: Uint32Array;
  private readonly inFrom: Uint32Array;
  private readonly inLink: Uint16Array;

  constructor(
    tables: readonly TableFields[],
    readonly links: readonly TableLink[],
    keys: readonly KeyField[],
  ) {
    if (links.length > 0xffff) throw new RangeError('too many links between tables');
    this.starts = new Uint32Array(tables.length + 1);
    tables.forEach(({ count }, i) => (this.starts[i + 1] = this.starts[i]! + count));
    const byKey = new Map(keys.map((key) => [`${key.table} ${key.field}`, key.rows]));
    const dangling: Dangling[] = [];
    const found: { from: Uint32Array; to: Uint32Array; link: number; count: number }[] = [];
    for (const [link, { from, field, to, by }] of links.entries()) {
      const rows = byKey.get(`${to} ${by}`);
      const own = tables[from]?.fields[field];
      if (!rows || !own) continue;
      const size = own.numbers.length + own.texts.length;
      const made = { from: new Uint32Array(size), to: new Uint32Array(size), link, count: 0 };
      const note = (value: number | string, row: number): void => {
        const target = rows.get(value);
        if (target !== undefined) {
          made.from[made.count] = this.starts[from]! + row;
          made.to[made.count++] = this.starts[to]! + target;
        } else if (value !== 0 && value !== -1 && value !== '' && dangling.length < MOST_DANGLING)
          dangling.push({ from: this.starts[from]! + row, link, value });
      };
      own.numbers.forEach((value, i) => note(value, own.numberRows[i]!));
      own.texts.forEach((value, i) => note(value, own.textRows[i]!));
      found.push(made);
    }
    this.dangling = dangling;
    this.count = found.reduce((sum, { count }) => sum + count, 0);
    const rows = this.starts[tables.length]!;
    [this.outAt, this.outTo, this.outLink] = sorted(rows, this.count, found, 'from', 'to');
    [this.inAt, this.inFrom, this.inLink] = sorted(rows, this.count, found, 'to', 'from');
  }

  /** The table of a row, and its number there. */
  placeOf(row: number): { readonly table: number; readonly row: number } {
    let [low, high] = [0, this.starts.length - 1];
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (this.starts[middle]! <= row) low = middle;
      else high = middle;
    }
    return { table: low, row: row - this.starts[low]! };
  }

  rowOf(table: number, row: number): number {
    return this.starts[table]! + row;
  }

  /** What a row says, in the order of links. */
  *outOf(row: number): Generator<Reference> {
    for (let i = this.outAt[row]!; i < this.outAt[row + 1]!; i++)
      yield { from: row, to: this.outTo[i]!, link: this.outLink[i]! };
  }

  /** What says a row. */
  *into(row: number): Generator<Reference> {
    for (let i = this.inAt[row]!; i < this.inAt[row + 1]!; i++)
      yield { from: this.inFrom[i]!, to: row, link: this.inLink[i]! };
  }

  countInto(row: number): number {
    return this.inAt[row + 1]! - this.inAt[row]!;
  }
}

/** References by one end, counted and laid out (counting sort). */
function sorted(
  rows: number,
  count: number,
  found: readonly { from: Uint32Array; to: Uint32Array; link: number; count: number }[],
  end: 'from' | 'to',
  other: 'from' | 'to',
): [Uint32Array, Uint32Array, Uint16Array] {
  const at = new Uint32Array(rows + 1);
  for (const part of found) for (let i = 0; i < part.count; i++) at[part[end][i]! + 1]!++;
  for (let row = 0; row < rows; row++) at[row + 1]! += at[row]!;
  const next = at.slice(0, rows);
  const ends = new Uint32Array(count);
  const links = new Uint16Array(count);
  for (const part of found)
    for (let i = 0; i < part.count; i++) {
      const place = next[part[end][i]!]!++;
      ends[place] = part[other][i]!;
      links[place] = part.link;
    }
  return [at, ends, links];
}
