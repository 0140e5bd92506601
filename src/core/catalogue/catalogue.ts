import { codeOfKind, endingOf, kindOfCode, type Kind, type SaidKinds } from '../kinds';
import { makeFolders, type Folder } from './folders';
import { LineSearch } from './line-search';
import { compareLines, lineText, nameStart, rowsWithStart } from './lines';
import { FLAG } from './listing';
import type { FactColumn } from './facts';
import { isMeasuredSort, MEASURED_SORTS, measuredOrder, type Measures } from './measures';
import type { CatalogueColumns } from './merge';
import { orderOf } from './radix';
import { joinFacts } from './told-facts';

export const SORTS = [
  'path',
  'name',
  'size',
  'stored',
  'kind',
  'archive',
  'modified',
  'number',
  ...MEASURED_SORTS,
] as const;
export type Sort = (typeof SORTS)[number];

/** One row as it is shown. */
export interface CatalogueRow {
  readonly row: number;
  readonly path: string;
  /** Position of the archive in the catalogue's list. */
  readonly archive: number;
  /** Number in the archive, from 0. */
  readonly number: number;
  readonly size: number;
  readonly stored: number;
  readonly modified: number | undefined;
  readonly kind: Kind;
  readonly isNamed: boolean;
  readonly isGuessed: boolean;
  readonly hasProblem: boolean;
  readonly wins: boolean;
  /** 16 hexadecimal digits. */
  readonly hash: string | undefined;
}

const encoder = new TextEncoder();
const decoder = new TextDecoder();
const hex = (half: number): string => half.toString(16).padStart(8, '0');

/**
 * Everything that the open archives of a game hold, as one tree: sorted by path, searchable, with the row of each path that
 * answers under a load order.
 */
export class Catalogue {
  readonly count: number;
  /** Holds the paths; `columns.lines` and `columns.ends` lie in its memory. */
  readonly search: LineSearch;
  /** 1 for each row that answers for its path. */
  readonly wins: Uint8Array;
  private ranks: readonly number[] = [];
  private folderTree: Folder | undefined;
  /** Kinds as the scan told them, once somebody has said otherwise. */
  private scanned: Uint8Array | undefined;
  private saidBefore = '';
  private readonly orders = new Map<Sort, Uint32Array>();
  /** How many rows have a measure, of the orders by one. */
  private readonly known = new Map<Sort, number>();
  /** What was measured of entries so far; undefined where nothing was. */
  measures: Measures | undefined;
  private measuredBefore = '';

  /** `columns` without paths; those are filled into `search` already. */
  constructor(
    search: LineSearch,
    readonly columns: Omit<CatalogueColumns, 'lines' | 'ends'>,
  ) {
    this.count = columns.count;
    this.search = search;
    this.wins = new Uint8Array(this.count);
    this.facts = columns.facts;
  }

  /** Copies merged columns, paths and all. */
  static of({ lines, ends, ...columns }: CatalogueColumns): Catalogue {
    const search = new LineSearch(lines.length, columns.count);
    search.lines.set(lines);
    search.ends.set(ends);
    return new Catalogue(search, columns);
  }

  /**
   * Settles which rows answer: of one path the row of the archive with the highest rank, of equal ranks the later archive,
   * within an archive the first row. Does nothing where the ranks are as they were. A rank of -Infinity hides an archive.
   */
  settle(ranks: readonly number[]): void {
    if (ranks.length === this.ranks.length && ranks.every((rank, i) => rank === this.ranks[i])) return;
    this.ranks = [...ranks];
    this.folderTree = undefined;
    const { archives } = this.columns;
    this.wins.fill(0);
    for (let from = 0; from < this.count;) {
      let best = from;
      let to = from + 1;
      for (; to < this.count && compareLines(this.search, from, this.search, to) === 0; to++) {
        const [a, b] = [archives[to]!, archives[best]!];
        if (ranks[a]! > ranks[b]! || (ranks[a] === ranks[b] && a > b)) best = to;
      }
      if (ranks[archives[best]!] !== Number.NEGATIVE_INFINITY) this.wins[best] = 1;
      from = to;
    }
  }

  /**
   * Puts what the user said of kinds over what the scan told; `stamp` changes whenever that does. Of a path all rows are said, of an
   * ending all that bear it and are not said by their path.
   */
  say({ paths, endings }: SaidKinds, stamp: string): void {
    if (stamp === this.saidBefore) return;
    this.saidBefore = stamp;
    const { kinds } = this.columns;
    this.scanned ??= kinds.slice();
    kinds.set(this.scanned);
    this.orders.delete('kind');
    if (endings.size > 0)
      for (let row = 0; row < this.count; row++) {
        const kind = endings.get(endingOf(this.nameOf(row)));
        if (kind) kinds[row] = codeOfKind(kind);
      }
    for (const [path, kind] of paths) for (const row of this.stack(path)) kinds[row] = codeOfKind(kind);
  }

  /** What scripts show of entries, and tables of codes say of them. */
  facts: readonly FactColumn[];

  /** Takes what tables of codes say of entries. */
  tell(told: readonly FactColumn[]): void {
    this.facts = joinFacts(this.columns.facts, told);
  }

  /** Takes what was measured of entries; `stamp` changes whenever that or the load order does. */
  measure(make: () => Measures | undefined, stamp: string): void {
    if (stamp === this.measuredBefore) return;
    this.measuredBefore = stamp;
    this.measures = make();
    for (const sort of MEASURED_SORTS) {
      this.orders.delete(sort);
      this.known.delete(sort);
    }
  }

  /** How many rows of an order have what it goes by. */
  knownIn(sort: Sort): number {
    this.order(sort);
    return this.known.get(sort) ?? this.count;
  }

  private nameOf(row: number): string {
    const { lines, ends } = this.search;
    return decoder.decode(lines.subarray(nameStart(this.search, row), ends[row]!));
  }

  path(row: number): string {
    return lineText(this.search, row);
  }

  at(row: number): CatalogueRow {
    const { columns } = this;
    const flags = columns.flags[row]!;
    const modified = columns.modified[row]!;
    return {
      row,
      path: this.path(row),
      archive: columns.archives[row]!,
      number: columns.numbers[row]!,
      size: columns.sizes[row]!,
      stored: columns.stored[row]!,
      modified: Number.isNaN(modified) ? undefined : modified,
      kind: kindOfCode(columns.kinds[row]!),
      isNamed: (flags & FLAG.named) !== 0,
      isGuessed: (flags & FLAG.guessed) !== 0,
      hasProblem: (flags & FLAG.problem) !== 0,
      wins: this.wins[row] === 1,
      hash: flags & FLAG.hashed ? hex(columns.hashHigh[row]!) + hex(columns.hashLow[row]!) : undefined,
    };
  }

  /** All rows whose path begins with a text; a folder ends in a slash. */
  within(start: string): [number, number] {
    return start === '' ? [0, this.count] : rowsWithStart(this.search, encoder.encode(start));
  }

  /** All rows of a path, the one that answers first, then down the load order. */
  stack(path: string): number[] {
    // With its line end, so that longer paths that begin with it are none of them.
    const [from, to] = rowsWithStart(this.search, encoder.encode(`${path}\n`));
    const rows = Array.from({ length: to - from }, (_, i) => from + i);
    const { archives } = this.columns;
    const rank = (row: number): number => this.ranks[archives[row]!] ?? 0;
    return rows.sort((a, b) => rank(b) - rank(a) || archives[b]! - archives[a]! || a - b);
  }

  /** The row of an entry, or -1. Built when it is first asked for. */
  rowOf(archive: number, number: number): number {
    return this.places()[archive]?.[number] ?? -1;
  }

  private placesOf: Int32Array[] | undefined;
  private places(): Int32Array[] {
    if (this.placesOf) return this.placesOf;
    const { archives, numbers } = this.columns;
    const lengths: number[] = [];
    for (let row = 0; row < this.count; row++) {
      const archive = archives[row]!;
      lengths[archive] = Math.max(lengths[archive] ?? 0, numbers[row]! + 1);
    }
    const places = lengths.map((length) => new Int32Array(length).fill(-1));
    for (let row = 0; row < this.count; row++) places[archives[row]!]![numbers[row]!] = row;
    return (this.placesOf = places);
  }

  /** The folders with counts and bytes of what answers below them. */
  folders(): Folder {
    return (this.folderTree ??= makeFolders(this.search, this.columns.sizes, this.wins));
  }

  /** Rows in an order; `undefined` for the order they stand in. */
  order(sort: Sort): Uint32Array | undefined {
    if (sort === 'path') return undefined;
    if (sort === 'name') return this.columns.byName;
    let known = this.orders.get(sort);
    if (!known && isMeasuredSort(sort)) {
      const values = this.measures?.of[sort] ?? new Float64Array(this.count).fill(Number.NaN);
      const measured = measuredOrder(values);
      this.orders.set(sort, (known = measured.order));
      this.known.set(sort, measured.known);
    } else if (!known) {
      const { sizes, stored, modified, kinds, archives, numbers } = this.columns;
      const columns = { size: sizes, stored, modified, kind: kinds, archive: archives, number: numbers };
      const keys = columns[sort as keyof typeof columns];
      known = orderOf(keys);
      this.orders.set(sort, known);
    }
    return known;
  }
}
