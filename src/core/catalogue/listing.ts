import { codeOfKind, NO_RULES, saidOf, tellKind, type Kind, type KindRules, type Told } from '../kinds';
import type { Archive, Entry } from '../archive';
import { startOfEntry, typeOfStart } from '../archive';
import { FormatError } from '../bytes';
import { columnOver, packColumns, readColumnsHead, type Column, type ColumnsHead } from './columns-file';
import { factsOfArchive, type FactColumn } from './facts';
import { compareLines, LineWriter, lineStart, startsOf, type Lines } from './lines';
import { sortedRows } from './sort-lines';

/** What one archive holds, in columns sorted by path. */
export interface Listing extends Lines {
  readonly count: number;
  /** Number of each entry in its archive. */
  readonly numbers: Uint32Array;
  /** Plain and stored sizes in bytes. */
  readonly sizes: Float64Array;
  readonly stored: Float64Array;
  /** Seconds since 1970; NaN where the archive does not say it. */
  readonly modified: Float64Array;
  /** Codes of kinds. */
  readonly kinds: Uint8Array;
  /** Bits of FLAG. */
  readonly flags: Uint8Array;
  /** Hash of the name as two halves, where the flag says there is one. */
  readonly hashLow: Uint32Array;
  readonly hashHigh: Uint32Array;
  /** What is wrong with single entries, by their number in the archive. */
  readonly problems: readonly (readonly [number: number, message: string])[];
  /** Fields that the script shows of each entry. */
  readonly facts: readonly FactColumn[];
}

export const FLAG = {
  named: 1,
  problem: 2,
  /** The name was guessed and has a second witness. */
  guessed: 4,
  hashed: 8,
} as const;

export interface ListingOptions {
  /** Put before each path, such as `clothes/box.zip/` for an archive within another. */
  readonly under?: string;
  /** Paths whose names were guessed. */
  readonly guessed?: ReadonlySet<string>;
  /** What the user and format scripts say of kinds. */
  readonly rules?: KindRules;
  /** What a path is where nothing else tells. */
  readonly otherwise?: (path: string) => Kind;
}

/** What is written down of one entry. */
export interface ListedEntry {
  readonly path: string;
  readonly size: number;
  readonly stored: number;
  readonly modified: number | undefined;
  readonly kind: Kind;
  readonly flags: number;
  /** 16 hexadecimal digits. */
  readonly hash: string | undefined;
  readonly problem: string | undefined;
}

/** Takes down entries one after the other, in the order of their numbers. */
export class ListingBuilder {
  private readonly writer = new LineWriter();
  private readonly ends: Uint32Array;
  private readonly sizes: Float64Array;
  private readonly stored: Float64Array;
  private readonly modified: Float64Array;
  private readonly kinds: Uint8Array;
  private readonly flags: Uint8Array;
  private readonly hashLow: Uint32Array;
  private readonly hashHigh: Uint32Array;
  private readonly problems: [number, string][] = [];
  private at = 0;

  constructor(readonly count: number) {
    this.ends = new Uint32Array(count);
    this.sizes = new Float64Array(count);
    this.stored = new Float64Array(count);
    this.modified = new Float64Array(count);
    this.kinds = new Uint8Array(count);
    this.flags = new Uint8Array(count);
    this.hashLow = new Uint32Array(count);
    this.hashHigh = new Uint32Array(count);
  }

  add({ path, size, stored, modified, kind, flags, hash, problem }: ListedEntry): void {
    const i = this.at++;
    this.ends[i] = this.writer.add(path);
    this.sizes[i] = size;
    this.stored[i] = stored;
    this.modified[i] = modified ?? Number.NaN;
    this.kinds[i] = codeOfKind(kind);
    this.flags[i] = flags | (problem !== undefined ? FLAG.problem : 0) | (hash ? FLAG.hashed : 0);
    if (problem !== undefined) this.problems.push([i, problem]);
    if (!hash) return;
    this.hashHigh[i] = Number.parseInt(hash.slice(0, 8), 16);
    this.hashLow[i] = Number.parseInt(hash.slice(8), 16);
  }

  done(facts: readonly FactColumn[] = []): Listing {
    const { count, ends, sizes, stored, modified, kinds, flags, hashLow, hashHigh, problems } = this;
    const numbers = Uint32Array.from({ length: count }, (_, i) => i);
    const lines = this.writer.done();
    const columns = { lines, ends, numbers, sizes, stored, modified, kinds, flags, hashLow, hashHigh };
    return sorted({ count, problems, facts, ...columns });
  }
}

/** Lists the entries of an archive. Those without a name get the ending of what their first bytes are. */
export function listArchive(archive: Archive, options: ListingOptions = {}): Listing {
  const { entries } = archive;
  const { under = '', guessed, rules = NO_RULES, otherwise } = options;
  const builder = new ListingBuilder(entries.length);
  for (const entry of entries) {
    const { named, path } = entry;
    const { size, problem } = measured(entry);
    const start = startOfEntry(archive, entry);
    const type = !named && start ? typeOfStart(start) : undefined;
    const shown = type ? `${path}.${type.ending}` : path;
    const own = entry.group.kind;
    // What the archive says of its entries counts for more than what bytes look like, and less than what the user says.
    const told: Told =
      own && !saidOf(rules.said, shown) ? { kind: own, by: 'script' } : tellKind(shown, start, rules);
    builder.add({
      path: under + shown,
      size,
      stored: entry.storedSize,
      modified: entry.modified,
      kind: (told.by === 'nothing' && otherwise?.(path)) || told.kind,
      flags: (named ? FLAG.named : 0) | (named && guessed?.has(path) ? FLAG.guessed : 0),
      hash: entry.hash,
      problem,
    });
  }
  return builder.done(factsOfArchive(archive));
}

/** How long an entry is; one that has to be unpacked for that and cannot be is as long as it is stored, and says why. */
function measured(entry: Entry): { size: number; problem: string | undefined } {
  try {
    const { size } = entry;
    return { size, problem: entry.problem?.message };
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    return { size: entry.storedSize, problem: error.message };
  }
}

/** The same listing in the order of its paths; equal ones in the order of their numbers. */
export function sorted(listing: Listing): Listing {
  const { count } = listing;
  let isSorted = true;
  for (let i = 1; isSorted && i < count; i++) isSorted = compareLines(listing, i - 1, listing, i) <= 0;
  if (isSorted) return listing;
  const order = sortedRows({ ...listing, starts: startsOf(listing) });
  const lines = new Uint8Array(listing.lines.length);
  const ends = new Uint32Array(count);
  let at = 0;
  for (let i = 0; i < count; i++) {
    const row = order[i]!;
    const line = listing.lines.subarray(lineStart(listing, row), listing.ends[row]! + 1);
    lines.set(line, at);
    at += line.length;
    ends[i] = at - 1;
  }
  return {
    ...listing,
    lines,
    ends,
    numbers: order.map((row) => listing.numbers[row]!),
    sizes: Float64Array.from(order, (row) => listing.sizes[row]!),
    stored: Float64Array.from(order, (row) => listing.stored[row]!),
    modified: Float64Array.from(order, (row) => listing.modified[row]!),
    kinds: Uint8Array.from(order, (row) => listing.kinds[row]!),
    flags: Uint8Array.from(order, (row) => listing.flags[row]!),
    hashLow: order.map((row) => listing.hashLow[row]!),
    hashHigh: order.map((row) => listing.hashHigh[row]!),
    facts: listing.facts.map((fact) => ({
      ...fact,
      values: Float64Array.from(order, (row) => fact.values[row]!),
    })),
  };
}

/** A listing as the pieces of a file, with whatever else is to be kept beside it. */
export function packListing(listing: Listing, about: unknown): Uint8Array[] {
  const { count, problems, facts, ...columns } = listing;
  const titles = facts.map(({ title, words }) => ({ title, words }));
  const values = Object.fromEntries(facts.map((fact, i) => [`fact${i}`, fact.values]));
  return packColumns({ count, problems, facts: titles, about }, { ...columns, ...values });
}

interface ListingHead {
  readonly count: number;
  readonly problems: Listing['problems'];
  readonly facts: readonly Omit<FactColumn, 'values'>[];
  readonly about: unknown;
}

/** What was kept beside a listing, told from the head of its file. */
export const aboutListing = ({ head }: ColumnsHead): unknown => (head as ListingHead).about;

/** Reads a listing; `bytes` is the whole file. Throws FormatError where it is none. */
export function unpackListing(bytes: Uint8Array<ArrayBuffer>): Listing {
  const { head, places } = readColumnsHead(bytes, bytes.length);
  const { count, problems, facts } = head as ListingHead;
  const column = <T extends Column>(name: string): T => {
    const place = places.get(name);
    if (!place) throw new FormatError('part-missing', { fieldPath: name });
    return columnOver(bytes.subarray(place.offset, place.offset + place.byteLength), place.type) as T;
  };
  return {
    count,
    problems,
    facts: facts.map((fact, i) => ({ ...fact, values: column<Float64Array>(`fact${i}`) })),
    lines: column<Uint8Array>('lines'),
    ends: column<Uint32Array>('ends'),
    numbers: column<Uint32Array>('numbers'),
    sizes: column<Float64Array>('sizes'),
    stored: column<Float64Array>('stored'),
    modified: column<Float64Array>('modified'),
    kinds: column<Uint8Array>('kinds'),
    flags: column<Uint8Array>('flags'),
    hashLow: column<Uint32Array>('hashLow'),
    hashHigh: column<Uint32Array>('hashHigh'),
  };
}
