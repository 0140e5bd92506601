import type { Archive, Entry } from '../archive';
import { FormatError, collect, equalBytes, refOfBytes, refOfSpan, withFacts, type BytesRef } from '../bytes';
import type { Primitives, Spool } from '../primitives';
import {
  asCount,
  bare,
  entryOf,
  fieldIndex,
  isConstant,
  isHeld,
  isItems,
  resolveSeal,
  RowTable,
  seal,
  TableRow,
  type Compiled,
  type Evaluation,
  type FieldType,
  type Items,
  type PayloadHandle,
  type Placed,
  type PlainRef,
  type RecordNode,
  type RegionNode,
  type Value,
} from '../script';
import { composeBits } from './compose-bits';
import { CutPieces } from './cut-pieces';
import { NO_EDITS, type EditMarks } from './edit/edit-marks';
import { InnerFiles } from './inner-files';
import { Lengths } from './lengths';
import { MadeItems } from './made-items';
import { payloadValue } from './payload-text';
import { PieceWriter } from './piece-writer';
import { bytesWithin } from './record-range';
import { RecordWriter } from './record-writer';
import { sameSteps } from './same-steps';

/** What a payload will be: its plain bytes, its stored bytes and, once it is laid out, its place. */
export interface NewPayload {
  readonly plain: PlainRef;
  stored: BytesRef;
  blockSizes?: readonly number[] | undefined;
  readonly changed: boolean;
}

/** Places of everything in the new file. */
export interface Places {
  ofRecord(node: RecordNode): number;
  ofTable(table: RowTable): number;
  ofPayload(index: number): number;
  /** Where a byte of a file lies now. */
  moved(place: number, file: number): number;
  /** Bytes of a new file. */
  span(from: number, length: number, file: number): BytesRef;
  sizeOfFile(file: number): number;
}

/**
 * The archive as it will be, seen from an expression. Derived fields are worked out when they are asked
 * for and remembered; fields that need each other in a circle are reported.
 */
export class WriteEvaluation implements Evaluation {
  readonly primitives: Primitives;
  readonly original: Evaluation;
  readonly lengths = new Lengths(this);
  readonly here = undefined;
  places: Places | undefined;
  readonly spools: Spool[] = [];
  readonly inner: InnerFiles;
  private readonly pieces: CutPieces;
  private readonly writer = new RecordWriter(this);
  private values = new Map<object, Map<number, Value[]>>();
  /** Counts how often all was forgotten. */
  private round = 0;
  private regions = new Map<RegionNode, BytesRef>();
  private contents = new Map<RegionNode, BytesRef>();
  private memory = new WeakMap<object, Map<string, unknown>>();

  constructor(
    private readonly archive: Archive,
    private readonly payloads: ReadonlyMap<number, NewPayload>,
    private readonly anew: boolean,
    readonly marks: EditMarks = NO_EDITS,
  ) {
    this.primitives = archive.context.primitives;
    this.original = archive.context;
    this.inner = new InnerFiles(archive, this);
    this.pieces = new CutPieces(archive, this);
  }

  /** Forgets what followed from places that no longer hold. */
  forget(): void {
    this.round++;
    this.values = new Map();
    this.regions = new Map();
    this.contents = new Map();
    this.memory = new WeakMap();
    this.lengths.forget();
    this.inner.forget();
  }

  get fileSize(): number {
    return this.laidOut().sizeOfFile(0);
  }

  get fileName(): string {
    return this.original.fileName;
  }

  fileNumber(name: string, number: number): number {
    return this.original.fileNumber(name, number);
  }

  fileCount(name: string): number {
    return this.original.fileCount(name);
  }

  sizeOfFile(file: number): number {
    return this.laidOut().sizeOfFile(file);
  }

  fileOf(thing: Placed): number {
    return this.original.fileOf(thing);
  }

  span(from: number, length: number, file = 0): BytesRef {
    return this.laidOut().span(from, length, file);
  }

  private laidOut(): Places {
    if (this.places) return this.places;
    throw new FormatError('script-wrong', {
      expected: 'a seal that does not depend on places',
      why: 'payloads are sealed before they get their places',
    });
  }

  key(name: string): Uint8Array {
    return this.original.key(name);
  }

  parameter(name: string): Value {
    return this.original.parameter(name);
  }

  part(name: string): Value {
    return this.original.part(name);
  }

  hasPart(name: string): boolean {
    return this.original.hasPart(name);
  }

  spendHashed(bytes: number): void {
    this.original.spendHashed(bytes);
  }

  spend(steps: number): void {
    this.original.spend(steps);
  }

  isLittle(node: RecordNode | undefined): boolean {
    return this.original.isLittle(node);
  }

  content(region: RegionNode): Value {
    return region.content;
  }

  fieldOfAll(list: Items, name: string): Items {
    return this.remember(list, `field ${name}`, () => {
      const found: Value[] = [];
      for (let i = 0; i < list.length; i++) {
        const one = list.at(i) as RecordNode | undefined;
        const index = one?.type?.byName.get(name);
        // Anything but records has the same shape as it was read.
        if (one === undefined || index === undefined) return this.original.fieldOfAll(list, name);
        const value = this.field(one, index);
        if (typeof value === 'object' && !(value instanceof Uint8Array))
          return this.original.fieldOfAll(list, name);
        if (value !== undefined) found.push(value);
      }
      return found;
    });
  }

  remember<T>(of: object, what: string, make: () => T): T {
    let known = this.memory.get(of);
    if (!known) this.memory.set(of, (known = new Map<string, unknown>()));
    if (!known.has(what)) known.set(what, make());
    return known.get(what) as T;
  }

  field(node: RecordNode, index: number): Value {
    const value = this.valueOf(node, index);
    const field = node.type.fields[index]!;
    if (field.repeat && isItems(value) && this.makesItems(node, field))
      return this.madeItems(node, field, value);
    return bare(value);
  }

  /** The items of a derived list as they will be. */
  madeItems(node: RecordNode, field: FieldType, read: Items): MadeItems {
    const make = (): MadeItems => new MadeItems(this, node, field, () => this.listLength(node, field, read));
    return this.remember(read, 'made', make);
  }

  /** The value as it will be written, spelled as it was read where it has not changed. */
  valueOf(node: RecordNode, index: number): Value {
    const field = node.type.fields[index]!;
    const { role } = field;
    const read = node.get(index);
    if (role.sort === 'computed') return this.workedOut(node, field, role.from);
    if (read === undefined) return undefined;
    if (field.isPayload) return payloadValue(field.shape, this.changedIn(node, field)) ?? read;
    if (role.sort === 'composed') return this.workedOut(node, field, undefined);
    if (role.sort === 'free') return this.anew ? this.workedOut(node, field, role.rule) : read;
    if (role.sort !== 'derived' || field.repeat) return read;
    if (role.deep && !this.anew && !this.isChanged(node)) return read;
    return this.workedOut(node, field, role.from);
  }

  /** What a rule says, or the numbers that bits are composed of where there is none; remembered until places change. */
  private workedOut(node: RecordNode, field: FieldType, rule: Compiled | undefined): Value {
    const { index } = field;
    const known = this.memoOf(node);
    const before = known[index];
    if (before !== undefined || index in known) {
      if (before === PENDING) throw this.circle(node, field);
      return before;
    }
    known[index] = PENDING;
    try {
      const value = rule ? rule.run(this, node) : composeBits(this, node, field, node.get(index));
      known[index] = value;
      return value;
    } catch (error) {
      delete known[index];
      throw error instanceof FormatError ? error.with({ fieldPath: `${node.path}.${field.name}` }) : error;
    }
  }

  private memoOf(node: RecordNode): Value[] {
    const { values, round } = this;
    if (isHeld(node)) {
      const { written } = node;
      // Another plan may be in the midst of working out what it has there.
      if (written?.of !== this) {
        const fresh: Value[] = [];
        node.written = { of: this, round, values: fresh };
        return fresh;
      }
      if (written.round !== round) {
        written.values.length = 0;
        written.round = round;
      }
      return written.values;
    }
    const [owner, row] = node instanceof TableRow ? [node.table, node.position] : [node, 0];
    let rows = values.get(owner);
    if (!rows) values.set(owner, (rows = new Map<number, Value[]>()));
    let known = rows.get(row);
    if (!known) rows.set(row, (known = []));
    return known;
  }

  /** Whether what follows from the payload of this record has to be worked out again. */
  isChanged(node: RecordNode): boolean {
    const entry = entryOf(node);
    // What belongs to no one entry may follow from any of them.
    return entry < 0
      ? this.payloads.size > 0 || this.marks !== NO_EDITS
      : (this.payloads.get(entry)?.changed ?? false);
  }

  /** Whether the items of a list are worked out instead of kept. */
  makesItems(node: RecordNode, { role }: FieldType): boolean {
    return role.sort === 'derived' && (!role.deep || this.anew || this.isChanged(node));
  }

  /** How many items a list will have: one that is worked out follows its count, any other stays as it is. */
  listLength(node: RecordNode, field: FieldType, list: Items): number {
    const { repeat } = field;
    if (repeat?.sort !== 'count' || !this.makesItems(node, field)) return list.length;
    try {
      return asCount(repeat.count.run(this, node));
    } catch (error) {
      // A count that is itself derived from the list cannot say how long it is to be.
      if (error instanceof FormatError && error.facts.why === NEEDS_ITSELF) return list.length;
      throw error;
    }
  }

  /** The new stored bytes that a record's payload field gets, or one that holds a file. */
  changedIn(node: RecordNode, field: FieldType): BytesRef | undefined {
    const entry = node.entry < 0 ? undefined : this.archive.entries[node.entry];
    const payload = entry && this.payloads.get(entry.index);
    if (payload && entry.holder === node) return payload.stored;
    if (payload && entry.pieces) return this.pieces.of(entry, payload.stored, node);
    return this.inner.storedIn(node, field);
  }

  private circle(node: RecordNode, field: FieldType): FormatError {
    return new FormatError('script-wrong', {
      fieldPath: `${node.path}.${field.name}`,
      why: NEEDS_ITSELF,
      remedy:
        "Take the field out of the range it is made over, with before(self, '...') or zeroed(self, '...'), or ask for was(...)",
    });
  }

  place(thing: Placed): number {
    if (thing.sort === 'payload') return this.placeOfPayload(thing.index);
    if (thing.sort === 'region')
      return this.place(thing.owner) + this.lengths.startOfField(thing.owner, thing.field.index);
    const places = this.laidOut();
    const { parent, space } = thing;
    if (!parent) {
      if (thing instanceof TableRow)
        return places.ofTable(thing.table) + thing.offset - thing.table.parts.offset;
      return places.ofRecord(thing);
    }
    const inside = this.lengths.startInList(thing);
    if (space.region && parent.space !== space) return this.place(space.region) + inside;
    return this.place(parent) + this.lengths.startOfField(parent, thing.fieldIndex) + inside;
  }

  private placeOfPayload(index: number): number {
    const { holder, pieces, group } = this.archive.entries[index]!;
    const { payload } = group;
    const node = payload.sort === 'pieces' ? pieces?.[0] : holder;
    if (!node || (payload.sort !== 'field' && payload.sort !== 'pieces'))
      return payload.sort === 'pieces' ? 0 : this.laidOut().ofPayload(index);
    return this.fieldPlace(node, payload.field);
  }

  fieldPlace(node: RecordNode, name: string): number {
    return this.place(node) + this.lengths.startOfField(node, fieldIndex(node, name));
  }

  moved(place: number, file = 0): number {
    return this.laidOut().moved(place, file);
  }

  storedLength(thing: Placed): number {
    if (thing.sort === 'payload')
      return this.payloads.get(thing.index)?.stored.length ?? this.entryOf(thing).storedSize;
    return thing.sort === 'region' ? this.lengths.ofRegion(thing) : this.lengths.ofRecord(thing);
  }

  plainLength(thing: RegionNode | PayloadHandle): number {
    return this.plain(thing).length;
  }

  blockSize(payload: PayloadHandle, block: number): number | undefined {
    const made = this.payloads.get(payload.index);
    return made ? made.blockSizes?.[block] : this.original.blockSize(payload, block);
  }

  private entryOf(payload: PayloadHandle): Entry {
    return this.archive.entries[payload.index]!;
  }

  stored(thing: Placed): BytesRef {
    if (thing.sort === 'record') return this.serialise(thing);
    if (thing.sort === 'region') return this.sealed(thing);
    return this.payloads.get(thing.index)?.stored ?? this.archive.stored(this.entryOf(thing));
  }

  plain(thing: RegionNode | PayloadHandle): PlainRef {
    if (thing.sort === 'region') return this.plainOf(thing);
    return this.payloads.get(thing.index)?.plain ?? this.archive.plain(this.entryOf(thing));
  }

  payloadOf(row: RecordNode): PayloadHandle | undefined {
    return this.original.payloadOf(row);
  }

  payloadAt(entry: number): PayloadHandle | undefined {
    return this.original.payloadAt(entry);
  }

  around(node: RecordNode, name: string, mode: 'before' | 'behind' | number): BytesRef {
    const index = fieldIndex(node, name);
    const { fields } = node.type;
    const piece = new PieceWriter();
    if (mode !== 'behind') for (const field of fields.slice(0, index)) this.writer.field(piece, node, field);
    if (mode === 'before') return piece.finish();
    const start = this.lengths.startOfField(node, index);
    if (mode !== 'behind')
      piece.bytes(new Uint8Array(this.lengths.ofField(node, fields[index]!, start)).fill(mode));
    for (const field of fields.slice(index + 1)) this.writer.field(piece, node, field);
    return piece.finish();
  }

  fieldBytes(node: RecordNode, field: FieldType): BytesRef {
    const piece = new PieceWriter();
    this.writer.field(piece, node, field);
    return piece.finish();
  }

  /** Some of a record's bytes; fields that have none in there are not asked for. */
  range(node: RecordNode, from: number, to: number): BytesRef {
    return bytesWithin(this, node, from, to);
  }

  /** The record's bytes with every field as it will be. */
  serialise(node: RecordNode): BytesRef {
    const piece = new PieceWriter();
    this.writer.record(piece, node);
    return piece.finish();
  }

  /** The same in pieces, so that long payloads inside can be copied as they lie. */
  piecesOf(thing: RecordNode | RowTable): readonly BytesRef[] {
    const piece = new PieceWriter();
    if (thing instanceof RowTable) this.writer.list(piece, thing);
    else this.writer.record(piece, thing);
    return piece.pieces();
  }

  /** Whether what is in a region comes out as it was read, without looking. */
  private isConstant(region: RegionNode): boolean {
    const { field } = region;
    return (
      !this.marks.regions.has(region) &&
      isConstant({ ...field, region: undefined }, this.archive.script.records)
    );
  }

  private plainOf(region: RegionNode): BytesRef {
    let plain = this.contents.get(region);
    if (plain) return plain;
    if (this.isConstant(region))
      return refOfSpan(region.inner.source, region.innerOffset, region.plainLength);
    const piece = new PieceWriter();
    this.writer.value(piece, region.content, region.field, region.owner);
    this.contents.set(region, (plain = piece.finish()));
    return plain;
  }

  /** A region is sealed anew only when what is in it, or what seals it, has changed. */
  sealed(region: RegionNode): BytesRef {
    const known = this.regions.get(region);
    if (known) return known;
    const steps = region.field.region!.seal;
    const stored = steps.length === 0 ? this.plainOf(region) : this.sealedAnew(region, steps);
    this.regions.set(region, stored);
    return stored;
  }

  private sealedAnew(region: RegionNode, steps: NonNullable<FieldType['region']>['seal']): BytesRef {
    const now = resolveSeal(steps, this, region.owner);
    const before = resolveSeal(steps, this.original, region.owner);
    if (this.isConstant(region) && sameSteps(now, before))
      return refOfSpan(region.space.source, region.offset, region.storedLength);
    const plain = collect(this.plainOf(region));
    const was = collect(refOfSpan(region.inner.source, region.innerOffset, region.plainLength));
    if (equalBytes(plain, was) && sameSteps(now, before))
      return refOfBytes(collect(refOfSpan(region.space.source, region.offset, region.storedLength)));
    return withFacts({ fieldPath: region.path }, () =>
      refOfBytes(collect(seal(now, refOfBytes(plain), this.primitives, this.spools).stored)),
    );
  }
}

const NEEDS_ITSELF = 'this derived field needs its own value';
/** Stands for a value that is being worked out. */
const PENDING = Object.freeze({ sort: 'text', text: '', raw: new Uint8Array(0) }) as Value;
