import { FormatError, refOfBytes, type BytesRef } from '../bytes';
import {
  asCount,
  asInteger,
  asRef,
  asText,
  bare,
  chooseShape,
  describeValue,
  encodeText,
  isItems,
  isRest,
  RowTable,
  sameValue,
  writeDigits,
  type FieldShape,
  type FieldType,
  type Items,
  type RecordNode,
  type RegionNode,
  type Value,
} from '../script';
import { endedOnce } from './payload-text';
import type { PieceWriter } from './piece-writer';
import type { WriteEvaluation } from './write-evaluation';

/** Turns records into bytes, field by field, with every value as it will be. */
export class RecordWriter {
  constructor(private readonly evaluation: WriteEvaluation) {}

  record(piece: PieceWriter, node: RecordNode): void {
    for (const field of node.type.fields) this.field(piece, node, field);
  }

  list(piece: PieceWriter, list: Items): void {
    for (let i = 0; i < list.length; i++) this.record(piece, list.at(i) as RecordNode);
  }

  field(piece: PieceWriter, node: RecordNode, field: FieldType): void {
    const { shape } = field;
    if (shape.sort === 'none' || shape.sort === 'bits') return;
    if (shape.sort === 'padding') return this.padding(piece, node, field);
    const value = this.evaluation.valueOf(node, field.index);
    if (value === undefined) return;
    try {
      if (isSort(value, 'region')) this.region(piece, value as RegionNode);
      else this.value(piece, value, field, node);
    } catch (error) {
      throw error instanceof FormatError ? error.with({ fieldPath: `${node.path}.${field.name}` }) : error;
    }
  }

  /** What is not sealed goes out piece by piece, so that payloads inside stay where they are until copied. */
  private region(piece: PieceWriter, region: RegionNode): void {
    if (region.field.region!.seal.length > 0) piece.ref(this.evaluation.sealed(region));
    else this.value(piece, region.content, region.field, region.owner);
  }

  value(piece: PieceWriter, value: Value, field: FieldType, node: RecordNode): void {
    if (isItems(value)) {
      if (value instanceof RowTable) this.list(piece, value);
      else this.items(piece, value, field, node);
    } else if (isSort(value, 'record')) this.record(piece, value as RecordNode);
    else this.plain(piece, value, node.get(field.index), this.shapeOf(field.shape, node), field, node);
  }

  /** Items of a derived list follow from their number. */
  private items(piece: PieceWriter, list: Items, field: FieldType, node: RecordNode): void {
    const made = this.evaluation.makesItems(node, field)
      ? this.evaluation.madeItems(node, field, list)
      : undefined;
    const length = this.evaluation.listLength(node, field, list);
    for (let i = 0; i < length; i++) {
      const read = list.at(i);
      const value = made ? made.at(i) : read;
      if (isSort(value, 'record')) this.record(piece, value as RecordNode);
      else this.plain(piece, value, read, this.shapeOf(field.shape, node), field, node);
    }
  }

  private shapeOf(shape: FieldShape, node: RecordNode): FieldShape {
    if (shape.sort !== 'choice') return shape;
    const { original } = this.evaluation;
    const chosen = chooseShape(shape, shape.by.run(original, node));
    return chosen ? this.shapeOf(chosen, node) : shape;
  }

  private plain(
    piece: PieceWriter,
    value: Value,
    read: Value,
    shape: FieldShape,
    field: FieldType,
    node: RecordNode,
  ): void {
    switch (shape.sort) {
      case 'scalar': {
        const little = shape.order === 'ruled' ? this.evaluation.isLittle(node) : shape.order === 'little';
        piece.number(shape.scalar, bare(value), little);
        return;
      }
      case 'variable':
        piece.bytes(rawOf(value, read) ?? shape.integer.write(value));
        return;
      case 'digits': {
        const before = isSort(read, 'number') ? (read as { raw: Uint8Array }).raw : undefined;
        piece.bytes(rawOf(value, read) ?? writeDigits(asCount(asInteger(value)), shape.digits.base, before!));
        return;
      }
      case 'bytes':
        piece.ref(this.exactBytes(asRef(value), shape, field, node));
        return;
      case 'ended text':
      case 'counted text':
      case 'text':
        if (field.isPayload) {
          const stored = this.evaluation.changedIn(node, field);
          if (stored && shape.sort === 'text')
            return void piece.ref(this.exactBytes(stored, { ...shape, sort: 'bytes' }, field, node));
          if (stored && shape.sort === 'ended text') return void piece.ref(endedOnce(stored, shape));
        }
        if (this.plainText(piece, value, read, shape, node)) return;
        piece.bytes(this.textBytes(rawOf(value, read), value, shape, node));
        return;
      default:
        throw new FormatError('bad-value', { actual: describeValue(value) });
    }
  }

  private exactBytes(
    ref: BytesRef,
    shape: FieldShape & { sort: 'bytes' },
    field: FieldType,
    node: RecordNode,
  ): BytesRef {
    if (isRest(shape.size)) return ref;
    const size = asCount(shape.size.run(this.evaluation, node));
    if (ref.length !== size)
      throw new FormatError('does-not-fit', {
        expected: `${size} bytes`,
        actual: `${ref.length}`,
        remedy: field.isPayload
          ? `The script does not derive the size that ${field.name} is read with from the payload`
          : undefined,
      });
    return ref;
  }

  /** Most texts are ASCII of just the length of their field, and need no array of their own; false for all others. */
  private plainText(
    piece: PieceWriter,
    value: Value,
    read: Value,
    shape: FieldShape,
    node: RecordNode,
  ): boolean {
    // What was read as an object keeps its spelling; Shift_JIS has signs of its own for two of the characters.
    if (shape.sort !== 'text' || typeof value !== 'string' || typeof read === 'object') return false;
    const { size, encoding } = shape;
    if (encoding.startsWith('utf-16') || encoding === 'shift_jis') return false;
    if (!isRest(size) && asCount(size.run(this.evaluation, node)) !== value.length) return false;
    return piece.ascii(value);
  }

  private textBytes(
    raw: Uint8Array | undefined,
    value: Value,
    shape: FieldShape & { sort: 'text' | 'ended text' | 'counted text' },
    node: RecordNode,
  ): Uint8Array {
    const bytes = raw ?? encodeText(asText(value), shape.encoding);
    const unit = shape.encoding.startsWith('utf-16') ? 2 : 1;
    if (shape.sort === 'ended text') {
      const out = new Uint8Array(bytes.length + unit);
      out.set(bytes);
      out[bytes.length + (shape.encoding === 'utf-16be' ? 1 : 0)] = shape.end;
      return out;
    }
    if (shape.sort === 'counted text') {
      const { scalar, order } = shape;
      const out = new Uint8Array(scalar.size + bytes.length);
      const little = order === 'ruled' ? this.evaluation.isLittle(node) : order === 'little';
      scalar.write(new DataView(out.buffer), 0, bytes.length / unit, little);
      out.set(bytes, scalar.size);
      return out;
    }
    if (isRest(shape.size)) return bytes;
    const length = asCount(shape.size.run(this.evaluation, node));
    if (bytes.length > length)
      throw new FormatError('does-not-fit', {
        expected: `at most ${length} bytes`,
        actual: describeValue(value),
      });
    const padded = new Uint8Array(length).fill(shape.fill);
    padded.set(bytes);
    return padded;
  }

  /** Padding keeps the bytes it had while it is as long as it was. */
  private padding(piece: PieceWriter, node: RecordNode, field: FieldType): void {
    const start = this.evaluation.lengths.startOfField(node, field.index);
    const length = this.evaluation.lengths.ofField(node, field, start);
    const read = node.get(field.index);
    const kept = read === undefined ? undefined : asRef(read);
    const fill = field.shape.sort === 'padding' ? field.shape.fill : 0;
    piece.ref(kept?.length === length ? kept : refOfBytes(new Uint8Array(length).fill(fill)));
  }
}

/** The bytes that a value had, where it still has that value. */
function rawOf(value: Value, read: Value): Uint8Array | undefined {
  if (typeof read !== 'object' || !('sort' in read) || (read.sort !== 'number' && read.sort !== 'text'))
    return undefined;
  return value === read || sameValue(value, read) ? read.raw : undefined;
}

function isSort(value: Value, sort: 'region' | 'record' | 'number'): boolean {
  return typeof value === 'object' && 'sort' in value && value.sort === sort;
}
