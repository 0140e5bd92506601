import { codeOfKind, KIND_CODES } from '../kinds';
import type { Catalogue, Sort } from './catalogue';
import { factKey } from './fact-key';
import type { FactColumn } from './facts';
import { isFinest } from './finest';
import { fitsPattern, fitsPatternBytes, longestLiteral } from './glob';
import { MOST_PIECE_BYTES } from './line-search';
import { compareLines, lineStart, nameStart } from './lines';
import { FLAG } from './listing';
import { FOUND } from './measures';
import type { Condition, State, Term } from './query';

/** What a search needs to know besides the catalogue. */
export interface FindContext {
  /** Paths of the catalogue's archives, by position. */
  readonly archives: readonly string[];
  /** Rows that bear a tag with this text in it. */
  tagged?(text: string): Iterable<number>;
  /** Rows whose own readable name has this text in it. */
  called?(text: string): Iterable<number>;
  /** Codes whose readable name has this text in it; they are looked for in paths too. */
  codes?(text: string): readonly string[];
  /** The rows that an expression fits, worked out elsewhere, since it may take any time. */
  readonly expressions?: ReadonlyMap<string, Uint8Array>;
}

export interface Wanted {
  /** Only below this folder, such as `actors/odd/`; empty for all. */
  readonly folder: string;
  readonly terms: readonly Term[];
  /** Only one archive, with what others hide of it; otherwise what answers. */
  readonly archive: number | undefined;
}

const encoder = new TextEncoder();
const DOT = 46;

/** Marks with a 1 every row that is wanted. */
export function findRows(catalogue: Catalogue, wanted: Wanted, context: FindContext): Uint8Array {
  const { count, columns, wins } = catalogue;
  const [from, to] = catalogue.within(wanted.folder);
  const mask = new Uint8Array(count);
  const states = wanted.terms.flatMap(({ condition, isNot }) =>
    condition.sort === 'state' && !isNot ? [condition.state] : [],
  );
  // Asking for what is hidden, or stands there more than once, takes in what does not answer.
  if (wanted.archive !== undefined) {
    const { archives } = columns;
    for (let row = from; row < to; row++) mask[row] = archives[row] === wanted.archive ? 1 : 0;
  } else if (states.includes('hidden') || states.includes('doubled')) mask.fill(1, from, to);
  else mask.set(wins.subarray(from, to), from);
  for (const { condition, isNot } of wanted.terms) {
    const fits = rowsOf(catalogue, condition, context, mask);
    const want = isNot ? 0 : 1;
    for (let row = from; row < to; row++) if (fits[row] !== want) mask[row] = 0;
  }
  return mask;
}

/** The rows that one condition fits. May be right only where `among` has a 1. */
function rowsOf(
  catalogue: Catalogue,
  condition: Condition,
  context: FindContext,
  among: Uint8Array,
): Uint8Array {
  const { count, columns } = catalogue;
  const each = (fits: (row: number) => boolean): Uint8Array => {
    const mask = new Uint8Array(count);
    for (let row = 0; row < count; row++) if (among[row] === 1 && fits(row)) mask[row] = 1;
    return mask;
  };
  switch (condition.sort) {
    case 'part':
      return partRows(catalogue, condition.text, context);
    case 'pattern':
      return patternRows(catalogue, condition.text, among, condition.text.includes('/'), false);
    case 'name':
      return patternRows(catalogue, condition.text, among, false, true);
    case 'expression': {
      const known = context.expressions?.get(condition.source);
      if (known) return known;
      const expression = new RegExp(condition.source, 'iu');
      return each((row) => expression.test(catalogue.path(row)));
    }
    case 'hash': {
      const { hashLow, hashHigh, flags } = columns;
      const least = condition.from.padEnd(16, '0');
      const most = condition.from.padEnd(16, 'f');
      const [leastHigh, leastLow] = halves(least);
      const [mostHigh, mostLow] = halves(most);
      return each((row) => {
        const [high, low] = [hashHigh[row]!, hashLow[row]!];
        return (
          (flags[row]! & FLAG.hashed) !== 0 &&
          (high > leastHigh || (high === leastHigh && low >= leastLow)) &&
          (high < mostHigh || (high === mostHigh && low <= mostLow))
        );
      });
    }
    case 'number':
      return each((row) => columns.numbers[row] === condition.number);
    case 'kind': {
      const kind = codeOfKind(condition.kind);
      return each((row) => columns.kinds[row] === kind);
    }
    case 'size':
      return each((row) => columns.sizes[row]! >= condition.least && columns.sizes[row]! <= condition.most);
    case 'archive': {
      const text = condition.text.toLowerCase();
      const wanted = context.archives.map((path) => path.toLowerCase().includes(text));
      return each((row) => wanted[columns.archives[row]!] === true);
    }
    case 'measure': {
      const { measure, least, most, value } = condition;
      const fact = factCalled(catalogue, measure);
      const fits = fact && fitsFact(fact, value);
      const values = catalogue.measures?.of[measure];
      return each((row) => {
        const number = values?.[row] ?? Number.NaN;
        if (Number.isNaN(number)) return fits?.(fact!.values[row]!) ?? false;
        return number >= least && number <= most;
      });
    }
    case 'field': {
      const fact = factCalled(catalogue, condition.title);
      if (!fact) return partRows(catalogue, `${condition.title}:${condition.value}`, context);
      const fits = fitsFact(fact, condition.value);
      return each((row) => fits(fact.values[row]!));
    }
    case 'tag':
      return marked(count, context.tagged?.(condition.text) ?? []);
    case 'state':
      return each((row) => hasState(catalogue, condition.state, row));
  }
}

/** A field that scripts show or tables tell, by its title in any case. */
const factCalled = ({ facts }: Catalogue, title: string): FactColumn | undefined =>
  facts.find((fact) => factKey(fact.title) === factKey(title));

/** `12`, `>12`, `<12` and `10..20` for numbers; words and patterns in any case for words. */
function fitsFact({ words }: FactColumn, wanted: string): (value: number) => boolean {
  if (words) {
    const pattern = wanted.toLowerCase();
    const fitting = words.map((word) => fitsPattern(pattern, word.toLowerCase()));
    return (value) => fitting[value] === true;
  }
  const found = /^([<>]?)(-?[\d.]+?)(?:\.\.(-?[\d.]+))?$/.exec(wanted);
  if (!found) return () => false;
  const [from, to] = [Number(found[2]), Number(found[3] ?? found[2])];
  if (found[1] === '>') return (value) => value > from;
  if (found[1] === '<') return (value) => value < from;
  return (value) => value >= from && value <= to;
}

/** How often the fields that scripts show have which words among the rows that are marked; the most frequent first. */
export function factCounts(
  { facts, count }: Catalogue,
  mask: Uint8Array,
  most: number,
): { title: string; key: string; values: { value: string; count: number }[] }[] {
  return facts.flatMap(({ title, words, values }) => {
    if (!words) return [];
    const counts = new Uint32Array(words.length);
    for (let row = 0; row < count; row++) if (mask[row] === 1 && values[row]! >= 0) counts[values[row]!]!++;
    const found = words
      .map((value, i) => ({ value, count: counts[i]! }))
      .filter((one) => one.count > 0)
      .sort((a, b) => b.count - a.count || a.value.localeCompare(b.value))
      .slice(0, most);
    return found.length > 0 ? [{ title, key: factKey(title), values: found }] : [];
  });
}

function hasState(catalogue: Catalogue, state: State, row: number): boolean {
  const { flags } = catalogue.columns;
  const { search, count } = catalogue;
  switch (state) {
    case 'problem':
      return (flags[row]! & FLAG.problem) !== 0;
    case 'named':
      return (flags[row]! & FLAG.named) !== 0;
    case 'unnamed':
      return (flags[row]! & FLAG.named) === 0;
    case 'guessed':
      return (flags[row]! & FLAG.guessed) !== 0;
    case 'hidden':
      return catalogue.wins[row] === 0;
    case 'silent':
    case 'clipped':
    case 'broken':
    case 'measured':
      return ((catalogue.measures?.found[row] ?? 0) & FOUND[state]) !== 0;
    case 'finest':
      return isFinest(catalogue, row);
    case 'doubled':
      return (
        (row > 0 && compareLines(search, row - 1, search, row) === 0) ||
        (row + 1 < count && compareLines(search, row, search, row + 1) === 0)
      );
  }
}

const halves = (digits: string): [number, number] => [
  Number.parseInt(digits.slice(0, 8), 16),
  Number.parseInt(digits.slice(8), 16),
];

function marked(count: number, rows: Iterable<number>): Uint8Array {
  const mask = new Uint8Array(count);
  for (const row of rows) mask[row] = 1;
  return mask;
}

function add(mask: Uint8Array, more: Uint8Array): void {
  for (let row = 0; row < mask.length; row++) mask[row]! |= more[row]!;
}

function partRows(catalogue: Catalogue, text: string, context: FindContext): Uint8Array {
  const mask = new Uint8Array(catalogue.count);
  for (const one of [text, ...(context.codes?.(text) ?? [])]) add(mask, linesWith(catalogue, one));
  for (const row of context.called?.(text) ?? []) mask[row] = 1;
  return mask;
}

/** The rows with a piece in their path, in any case. */
function linesWith({ search, count }: Catalogue, text: string): Uint8Array {
  const lower = text.toLowerCase();
  const ascii = asciiUpper(lower);
  const piece = encoder.encode(lower);
  if (piece.length > MOST_PIECE_BYTES || piece.length === 0) return new Uint8Array(count);
  const mask = search.find(piece, encoder.encode(ascii)).slice();
  // Letters beyond ASCII are spelled the same in the kernel; their upper forms are looked for by themselves.
  for (const other of new Set([text, text.toUpperCase(), capitalised(lower)])) {
    const bytes = encoder.encode(asciiLower(other));
    if (asciiLower(other) === lower || bytes.length > MOST_PIECE_BYTES || bytes.length === 0) continue;
    add(mask, search.find(bytes, encoder.encode(asciiUpper(other))));
  }
  return mask;
}

const capitalised = (text: string): string => text.slice(0, 1).toUpperCase() + text.slice(1);
const asciiUpper = (text: string): string => text.replace(/[a-z]/g, (sign) => sign.toUpperCase());
const asciiLower = (text: string): string => text.replace(/[A-Z]/g, (sign) => sign.toLowerCase());

/** Rows that have the longest piece of a pattern in their path, and then fit all of it with path or name. */
function patternRows(
  catalogue: Catalogue,
  text: string,
  among: Uint8Array,
  isForPath: boolean,
  mayLackEnding: boolean,
): Uint8Array {
  const pattern = text.toLowerCase();
  const bytes = encoder.encode(pattern);
  const { search } = catalogue;
  const { lines, ends } = search;
  const literal = longestLiteral(pattern);
  const mask = literal === '' ? among.slice() : linesWith(catalogue, literal);
  for (let row = 0; row < mask.length; row++) {
    if (mask[row] === 0) continue;
    const from = isForPath ? lineStart(search, row) : nameStart(search, row);
    const end = ends[row]!;
    if (among[row] === 1 && fitsAll(pattern, bytes, lines, from, end)) continue;
    const dot = mayLackEnding && among[row] === 1 ? lines.lastIndexOf(DOT, end - 1) : -1;
    if (dot < from || !fitsAll(pattern, bytes, lines, from, dot)) mask[row] = 0;
  }
  return mask;
}

const fitsAll = (pattern: string, bytes: Uint8Array, lines: Uint8Array, from: number, to: number): boolean =>
  fitsPatternBytes(bytes, lines, from, to) ??
  fitsPattern(pattern, new TextDecoder().decode(lines.subarray(from, to)).toLowerCase());

/** Counts over the rows that were found. */
export interface Totals {
  readonly count: number;
  readonly bytes: number;
  readonly stored: number;
  /** Rows of each kind, by its code, and of each archive. */
  readonly kinds: readonly number[];
  readonly archives: readonly number[];
}

/** Adds up the rows that are marked. */
export function totalsOf({ columns, count }: Catalogue, mask: Uint8Array): Totals {
  const { sizes, stored, kinds, archives } = columns;
  const ofKinds = new Float64Array(KIND_CODES);
  const ofArchives: number[] = [];
  let [rows, bytes, storedBytes] = [0, 0, 0];
  for (let row = 0; row < count; row++) {
    if (mask[row] !== 1) continue;
    rows++;
    bytes += sizes[row]!;
    storedBytes += stored[row]!;
    ofKinds[kinds[row]!]!++;
    const archive = archives[row]!;
    ofArchives[archive] = (ofArchives[archive] ?? 0) + 1;
  }
  return { count: rows, bytes, stored: storedBytes, kinds: [...ofKinds], archives: ofArchives };
}

/** Rows that are marked, in an order, from one place on. */
export function pageOf(
  catalogue: Catalogue,
  mask: Uint8Array,
  { sort, isDescending, offset, limit }: PageWanted,
): number[] {
  const { count } = catalogue;
  const rowAt = rowsInOrder(catalogue, sort, isDescending);
  const rows: number[] = [];
  let left = offset;
  for (let i = 0; i < count && rows.length < limit; i++) {
    const row = rowAt(i);
    if (mask[row] !== 1) continue;
    if (left > 0) left--;
    else rows.push(row);
  }
  return rows;
}

/** The row at each place of an order; those of which it is not known stand behind the others, whichever way it goes. */
function rowsInOrder(catalogue: Catalogue, sort: Sort, isDescending: boolean): (place: number) => number {
  const order = catalogue.order(sort);
  const known = catalogue.knownIn(sort);
  const turned = (place: number): number => (isDescending && place < known ? known - 1 - place : place);
  return order ? (place) => order[turned(place)]! : turned;
}

export interface PageWanted {
  readonly sort: Sort;
  readonly isDescending: boolean;
  readonly offset: number;
  readonly limit: number;
}

/** The place of a row in the order of those that are marked, or -1. */
export function placeOf(
  catalogue: Catalogue,
  mask: Uint8Array,
  { sort, isDescending }: Pick<PageWanted, 'sort' | 'isDescending'>,
  wanted: number,
): number {
  if (mask[wanted] !== 1) return -1;
  const { count } = catalogue;
  const rowAt = rowsInOrder(catalogue, sort, isDescending);
  let place = 0;
  for (let i = 0; i < count; i++) {
    const row = rowAt(i);
    if (row === wanted) return place;
    if (mask[row] === 1) place++;
  }
  return -1;
}
