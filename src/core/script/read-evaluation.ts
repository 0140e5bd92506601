import {
  FormatError,
  collect,
  concatRefs,
  refOfBytes,
  refOfSpan,
  type BytesRef,
  type ByteSource,
} from '../bytes';
import type { Primitives } from '../primitives';
import { baseName, type ArchiveFiles } from './archive-files';
import type { Budget } from './budget';
import { fieldOfEach } from './compile-expression';
import { fieldIndex } from './field-index';
import { ComputedFields } from './computed-fields';
import type { Evaluation, Placed, PlainRef } from './evaluation';
import type { Items } from './items';
import { absolute, HeldRecord, type PayloadHandle, type RecordNode, type RegionNode } from './model';
import { RowTable, TableRow } from './table';
import type { FieldType, Script } from './types';
import { asTruth, bare, describeValue, sameValue, type Value } from './values';

export type Keys = ReadonlyMap<string, Uint8Array>;

/** Where the payload of an entry lies and how to open it; the archive supplies it. */
export interface PayloadAccess {
  readonly count: number;
  place(entry: number): number;
  file(entry: number): number;
  storedLength(entry: number): number;
  plainLength(entry: number): number;
  stored(entry: number): BytesRef;
  plain(entry: number): PlainRef;
  blockSizes(entry: number): readonly number[] | undefined;
}

/** The archive as it is, seen from an expression. */
export class ReadEvaluation implements Evaluation {
  /** Whether all tables and entries have been read, so that derived fields can be held against them. */
  isRead = false;
  /** Whether somebody wants to see what has been read, however reading ends. */
  isExplained = false;
  readonly parts = new Map<string, Value>();
  /** Set as soon as the archive is being opened. */
  files!: ArchiveFiles;
  payloads: PayloadAccess | undefined;
  here: number | undefined;
  /** The last check of a key that did not hold. */
  failedCheck: { readonly node: RecordNode; readonly field: FieldType } | undefined;
  private orderKnown: boolean | undefined;
  private computed = new ComputedFields();
  private memory = new WeakMap<object, Map<string, unknown>>();
  private readonly parameterValues = new Map<string, Value>();

  constructor(
    readonly source: ByteSource,
    readonly primitives: Primitives,
    private readonly script: Script,
    private readonly keys: Keys,
    parameters: ReadonlyMap<string, Value>,
    private readonly budget: Budget,
  ) {
    for (const type of script.parameters.values()) {
      const value = parameters.get(type.name) ?? type.default;
      if (type.oneOf && !type.oneOf.some((allowed) => sameValue(allowed, value)))
        throw new FormatError('bad-value', {
          fieldPath: `parameter.${type.name}`,
          expected: `one of ${type.oneOf.map(describeValue).join(', ')}`,
          actual: describeValue(value),
        });
      this.parameterValues.set(type.name, value);
    }
  }

  get original(): Evaluation {
    return this;
  }

  /** Forgets what was worked out, after records have been changed in memory. */
  forget(): void {
    this.computed = new ComputedFields();
    this.memory = new WeakMap();
  }

  get fileSize(): number {
    return this.source.length;
  }

  get fileName(): string {
    return baseName(this.source.name);
  }

  fileNumber(name: string, number: number): number {
    return this.files.open(name, number).index;
  }

  fileCount(name: string): number {
    return this.files.count(name);
  }

  sizeOfFile(file: number): number {
    return this.files.all[file]!.space.source.length;
  }

  fileOf(thing: Placed): number {
    return thing.sort === 'payload' ? this.access().file(thing.index) : thing.space.file;
  }

  span(from: number, length: number, file = 0): BytesRef {
    return refOfSpan(this.files.all[file]!.space.source, from, length);
  }

  key(name: string): Uint8Array {
    const found = this.keys.get(name);
    const type = this.script.keys.get(name);
    if (!found)
      throw new FormatError('key-missing', {
        why: `the key '${name}'${type?.about ? ` (${type.about})` : ''} is not given`,
        remedy: 'Add the key to the keyring, or give it with --key',
      });
    if (type?.length !== undefined && found.length !== type.length)
      throw new FormatError('key-wrong', {
        expected: `a key '${name}' of ${type.length} bytes`,
        actual: `${found.length} bytes`,
        remedy: 'Check that the whole key was pasted',
      });
    return found;
  }

  parameter(name: string): Value {
    return this.parameterValues.get(name);
  }

  part(name: string): Value {
    return this.parts.get(name);
  }

  hasPart(name: string): boolean {
    return this.parts.has(name) || this.script.parts.some((part) => part.name === name);
  }

  field(node: RecordNode, index: number): Value {
    const field = node.type.fields[index];
    if (field?.role.sort === 'computed') return this.computed.get(node, field, this);
    return bare(node.get(index));
  }

  fieldOfAll(list: Items, name: string): Items {
    return this.remember(list, `field ${name}`, () => fieldOfEach(list, name, this));
  }

  content(region: RegionNode): Value {
    return region.content;
  }

  place(thing: Placed): number {
    return thing.sort === 'payload' ? this.access().place(thing.index) : absolute(thing.space, thing.offset);
  }

  storedLength(thing: Placed): number {
    if (thing.sort === 'payload') return this.access().storedLength(thing.index);
    return thing.sort === 'record' ? thing.length : thing.storedLength;
  }

  plainLength(thing: RegionNode | PayloadHandle): number {
    return thing.sort === 'region' ? thing.plainLength : this.access().plainLength(thing.index);
  }

  stored(thing: Placed): BytesRef {
    if (thing.sort === 'payload') return this.access().stored(thing.index);
    return refOfSpan(thing.space.source, thing.offset, this.storedLength(thing));
  }

  plain(thing: RegionNode | PayloadHandle): PlainRef {
    if (thing.sort === 'payload') return this.access().plain(thing.index);
    return refOfSpan(thing.inner.source, thing.innerOffset, thing.plainLength);
  }

  around(node: RecordNode, name: string, mode: 'before' | 'behind' | number): BytesRef {
    const index = fieldIndex(node, name);
    const at = node.fieldStart(index);
    const { source } = node.space;
    const before = refOfSpan(source, node.offset, at);
    if (mode === 'before') return before;
    const length = node.fieldLength(index);
    const rest = at + length;
    if (mode === 'behind') return refOfSpan(source, node.offset + rest, node.length - rest);
    return concatRefs([
      refOfBytes(collect(before)),
      refOfBytes(new Uint8Array(length).fill(mode)),
      refOfBytes(collect(refOfSpan(source, node.offset + rest, node.length - rest))),
    ]);
  }

  fieldPlace(node: RecordNode, name: string): number {
    return absolute(node.space, node.offset + node.fieldStart(fieldIndex(node, name)));
  }

  payloadOf(row: RecordNode): PayloadHandle | undefined {
    const index = entryOf(row);
    return index < 0 ? undefined : { sort: 'payload', index };
  }

  payloadAt(entry: number): PayloadHandle | undefined {
    return entry < this.access().count ? { sort: 'payload', index: entry } : undefined;
  }

  blockSize(payload: PayloadHandle, block: number): number | undefined {
    return this.access().blockSizes(payload.index)?.[block];
  }

  moved(place: number): number {
    return place;
  }

  isLittle(node: RecordNode | undefined): boolean {
    if (this.orderKnown !== undefined) return this.orderKnown;
    const rule = this.script.orderRule;
    if (!rule) return true;
    const little = !asTruth(rule.run(this, node));
    // Until the first part is whole, the field that decides may not have been read.
    const [first] = this.script.parts;
    const part = first && this.parts.get(first.name);
    if (!(part instanceof HeldRecord) || part.isWhole) this.orderKnown = little;
    return little;
  }

  remember<T>(of: object, what: string, make: () => T): T {
    let known = this.memory.get(of);
    if (!known) this.memory.set(of, (known = new Map<string, unknown>()));
    if (!known.has(what)) known.set(what, make());
    return known.get(what) as T;
  }

  spendHashed(bytes: number): void {
    this.budget.spendHashed(bytes);
  }

  spend(steps: number): void {
    this.budget.spendSteps(steps);
  }

  /** Notes which entries the rows of a list are; several groups may share a list. */
  static number(rows: Items, base: number, kept: Int32Array | undefined): void {
    if (rows instanceof RowTable) {
      const { entryBase, entryOf } = rows;
      if (!kept || (!entryOf && entryBase < 0)) {
        rows.entryBase = base;
        rows.entryOf = kept;
      } else rows.entryOf = kept.map((own, i) => (own >= 0 ? own : entryOf ? entryOf[i]! : entryBase + i));
      return;
    }
    for (let i = 0; i < rows.length; i++) {
      const row = rows.at(i);
      const entry = kept ? kept[i]! : base + i;
      if (entry < 0) continue;
      if (row instanceof HeldRecord) row.entry = entry;
      else if (row instanceof TableRow) {
        const { table } = row;
        table.entryOf ??= new Int32Array(table.length).fill(-1);
        table.entryOf[row.position] = entry;
      }
    }
  }

  private access(): PayloadAccess {
    if (this.payloads) return this.payloads;
    throw new FormatError('bad-value', {
      expected: 'entries to be known',
      why: 'payloads are looked at after the tables',
    });
  }
}

/** Number of the entry that a record, or one around it, is the row or holder of; -1 for none. */
export function entryOf(node: RecordNode): number {
  for (let at: RecordNode | undefined = node; at; at = at.parent) if (at.entry >= 0) return at.entry;
  return -1;
}
