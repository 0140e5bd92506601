import type { Archive } from '../archive';
import { FormatError, collect, equalBytes, refOfBytes, refOfSpan, withFacts, type BytesRef } from '../bytes';
import {
  asCount,
  asRef,
  asText,
  describeValue,
  encodeText,
  resolveSeal,
  seal,
  unitLength,
  type Evaluation,
  type FieldType,
  type PayloadHandle,
  type Placed,
  type PlainRef,
  type RecordNode,
  type RegionNode,
  type ResolvedStep,
  type Value,
} from '../script';
import type { Primitives, Spool } from '../primitives';
import { PieceWriter } from './piece-writer';

/** What a payload will be: its plain bytes, its stored bytes and, once it is laid out, its place. */
export interface NewPayload {
  readonly plain: PlainRef;
  stored: BytesRef;
  readonly changed: boolean;
}

/** Places of everything in the new file. */
export interface Places {
  ofRecord(node: RecordNode): number;
  ofPayload(index: number): number;
  readonly fileSize: number;
}

/**
 * The archive as it will be, seen from an expression. Derived fields are worked out when they are asked
 * for and remembered; fields that need each other in a circle are reported.
 */
export class WriteEvaluation implements Evaluation {
  readonly primitives: Primitives;
  places: Places | undefined;
  readonly spools: Spool[] = [];
  private readonly values = new Map<RecordNode, Value[]>();
  private readonly regions = new Map<RegionNode, BytesRef>();
  /** Stored lengths of regions whose length depends on what is in them. */
  readonly regionLengths = new Map<RegionNode, number>();

  constructor(
    private readonly archive: Archive,
    private readonly payloads: ReadonlyMap<number, NewPayload>,
    private readonly anew: boolean,
  ) {
    this.primitives = archive.context.primitives;
  }

  /** Forgets what followed from places that no longer hold. */
  forget(): void {
    this.values.clear();
    this.regions.clear();
  }

  get fileSize(): number {
    return this.laidOut().fileSize;
  }

  private laidOut(): Places {
    if (this.places) return this.places;
    throw new FormatError('script-wrong', {
      expected: 'a seal that does not depend on places',
      why: 'payloads are sealed before they get their places',
    });
  }

  key(name: string): Uint8Array {
    return this.archive.context.key(name);
  }

  part(name: string): Value {
    return this.archive.context.part(name);
  }

  hasPart(name: string): boolean {
    return this.archive.context.hasPart(name);
  }

  spend(steps: number): void {
    this.archive.context.spend(steps);
  }

  content(region: RegionNode): Value {
    return region.content;
  }

  field(node: RecordNode, index: number): Value {
    const field = node.type.fields[index]!;
    const read = node.values[index];
    const rule = this.ruleFor(field, node, read);
    if (!rule) return read;
    let known = this.values.get(node);
    if (!known) this.values.set(node, (known = []));
    if (index in known) {
      if (known[index] === PENDING) throw this.circle(node, field);
      return known[index];
    }
    known[index] = PENDING;
    const facts = { fieldPath: `${node.path}.${field.name}` };
    const value = withFacts(facts, () => rule(node));
    known[index] = value;
    return value;
  }

  private ruleFor(
    field: FieldType,
    node: RecordNode,
    read: Value,
  ): ((node: RecordNode) => Value) | undefined {
    const { role } = field;
    if (read === undefined) return undefined;
    if (role.sort === 'free') return this.anew ? (at) => role.rule.run(this, at) : undefined;
    if (role.sort !== 'derived') return undefined;
    if (role.deep && !this.anew && !this.isChanged(node)) return undefined;
    return (at) => role.from.run(this, at);
  }

  private isChanged(node: RecordNode): boolean {
    const entry = this.archive.entryOf(node);
    return entry !== undefined && (this.payloads.get(entry.index)?.changed ?? false);
  }

  private circle(node: RecordNode, field: FieldType): FormatError {
    return new FormatError('script-wrong', {
      fieldPath: `${node.path}.${field.name}`,
      why: 'this derived field needs its own value',
      remedy:
        "Take the field out of the range it is made over, with before(self, '...') or zeroed(self, '...')",
    });
  }

  place(thing: Placed): number {
    const places = this.laidOut();
    if (thing.sort === 'payload') return places.ofPayload(thing.index);
    if (thing.sort === 'record' && !thing.parent) return places.ofRecord(thing);
    const owner = thing.sort === 'record' ? thing.parent! : thing.owner;
    return this.place(owner) + (thing.offset - owner.offset);
  }

  storedLength(thing: Placed): number {
    if (thing.sort === 'payload') return this.payloadLength(thing);
    if (thing.sort === 'region') return this.regionLengths.get(thing) ?? thing.storedLength;
    let length = thing.length;
    for (const [region, now] of this.regionLengths)
      if (isWithin(region.owner, thing)) length += now - region.storedLength;
    return length;
  }

  private payloadLength(payload: PayloadHandle): number {
    return this.payloads.get(payload.index)?.stored.length ?? this.archive.entries[payload.index]!.storedSize;
  }

  stored(thing: Placed): BytesRef {
    if (thing.sort === 'record') return this.serialise(thing);
    if (thing.sort === 'region') return this.sealed(thing);
    return this.payloads.get(thing.index)?.stored ?? this.archive.stored(this.archive.entries[thing.index]!);
  }

  plain(thing: RegionNode | PayloadHandle): PlainRef {
    if (thing.sort === 'region') return this.plainOf(thing);
    return this.payloads.get(thing.index)?.plain ?? this.archive.plain(this.archive.entries[thing.index]!);
  }

  payloadOf(row: RecordNode): PayloadHandle | undefined {
    return this.archive.context.payloadOf(row);
  }

  around(node: RecordNode, name: string, mode: 'before' | 'zeroed'): BytesRef {
    const index = node.type.byName.get(name);
    if (index === undefined)
      throw new FormatError('script-wrong', {
        expected: `a field of ${node.type.name}`,
        actual: `'${name}'`,
      });
    const { fields } = node.type;
    const writer = new PieceWriter();
    for (const field of fields.slice(0, index)) this.writeField(writer, node, field);
    if (mode === 'before') return writer.finish();
    const { shape } = fields[index]!;
    const length = shape.sort === 'scalar' ? shape.scalar.size : this.fieldLength(node, fields[index]!);
    writer.bytes(new Uint8Array(length));
    for (const field of fields.slice(index + 1)) this.writeField(writer, node, field);
    return writer.finish();
  }

  private fieldLength(node: RecordNode, field: FieldType): number {
    const writer = new PieceWriter();
    this.writeField(writer, node, field);
    return writer.finish().length;
  }

  /** The record's bytes with every field as it will be. */
  serialise(node: RecordNode): BytesRef {
    const writer = new PieceWriter();
    this.writeRecord(writer, node);
    return writer.finish();
  }

  private writeRecord(writer: PieceWriter, node: RecordNode): void {
    for (const field of node.type.fields) this.writeField(writer, node, field);
  }

  private writeField(writer: PieceWriter, node: RecordNode, field: FieldType): void {
    const value = this.field(node, field.index);
    if (value === undefined) return;
    try {
      if (isSort(value, 'region')) writer.ref(this.sealed(value as RegionNode));
      else this.writeValue(writer, value, field, node);
    } catch (error) {
      throw error instanceof FormatError ? error.with({ fieldPath: `${node.path}.${field.name}` }) : error;
    }
  }

  private writeValue(writer: PieceWriter, value: Value, field: FieldType, node: RecordNode): void {
    const { shape } = field;
    if (Array.isArray(value)) {
      for (const item of value as readonly Value[]) this.writeValue(writer, item, field, node);
    } else if (isSort(value, 'record')) this.writeRecord(writer, value as RecordNode);
    else if (shape.sort === 'scalar') writer.number(shape.scalar, value, shape.little);
    else if (shape.sort === 'bytes') writer.ref(this.exactBytes(asRef(value), field, node));
    else writer.bytes(this.textBytes(value, field, node));
  }

  private exactBytes(ref: BytesRef, field: FieldType, node: RecordNode): BytesRef {
    const { shape } = field;
    if (shape.sort === 'bytes' && shape.size !== 'rest') {
      const size = asCount(shape.size.run(this, node));
      if (ref.length !== size)
        throw new FormatError('does-not-fit', { expected: `${size} bytes`, actual: `${ref.length}` });
    }
    return ref;
  }

  private textBytes(value: Value, field: FieldType, node: RecordNode): Uint8Array {
    const { shape } = field;
    if (shape.sort !== 'text') throw new FormatError('bad-value', { actual: describeValue(value) });
    const kept = isSort(value, 'text') ? (value as { raw: Uint8Array }).raw : undefined;
    const bytes = kept ?? encodeText(asText(value), shape.encoding);
    if (shape.size === 'rest') return bytes;
    const length =
      shape.size === 'terminated'
        ? bytes.length + unitLength(shape.encoding)
        : asCount(shape.size.run(this, node));
    if (bytes.length > length)
      throw new FormatError('does-not-fit', {
        expected: `at most ${length} bytes`,
        actual: describeValue(value),
      });
    const padded = new Uint8Array(length);
    padded.set(bytes);
    return padded;
  }

  private plainOf(region: RegionNode): BytesRef {
    const writer = new PieceWriter();
    this.writeValue(writer, region.content, region.field, region.owner);
    return writer.finish();
  }

  /** A region is sealed anew only when what is in it, or what seals it, has changed. */
  private sealed(region: RegionNode): BytesRef {
    const known = this.regions.get(region);
    if (known) return known;
    const steps = region.field.region!.seal;
    const plain = collect(this.plainOf(region));
    const now = resolveSeal(steps, this, region.owner);
    const before = resolveSeal(steps, this.archive.context, region.owner);
    const same =
      equalBytes(plain, region.plain) &&
      now.length === before.length &&
      now.every((step, i) => sameStep(step, before[i]!));
    const stored = same
      ? refOfBytes(refOfSource(region))
      : refOfBytes(collect(seal(now, refOfBytes(plain), this.primitives, this.spools)));
    this.regions.set(region, stored);
    return stored;
  }
}

/** Stands for a value that is being worked out. */
const PENDING = Object.freeze({ sort: 'text', text: '', raw: new Uint8Array(0) }) as Value;

function isSort(value: Value, sort: 'region' | 'record' | 'text'): boolean {
  return typeof value === 'object' && 'sort' in value && value.sort === sort;
}

function isWithin(node: RecordNode, outer: RecordNode): boolean {
  for (let at: RecordNode | undefined = node; at; at = at.parent) if (at === outer) return true;
  return false;
}

function refOfSource(region: RegionNode): Uint8Array {
  return collect(refOfSpan(region.space.source, region.offset, region.storedLength));
}

function sameStep(a: ResolvedStep, b: ResolvedStep): boolean {
  if (a.sort === 'cipher' && b.sort === 'cipher')
    return a.cipher === b.cipher && equalBytes(a.key, b.key) && equalBytes(a.iv ?? NOTHING, b.iv ?? NOTHING);
  if (a.sort === 'codec' && b.sort === 'codec') return a.codec === b.codec;
  return a.sort === 'blocks' && b.sort === 'blocks' && a.codec === b.codec && a.plain === b.plain;
}

const NOTHING = new Uint8Array(0);
