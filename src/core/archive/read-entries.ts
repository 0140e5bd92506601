import { FormatError, hexOf64, withFacts } from '../bytes';
import {
  absolute,
  asCount,
  asInteger,
  asText,
  asTruth,
  bare,
  describeValue,
  fieldIndex,
  flattened,
  HeldRecord,
  implausible,
  located,
  startOf,
  numberedRows,
  ReadEvaluation,
  resolveSeal,
  RowTable,
  type Compiled,
  type EntriesType,
  type Items,
  type Located,
  type RecordNode,
  type Value,
} from '../script';
import type { Entry } from './archive';
import { ColumnEntry, type EntryFacts, type ShownPath } from './group-entries';
import { NameHashes, sharedNameHashes } from './name-hashes';
import type { OpenOptions } from './open-archive';
import { columnOf, laterNumber, laterText } from './entry-columns';
import { shownName } from './path';

/** What a date can be (ECMA-262, 21.4.1.1), in seconds. */
const MOST_SECONDS = 8.64e12;

/** Works out the entries of one group after the other. */
export class EntryReader {
  readonly groups: EntryFacts[] = [];
  count = 0;

  constructor(
    private readonly context: ReadEvaluation,
    private readonly options: OpenOptions,
    readonly sizeOf: (entry: Entry) => number,
  ) {}

  readGroup(group: EntriesType): void {
    const rows = this.rowsOf(group);
    const pool = this.namePool(group);
    const facts = this.byColumns(group, rows, pool) ?? this.byRows(group, rows, pool);
    if (group.sorted) this.checkOrder(group.sorted, rows, facts);
    this.take(facts);
  }

  /** Numbers the rows of a group, and whatever holds their payloads. */
  private take(facts: EntryFacts): void {
    const { rows, base } = facts;
    this.groups.push(facts);
    this.count += facts.count;
    const kept = facts.rowOf && new Int32Array(rows.length).fill(-1);
    facts.rowOf?.forEach((row, i) => (kept![row] = base + i));
    ReadEvaluation.number(rows, base, kept);
    facts.holders?.forEach((holder, i) => {
      if (holder instanceof HeldRecord) holder.entry = base + i;
    });
    facts.pieces?.forEach((pieces, i) => {
      for (const piece of pieces ?? []) if (piece instanceof HeldRecord) piece.entry = base + i;
    });
  }

  /**
   * Reads the rows of a group anew after they have been changed in memory: names by the rows as they are now, and all that tells
   * where payloads lie from the entry that each row comes from.
   */
  readChanged(group: EntriesType, originOf: (row: RecordNode) => Entry): void {
    const rows = this.rowsOf(group);
    const pool = this.namePool(group);
    const kept: number[] = [];
    for (let i = 0; i < rows.length; i++)
      if (!group.where || asTruth(group.where.run(this.context, rows.at(i) as RecordNode))) kept.push(i);
    const origins = kept.map((i) => originOf(rows.at(i) as RecordNode));
    const hashAt = (row: RecordNode): string | undefined =>
      group.hash && hexOf64(asInteger(group.hash.run(this.context, row)));
    const facts: EntryFacts = {
      group,
      rows,
      base: this.count,
      count: kept.length,
      rowOf: group.where && Int32Array.from(kept),
      offsets: Float64Array.from(origins, ({ offset }) => offset),
      stored: Float64Array.from(origins, ({ storedSize }) => storedSize),
      sizes: group.size && Float64Array.from(origins, ({ size }) => size),
      files: Uint16Array.from(origins, ({ file }) => file),
      file: 0,
      modified: group.modified && Float64Array.from(origins, ({ modified }) => modified ?? Number.NaN),
      holders:
        group.payload.sort === 'field'
          ? kept.map((i) => this.holderNow(group, rows.at(i) as RecordNode))
          : undefined,
      pieces:
        group.payload.sort === 'pieces'
          ? kept.map((i) => this.piecesNow(group, rows.at(i) as RecordNode))
          : undefined,
      problems: new Map(),
      hashOf: (_entry, row) => hashAt(row),
      pathOf: (_entry, row) => {
        if (group.path) return asText(group.path.run(this.context, row));
        const hash = hashAt(row);
        return hash === undefined ? undefined : pool.get(hash);
      },
    };
    if (group.sorted) this.checkOrder(group.sorted, rows, facts);
    this.take(facts);
  }

  private piecesNow({ payload }: EntriesType, row: RecordNode): readonly RecordNode[] | undefined {
    if (payload.sort !== 'pieces') return undefined;
    return this.piecesOf(payload.pieces.run(this.context, row), this.factsOf(row));
  }

  private holderNow({ payload }: EntriesType, row: RecordNode): RecordNode {
    const held = payload.sort === 'field' && payload.of ? payload.of.run(this.context, row) : row;
    return this.holderOf(held, this.factsOf(row));
  }

  /** Numbers by their size, texts by their code units (ECMA-262, 7.2.13). */
  private checkOrder(sorted: Compiled, rows: Items, { rowOf, count }: EntryFacts): void {
    const column = rows instanceof RowTable && !rowOf ? columnOf(sorted, rows) : undefined;
    let before: Value;
    for (let i = 0; i < count; i++) {
      const row = column ? undefined : (rows.at(rowOf ? rowOf[i]! : i) as RecordNode);
      const value = row ? bare(sorted.run(this.context, row)) : column![i];
      if (i > 0 && (before as number) > (value as number)) {
        const at = (rows.at(rowOf ? rowOf[i]! : i) as RecordNode) ?? row;
        throw new FormatError('derived-mismatch', {
          ...this.factsOf(at),
          fieldPath: `${at.path}, sorted`,
          expected: `rows in the order of ${sorted.text}, so not below ${describeValue(before)}`,
          actual: describeValue(value),
          remedy: 'The program may search this table by halves and would not find the entry',
        });
      }
      before = value;
    }
  }

  /** The entry of a number; made anew each time. */
  entry(index: number): Entry {
    const facts = this.groups.find(({ base, count }) => index >= base && index < base + count);
    if (facts) return new ColumnEntry(facts, index, this);
    throw new FormatError('bad-value', { expected: `an entry below ${this.count}`, actual: `${index}` });
  }

  all(): Entry[] {
    const all = new Array<Entry>(this.count);
    for (const facts of this.groups)
      for (let i = facts.base; i < facts.base + facts.count; i++) all[i] = new ColumnEntry(facts, i, this);
    return all;
  }

  /** Tables of plain rows are worked out a column at a time; undefined where that is not enough. */
  private byColumns(group: EntriesType, rows: Items, pool: NamePool): EntryFacts | undefined {
    const { payload } = group;
    if (!(rows instanceof RowTable) || group.where || group.align) return undefined;
    if (payload.sort !== 'placed' && payload.sort !== 'in order') return undefined;
    if (payload.file?.number || group.seal.length > 0) return undefined;
    const pathOf = laterText(group.path, rows);
    const hashOf = laterNumber(group.hash, rows);
    if ((group.path && !pathOf) || (group.hash && !hashOf) || group.modified) return undefined;
    const stored = columnOf(payload.size, rows);
    const sizes = group.size && columnOf(group.size, rows);
    if (!stored || (group.size && !sizes)) return undefined;
    let offsets = payload.sort === 'placed' ? columnOf(payload.at, rows) : undefined;
    if (payload.sort === 'in order') {
      if (!payload.from.linear || payload.from.linear.name !== undefined) return undefined;
      offsets = new Float64Array(rows.length);
      for (let i = 0, at = payload.from.linear.plus; i < rows.length; at += stored[i++]!) offsets[i] = at;
    }
    if (!offsets) return undefined;
    const file = payload.file ? this.context.fileNumber(payload.file.name, 0) : 0;
    const { length } = this.context.files.all[file]!.space.source;
    const problems = new Map<number, FormatError>();
    const areSizesRight = !sizes || sizes.buffer === stored.buffer;
    for (let i = 0; i < rows.length; i++) {
      if (offsets[i]! + stored[i]! <= length && (areSizesRight || sizes[i] === stored[i]!)) continue;
      const size = sizes?.[i];
      const row = rows.at(i)!;
      const facts = this.factsOf(row);
      const problem = this.payloadProblem(group, row, file, offsets[i]!, stored[i]!, size, facts);
      if (problem) problems.set(i, problem);
    }
    const count = rows.length;
    const common = {
      rowOf: undefined,
      files: undefined,
      modified: undefined,
      holders: undefined,
      pieces: undefined,
    };
    const columns = { group, rows, base: this.count, count, offsets, stored, sizes, file, problems };
    return {
      ...common,
      ...columns,
      hashOf: (i) => hashOf?.(i),
      pathOf: (i) => (pathOf ? pathOf(i) : hashOf && pool.get(hashOf(i))),
    };
  }

  /** One row after the other. */
  private byRows(group: EntriesType, rows: Items, pool: NamePool): EntryFacts {
    const room = rows.length;
    const rowOf = new Int32Array(group.where ? room : 0);
    const offsets = new Float64Array(room);
    const stored = new Float64Array(room);
    const sizes = group.size && new Float64Array(room);
    const files = new Uint16Array(room);
    const modified = group.modified && new Float64Array(room);
    const holders: (RecordNode | undefined)[] = [];
    const pieces: (readonly RecordNode[] | undefined)[] = [];
    const problems = new Map<number, FormatError>();
    const hashes: (string | undefined)[] = [];
    const paths: (string | undefined)[] = [];
    /** Where the next one lies, for each file in which they lie in order. */
    const behind = new Map<number, number>();
    const claimed = new Set<RecordNode>();
    let count = 0;
    for (let i = 0; i < room; i++) {
      const row = rows.at(i);
      if (typeof row !== 'object' || !('sort' in row) || row.sort !== 'record')
        throw new FormatError('script-wrong', {
          fieldPath: 'entries.each',
          expected: 'records or a number',
          actual: describeValue(row),
        });
      if (group.where) {
        const wanted = withFacts({ fieldPath: `${row.path}, where` }, () =>
          group.where!.run(this.context, row),
        );
        if (!asTruth(wanted)) continue;
        rowOf[count] = i;
      }
      const one = this.readEntry(group, row, pool, behind);
      for (const piece of one.pieces ?? []) {
        if (claimed.has(piece))
          throw new FormatError('overlap', {
            fieldPath: row.path,
            byteOffset: this.context.place(piece),
            why: `${piece.path} belongs to another entry already`,
          });
        claimed.add(piece);
      }
      offsets[count] = one.offset;
      stored[count] = one.storedSize;
      files[count] = one.file;
      if (sizes) sizes[count] = one.size ?? 0;
      if (modified) modified[count] = one.modified ?? Number.NaN;
      if (one.problem) problems.set(count, one.problem);
      holders.push(one.holder);
      pieces.push(one.pieces);
      hashes.push(one.hash);
      paths.push(one.spelled);
      behind.set(one.file, one.offset + one.storedSize);
      count++;
    }
    const { sort } = group.payload;
    return {
      group,
      rows,
      base: this.count,
      count,
      rowOf: group.where && rowOf.slice(0, count),
      offsets: offsets.subarray(0, count),
      stored: stored.subarray(0, count),
      sizes: sizes?.subarray(0, count),
      files: files.subarray(0, count),
      file: 0,
      modified: modified?.subarray(0, count),
      holders: sort === 'field' ? holders : undefined,
      pieces: sort === 'pieces' ? pieces : undefined,
      problems,
      hashOf: (i) => hashes[i],
      pathOf: (i) => paths[i],
    };
  }

  private rowsOf(group: EntriesType): Items {
    const each = withFacts({ fieldPath: 'entries.each' }, () => group.each.run(this.context, undefined));
    if (typeof each !== 'number') return flattened(each, this.context);
    const { space } = this.context.files.all[0]!;
    const most = this.context.files.all.reduce((sum, file) => sum + file.space.source.length, 0);
    if (each > most)
      throw new FormatError('budget', {
        fieldPath: 'entries.each',
        expected: `at most ${most} entries`,
        actual: `${each}`,
      });
    return numberedRows(asCount(each), space);
  }

  /** Paths by their hash: those the archive lists itself, then those given. */
  private namePool({ names, hashing }: EntriesType): NamePool {
    if (!hashing) return { get: () => undefined };
    const { primitives, names: given = [] } = this.options;
    const seed = hashing.seed && BigInt(asInteger(hashing.seed.run(this.context, undefined)));
    const shared = sharedNameHashes(given, hashing, primitives, seed);
    if (!names) return shared;
    const listed = flattened(
      withFacts({ fieldPath: 'entries.names' }, () => names.run(this.context, undefined)),
      this.context,
    );
    const texts = Array.from({ length: listed.length }, (_, i) => asText(listed.at(i)));
    const own = new NameHashes(texts, hashing, primitives, seed, true);
    return { get: (hash) => own.get(hash) ?? shared.get(hash) };
  }

  private factsOf(row: RecordNode): RowFacts {
    const file = this.context.files.all[0]!.space.source.name;
    return { fieldPath: row.path, file, ...located(row.space, row.offset) };
  }

  /** Facts of the field of a row that an expression takes its value from: the first that it mentions. */
  private factsOfField(row: RecordNode, ...from: readonly (Compiled | undefined)[]): RowFacts {
    const names = from.flatMap((one) => [...(one?.mentions ?? [])]);
    const field = names.map((name) => row.type.byName.get(name)).find((index) => index !== undefined);
    if (field === undefined) return this.factsOf(row);
    const type = row.type.fields[field]!;
    return {
      ...this.factsOf(row),
      fieldPath: `${row.path}.${type.name}`,
      ...located(row.space, row.offset + startOf(row, type)),
    };
  }

  private readEntry(
    group: EntriesType,
    row: RecordNode,
    pool: NamePool,
    behind: ReadonlyMap<number, number>,
  ): ReadRow {
    const facts = this.factsOf(row);
    const value = (of: Compiled, name: string): Value =>
      withFacts({ ...facts, fieldPath: `${row.path}, ${name}` }, () => of.run(this.context, row));
    const count = (of: Compiled, name: string): number =>
      withFacts({ ...facts, fieldPath: `${row.path}, ${name}` }, () => asCount(of.run(this.context, row)));
    const hash = group.hash && hexOf64(asInteger(value(group.hash, 'hash')));
    const stated = group.path && value(group.path, 'path');
    const given = stated === undefined ? hash && pool.get(hash) : asText(stated);
    const { payload } = group;
    const holder =
      payload.sort === 'field'
        ? this.holderOf(payload.of ? value(payload.of, 'payload.of') : row, facts)
        : undefined;
    let offset: number;
    let storedSize: number;
    let file = row.space.file;
    let pieces: RecordNode[] | undefined;
    if (payload.sort === 'pieces') {
      pieces = this.piecesOf(value(payload.pieces, 'payload.pieces'), facts);
      const lengths = pieces.map((piece) => piece.fieldLength(fieldIndex(piece, payload.field)));
      storedSize = lengths.reduce((sum, length) => sum + length, 0);
      const [first] = pieces;
      offset = first
        ? absolute(first.space, first.offset + first.fieldStart(fieldIndex(first, payload.field)))
        : 0;
      file = first?.space.file ?? file;
    } else if (payload.sort === 'field') {
      file = holder!.space.file;
      const field = fieldIndex(holder!, payload.field);
      offset = absolute(holder!.space, holder!.offset + holder!.fieldStart(field));
      storedSize = holder!.fieldLength(field);
    } else {
      const choice = payload.file;
      file = choice
        ? withFacts({ ...facts, fieldPath: `${row.path}, payload.in` }, () =>
            this.context.fileNumber(
              choice.name,
              choice.number ? asCount(choice.number.run(this.context, row)) : 0,
            ),
          )
        : 0;
      storedSize = count(payload.size, 'payload.size');
      if (payload.sort === 'placed') offset = count(payload.at, 'payload.at');
      else {
        const from = behind.get(file) ?? count(payload.from, 'payload.from');
        const unit = group.align ? Math.max(1, count(group.align, 'payload.align')) : 1;
        offset = Math.ceil(from / unit) * unit;
      }
    }
    const size = group.size && count(group.size, 'size');
    const time = group.modified && Number(asInteger(value(group.modified, 'modified')));
    const modified = time !== undefined && Math.abs(time) <= MOST_SECONDS ? time : undefined;
    const problem = this.payloadProblem(group, row, file, offset, storedSize, size, facts);
    return { offset, storedSize, size, file, modified, problem, holder, pieces, hash, spelled: given };
  }

  /** What an entry is shown as: its path as the archive spells it, or a stand-in where it has none. */
  show(entry: ColumnEntry, given: string | undefined): ShownPath {
    if (given === undefined || given === '')
      return { path: `unnamed/${entry.hash ?? entry.index}`, named: false, problem: undefined };
    const separator = entry.group.hashing?.separator ?? '/';
    const spelled = separator === '/' ? given : given.replaceAll(separator, '/');
    return { path: shownName(spelled), named: true, problem: undefined };
  }

  private piecesOf(value: Value, facts: { fieldPath: string }): RecordNode[] {
    const list = flattened(value, this.context);
    return Array.from({ length: list.length }, (_, i) => this.holderOf(list.at(i), facts));
  }

  private holderOf(value: Value, facts: { fieldPath: string }): RecordNode {
    const held =
      typeof value === 'object' && 'sort' in value && value.sort === 'region' ? value.content : value;
    if (typeof held === 'object' && 'sort' in held && held.sort === 'record') return held;
    throw new FormatError('bad-value', {
      ...facts,
      expected: 'the record with the payload',
      actual: describeValue(value),
    });
  }

  private payloadProblem(
    group: EntriesType,
    row: RecordNode,
    file: number,
    offset: number,
    storedSize: number,
    size: number | undefined,
    facts: RowFacts,
  ): FormatError | undefined {
    const { source } = this.context.files.all[file]!.space;
    const isPlaced = group.payload.sort === 'placed' || group.payload.sort === 'in order';
    if (isPlaced && offset + storedSize > source.length) {
      const { payload } = group;
      const at = payload.sort === 'placed' ? payload.at : undefined;
      const length = payload.sort === 'placed' || payload.sort === 'in order' ? payload.size : undefined;
      // A place outside is wrong by itself; one inside leaves the blame to the size.
      const blamed = offset > source.length ? [at, length] : [length, at];
      const spelled = withoutFail(() => group.path && asText(group.path.run(this.context, row)));
      return new FormatError('out-of-range', {
        ...this.factsOfField(row, ...blamed),
        expected: `a payload within the ${source.length} bytes of ${source.name}`,
        actual: `${storedSize} bytes from ${offset}${spelled ? ` for ${shownName(spelled)}` : ''}`,
        remedy: 'The file is cut short, or its table is wrong; get it anew',
      });
    }
    if (size === undefined) return undefined;
    try {
      const steps = resolveSeal(group.seal, this.context, row, 'without keys');
      const doubt = implausible(steps, storedSize, size);
      return doubt
        ? new FormatError('bad-value', {
            ...facts,
            why: doubt,
            remedy: 'The table is wrong or the file damaged',
          })
        : undefined;
    } catch (error) {
      if (error instanceof FormatError) return error.with(facts);
      throw error;
    }
  }
}

/** Where a row is wrong. */
type RowFacts = { readonly fieldPath: string; readonly file: string } & Located;

function withoutFail<T>(work: () => T): T | undefined {
  try {
    return work();
  } catch {
    return undefined;
  }
}

/** Finds the path that belongs to a hash of 16 hexadecimal digits. */
interface NamePool {
  get(hash: string): string | undefined;
}

/** What one row says of its entry. */
interface ReadRow {
  readonly offset: number;
  readonly storedSize: number;
  readonly size: number | undefined;
  readonly file: number;
  readonly modified: number | undefined;
  readonly problem: FormatError | undefined;
  readonly holder: RecordNode | undefined;
  readonly pieces: readonly RecordNode[] | undefined;
  readonly hash: string | undefined;
  readonly spelled: string | undefined;
}
