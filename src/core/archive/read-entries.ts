import { FormatError, hexOf64, withFacts } from '../bytes';
import {
  absolute,
  asCount,
  asInteger,
  asText,
  asTruth,
  describeValue,
  fieldIndex,
  flattened,
  HeldRecord,
  implausible,
  numberedRows,
  ReadEvaluation,
  resolveSeal,
  type Compiled,
  type EntriesType,
  type Items,
  type RecordNode,
  type Value,
} from '../script';
import type { Entry } from './archive';
import { hashOfPath } from './names';
import type { OpenOptions } from './open-archive';
import { pathProblem, standInPath } from './path';

/** What a date can be (ECMA-262, 21.4.1.1), in seconds. */
const MOST_SECONDS = 8.64e12;

/** Works out the entries of one group after the other. */
export class EntryReader {
  readonly entries: Entry[] = [];

  constructor(
    private readonly context: ReadEvaluation,
    private readonly options: OpenOptions,
    private readonly sizeOf: (entry: Entry) => number,
  ) {}

  readGroup(group: EntriesType): void {
    const rows = this.rowsOf(group);
    const base = this.entries.length;
    const pool = this.namePool(group);
    let kept: Int32Array | undefined;
    /** Where the next one lies, for each file in which they lie in order. */
    const behind = new Map<number, number>();
    for (let i = 0; i < rows.length; i++) {
      const row = rows.at(i);
      if (typeof row !== 'object' || !('sort' in row) || row.sort !== 'record')
        throw new FormatError('script-wrong', {
          fieldPath: 'entries.each',
          expected: 'records or a number',
          actual: describeValue(row),
        });
      if (group.where) {
        kept ??= new Int32Array(rows.length).fill(-1);
        if (
          !asTruth(withFacts({ fieldPath: `${row.path}, where` }, () => group.where!.run(this.context, row)))
        )
          continue;
        kept[i] = this.entries.length;
      }
      const entry = this.readEntry(group, row, pool, behind);
      behind.set(entry.file, entry.offset + entry.storedSize);
      this.entries.push(entry);
      for (const holder of entry.pieces ?? [entry.holder])
        if (holder instanceof HeldRecord) holder.entry = entry.index;
    }
    ReadEvaluation.number(rows, base, kept);
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
  private namePool({ names, hashing }: EntriesType): Map<string, string> {
    const pool = new Map<string, string>();
    if (!hashing) return pool;
    const seed = hashing.seed && BigInt(asInteger(hashing.seed.run(this.context, undefined)));
    const add = (name: string): void => {
      const hash = hashOfPath(name, hashing, this.options.primitives, seed);
      if (!pool.has(hash)) pool.set(hash, name);
    };
    if (names) {
      const listed = flattened(
        withFacts({ fieldPath: 'entries.names' }, () => names.run(this.context, undefined)),
        this.context,
      );
      for (let i = 0; i < listed.length; i++) add(asText(listed.at(i)));
    }
    for (const name of this.options.names ?? [])
      try {
        add(name);
      } catch (error) {
        // A list of many games may have names that this encoding cannot spell; they are none of this archive.
        if (!(error instanceof FormatError)) throw error;
      }
    return pool;
  }

  private readEntry(
    group: EntriesType,
    row: RecordNode,
    pool: Map<string, string>,
    behind: ReadonlyMap<number, number>,
  ): Entry {
    const index = this.entries.length;
    const facts = {
      fieldPath: row.path,
      byteOffset: this.context.place(row),
      file: row.space.source.name,
    };
    const value = (of: Compiled, name: string): Value =>
      withFacts({ ...facts, fieldPath: `${row.path}, ${name}` }, () => of.run(this.context, row));
    const hash = group.hash && hexOf64(asInteger(value(group.hash, 'hash')));
    const stated = group.path && value(group.path, 'path');
    const given = stated === undefined ? hash && pool.get(hash) : asText(stated);
    const separator = group.hashing?.separator ?? '/';
    const spelled = separator === '/' ? given : given?.replaceAll(separator, '/');
    const unsafe = spelled === undefined ? undefined : pathProblem(spelled);
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
      storedSize = asCount(value(payload.size, 'payload.size'));
      if (payload.sort === 'placed') offset = asCount(value(payload.at, 'payload.at'));
      else {
        const from = behind.get(file) ?? asCount(value(payload.from, 'payload.from'));
        const unit = group.align ? Math.max(1, asCount(value(group.align, 'payload.align'))) : 1;
        offset = Math.ceil(from / unit) * unit;
      }
    }
    const path =
      spelled === undefined ? `unnamed/${hash ?? index}` : unsafe ? standInPath(index, spelled) : spelled;
    const size = group.size && asCount(value(group.size, 'size'));
    const time = group.modified && Number(asInteger(value(group.modified, 'modified')));
    const modified = time !== undefined && Math.abs(time) <= MOST_SECONDS ? time : undefined;
    const problem = unsafe
      ? new FormatError('unsafe-path', {
          ...facts,
          actual: JSON.stringify(spelled),
          why: unsafe,
          remedy: `It is shown as ${path} and never written under its own name`,
        })
      : this.payloadProblem(group, row, file, offset, storedSize, size, facts);
    const { sizeOf } = this;
    const entry: Entry = {
      index,
      file,
      path,
      named: spelled !== undefined,
      hash,
      offset,
      storedSize,
      modified,
      problem,
      row,
      holder,
      pieces,
      group,
      get size(): number {
        return size ?? sizeOf(this);
      },
    };
    return entry;
  }

  private piecesOf(value: Value, facts: { fieldPath: string }): RecordNode[] {
    const list = flattened(value, this.context);
    return Array.from({ length: list.length }, (_, i) => {
      const piece = this.holderOf(list.at(i), facts);
      if (piece.entry < 0) return piece;
      throw new FormatError('overlap', {
        ...facts,
        byteOffset: this.context.place(piece),
        why: `${piece.path} belongs to ${this.entries[piece.entry]?.path ?? 'another entry'} already`,
      });
    });
  }

  private holderOf(value: Value, facts: { fieldPath: string }): RecordNode {
    if (typeof value === 'object' && 'sort' in value && value.sort === 'record') return value;
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
    facts: { fieldPath: string; byteOffset: number; file: string },
  ): FormatError | undefined {
    const { source } = this.context.files.all[file]!.space;
    const isPlaced = group.payload.sort === 'placed' || group.payload.sort === 'in order';
    if (isPlaced && offset + storedSize > source.length)
      return new FormatError('out-of-range', {
        ...facts,
        expected: `a payload within the ${source.length} bytes of ${source.name}`,
        actual: `${storedSize} bytes from ${offset}`,
        remedy: 'The file is cut short, or its table is wrong; get it anew',
      });
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
