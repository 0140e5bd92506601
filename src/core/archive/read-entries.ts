import { FormatError, hexOf64, withFacts, type ByteSource } from '../bytes';
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
    private readonly source: ByteSource,
    private readonly options: OpenOptions,
    private readonly sizeOf: (entry: Entry) => number,
  ) {}

  readGroup(group: EntriesType): void {
    const rows = this.rowsOf(group);
    const base = this.entries.length;
    const pool = this.namePool(group);
    let kept: Int32Array | undefined;
    let behind = -1;
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
      behind = entry.offset + entry.storedSize;
      this.entries.push(entry);
      if (entry.holder instanceof HeldRecord) entry.holder.entry = entry.index;
    }
    ReadEvaluation.number(rows, base, kept);
  }

  private rowsOf(group: EntriesType): Items {
    const each = withFacts({ fieldPath: 'entries.each' }, () => group.each.run(this.context, undefined));
    if (typeof each !== 'number') return flattened(each, this.context);
    if (each > this.source.length)
      throw new FormatError('budget', {
        fieldPath: 'entries.each',
        expected: `at most ${this.source.length} entries`,
        actual: `${each}`,
      });
    return numberedRows(asCount(each), { source: this.source, fileOffset: 0, within: '' });
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

  private readEntry(group: EntriesType, row: RecordNode, pool: Map<string, string>, behind: number): Entry {
    const index = this.entries.length;
    const facts = { fieldPath: row.path, byteOffset: this.context.place(row), file: this.source.name };
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
    if (payload.sort === 'field') {
      const field = fieldIndex(holder!, payload.field);
      offset = absolute(holder!.space, holder!.offset + holder!.fieldStart(field));
      storedSize = holder!.fieldLength(field);
    } else {
      storedSize = asCount(value(payload.size, 'payload.size'));
      if (payload.sort === 'placed') offset = asCount(value(payload.at, 'payload.at'));
      else {
        const from = behind < 0 ? asCount(value(payload.from, 'payload.from')) : behind;
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
      : this.payloadProblem(group, row, offset, storedSize, size, facts);
    const { sizeOf } = this;
    const entry: Entry = {
      index,
      path,
      named: spelled !== undefined,
      hash,
      offset,
      storedSize,
      modified,
      problem,
      row,
      holder,
      group,
      get size(): number {
        return size ?? sizeOf(this);
      },
    };
    return entry;
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
    offset: number,
    storedSize: number,
    size: number | undefined,
    facts: { fieldPath: string; byteOffset: number; file: string },
  ): FormatError | undefined {
    if (group.payload.sort !== 'field' && offset + storedSize > this.source.length)
      return new FormatError('out-of-range', {
        ...facts,
        expected: `a payload within ${this.source.length} bytes`,
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
