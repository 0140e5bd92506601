import { codeOfKind, NO_RULES, saidOf, tellKind, type Kind, type KindRules, type Told } from '../kinds';
import type { Archive, Entry } from '../archive';
import { startOfEntry, typeOfStart } from '../archive';
import { FormatError } from '../bytes';
import { columnOver, packColumns, readColumnsHead, type Column, type ColumnsHead } from './columns-file';
import { factsOfArchive, inOrderOf, packFacts, unpackFacts, type FactColumn, type FactTitle } from './facts';
import { emptyColumns, inOrder, readEntryColumns, type EntryColumns } from './fields';
import { compareLines, LineWriter, lineStart, startsOf, type Lines } from './lines';
import { sortedRows } from './sort-lines';

/** What one archive holds, in columns sorted by path. */
export interface Listing extends Lines, EntryColumns {
  readonly count: number;
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
  /** A format script told its kind. */
  scripted: 16,
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
  private readonly columns: EntryColumns;
  private readonly problems: [number, string][] = [];
  private at = 0;

  constructor(readonly count: number) {
    this.ends = new Uint32Array(count);
    this.columns = emptyColumns(count);
  }

  add(entry: ListedEntry): void {
    const { hash, problem } = entry;
    const i = this.at++;
    this.ends[i] = this.writer.add(entry.path);
    const { numbers, sizes, stored, modified, kinds, flags, hashLow, hashHigh } = this.columns;
    numbers[i] = i;
    sizes[i] = entry.size;
    stored[i] = entry.stored;
    modified[i] = entry.modified ?? Number.NaN;
    kinds[i] = codeOfKind(entry.kind);
    flags[i] = entry.flags | (problem !== undefined ? FLAG.problem : 0) | (hash ? FLAG.hashed : 0);
    if (problem !== undefined) this.problems.push([i, problem]);
    if (!hash) return;
    hashHigh[i] = Number.parseInt(hash.slice(0, 8), 16);
    hashLow[i] = Number.parseInt(hash.slice(8), 16);
  }

  done(facts: readonly FactColumn[] = []): Listing {
    const { count, ends, columns, problems } = this;
    return sorted({ count, problems, facts, lines: this.writer.done(), ends, ...columns });
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
      flags:
        (named ? FLAG.named : 0) |
        (named && guessed?.has(path) ? FLAG.guessed : 0) |
        (told.by === 'script' ? FLAG.scripted : 0),
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
    ...inOrder(listing, order),
    facts: inOrderOf(listing.facts, order),
  };
}

/** A listing as the pieces of a file, with whatever else is to be kept beside it. */
export function packListing(listing: Listing, about: unknown): Uint8Array[] {
  const { count, problems, facts, ...columns } = listing;
  const { titles, values } = packFacts(facts);
  return packColumns({ count, problems, facts: titles, about }, { ...columns, ...values });
}

interface ListingHead {
  readonly count: number;
  readonly problems: Listing['problems'];
  readonly facts: readonly FactTitle[];
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
    ...{ count, problems, facts: unpackFacts(facts, column) },
    lines: column<Uint8Array>('lines'),
    ends: column<Uint32Array>('ends'),
    ...readEntryColumns(column),
  };
}
