import type { FormatError } from '../bytes';
import type { EntriesType, Items, RecordNode } from '../script';
import type { Entry } from './archive';

/** What the entries of one group say of themselves, in columns; texts only where they cannot be read later. */
export interface EntryFacts {
  readonly group: EntriesType;
  readonly rows: Items;
  /** Number of the first entry among all of the archive. */
  readonly base: number;
  readonly count: number;
  /** Row of each entry, where some rows are none. */
  readonly rowOf: Int32Array | undefined;
  readonly offsets: Float64Array;
  readonly stored: Float64Array;
  /** Plain sizes, where the archive states them. */
  readonly sizes: Float64Array | undefined;
  /** Numbers of files, where not all are in `file`. */
  readonly files: Uint16Array | undefined;
  readonly file: number;
  /** Seconds since 1970; NaN where a row does not say it. */
  readonly modified: Float64Array | undefined;
  readonly holders: readonly (RecordNode | undefined)[] | undefined;
  readonly pieces: readonly (readonly RecordNode[] | undefined)[] | undefined;
  /** What is wrong with single entries, by their number in the group. */
  readonly problems: ReadonlyMap<number, FormatError>;
  hashOf(entry: number, row: RecordNode): string | undefined;
  /** The path as the archive or a name list gives it. */
  pathOf(entry: number, row: RecordNode): string | undefined;
}

/** How a path that is known, or is not, is shown. */
export interface ShownPath {
  readonly path: string;
  readonly named: boolean;
  readonly problem: FormatError | undefined;
}

/** An entry that looks everything up when it is asked; a million of them cost little more than their numbers. */
export class ColumnEntry implements Entry {
  private shown: ShownPath | undefined;

  constructor(
    private readonly facts: EntryFacts,
    readonly index: number,
    private readonly reader: {
      show(entry: ColumnEntry, spelled: string | undefined): ShownPath;
      sizeOf(entry: Entry): number;
    },
  ) {}

  private get at(): number {
    return this.index - this.facts.base;
  }

  get row(): RecordNode {
    const { rows, rowOf } = this.facts;
    return rows.at(rowOf ? rowOf[this.at]! : this.at) as RecordNode;
  }

  get group(): EntriesType {
    return this.facts.group;
  }

  get file(): number {
    return this.facts.files?.[this.at] ?? this.facts.file;
  }

  get offset(): number {
    return this.facts.offsets[this.at]!;
  }

  get storedSize(): number {
    return this.facts.stored[this.at]!;
  }

  get size(): number {
    return this.facts.sizes?.[this.at] ?? this.reader.sizeOf(this);
  }

  get modified(): number | undefined {
    const time = this.facts.modified?.[this.at];
    return time === undefined || Number.isNaN(time) ? undefined : time;
  }

  get hash(): string | undefined {
    return this.facts.hashOf(this.at, this.row);
  }

  get holder(): RecordNode | undefined {
    return this.facts.holders?.[this.at];
  }

  get pieces(): readonly RecordNode[] | undefined {
    return this.facts.pieces?.[this.at];
  }

  private get look(): ShownPath {
    return (this.shown ??= this.reader.show(this, this.facts.pathOf(this.at, this.row)));
  }

  get path(): string {
    return this.look.path;
  }

  get named(): boolean {
    return this.look.named;
  }

  get problem(): FormatError | undefined {
    return this.facts.problems.get(this.at) ?? this.look.problem;
  }
}

/** The same entry under another path. Entries look themselves up, so copying their properties copies nothing. */
export const entryUnder = <T extends { readonly path: string }>(entry: T, path: string): T =>
  Object.create(entry, { path: { value: path } }) as T;
