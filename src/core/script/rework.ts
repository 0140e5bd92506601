import { checkRange, FormatError, type ByteSource } from '../bytes';
import { Budget } from './budget';
import { isItems } from './items';
import { HeldRecord, HeldRegion, type RecordNode, type Space } from './model';
import { numberOfBits, putBits } from './put-bits';
import { isRest } from './rest';
import { readTable } from './read-table';
import { RowTable } from './table';
import { encodeText } from './texts';
import { asInteger, bare, describeValue, type Value } from './values';

/** Where a copy of a record stands. */
export interface CopyPlace {
  readonly parent: RecordNode | undefined;
  readonly space: Space;
  /** Offset in its space at which it would be, in bytes. */
  readonly offset: number;
  readonly position: number;
}

/** A record like another one, all that is in it copied as well. Bytes that it refers to stay where they are. */
export function copyRecord(node: HeldRecord, place: CopyPlace): HeldRecord {
  const { parent, space, offset, position } = place;
  const copy = node.another(parent, space, offset, position);
  copy.length = node.length;
  copy.entry = node.entry;
  for (let i = 0; i <= node.type.fields.length; i++) copy.begins(i, node.fieldStart(i));
  for (const [i, value] of node.values.entries()) copy.values[i] = copyValue(value, copy, space);
  return copy;
}

function copyValue(value: Value, parent: HeldRecord, space: Space): Value {
  if (typeof value !== 'object') return value;
  if (value instanceof RowTable) {
    const table = new RowTable({ ...value.parts, parent, space });
    table.entryBase = value.entryBase;
    table.entryOf = value.entryOf;
    return table;
  }
  if (isItems(value)) {
    if (!Array.isArray(value)) return value;
    const list: Value[] = [];
    for (const one of value as readonly Value[]) {
      const copied = copyValue(one, parent, space);
      if (copied instanceof HeldRecord) copied.siblings = list;
      list.push(copied);
    }
    return list;
  }
  if (value instanceof HeldRecord) {
    const { offset, position } = value;
    return copyRecord(value, { parent, space, offset, position });
  }
  if (!('sort' in value) || value.sort !== 'region') return value;
  const region = new HeldRegion(value.field, parent, value.offset, value.storedLength);
  region.innerOffset = value.innerOffset;
  region.plainLength = value.plainLength;
  region.inner = value.inner !== value.space ? { ...value.inner, region } : space;
  region.content = copyValue(value.content, parent, region.inner);
  return region;
}

/** The bytes of a row of a table with other values in some of its fields; a length that a text is read with follows it. */
export function rowBytes(table: RowTable, row: number, values: ReadonlyMap<number, Value>): Uint8Array {
  const { type, space, little } = table.parts;
  const parts = new Map<number, Uint8Array>();
  const numbers = new Map<number, Value>();
  for (const { index, shape, name } of type.fields) {
    const value = values.get(index);
    if (value === undefined || shape.sort === 'scalar') {
      if (value !== undefined) numbers.set(index, bare(value));
      continue;
    }
    if (shape.sort === 'bits') {
      const container = type.fields[shape.container]!.shape;
      if (container.sort !== 'scalar') continue;
      const was = numbers.get(shape.container) ?? table.number(row, shape.container);
      const pattern = putBits(BigInt(asInteger(was)), shape, value, `${table.path}[${row}].${name}`);
      numbers.set(shape.container, numberOfBits(pattern, container));
      continue;
    }
    if (typeof value !== 'string' || (shape.sort !== 'text' && shape.sort !== 'ended text'))
      throw new FormatError('bad-value', {
        fieldPath: `${table.path}[${row}].${name}`,
        expected: 'a text',
        actual: describeValue(value),
      });
    const text = encodeText(value, shape.encoding);
    if (shape.sort === 'ended text') {
      parts.set(index, Uint8Array.from([...text, shape.end]));
      continue;
    }
    const linear = isRest(shape.size) ? undefined : shape.size.linear;
    if (linear?.name === undefined) {
      const length = linear?.plus ?? text.length;
      if (text.length > length)
        throw new FormatError('does-not-fit', {
          fieldPath: `${table.path}[${row}].${name}`,
          expected: `at most ${length} bytes`,
          actual: describeValue(value),
        });
      parts.set(index, new Uint8Array(length).fill(shape.fill));
      parts.get(index)!.set(text);
    } else {
      parts.set(index, text);
      numbers.set(type.byName.get(linear.name)!, (text.length - linear.plus) / linear.times);
    }
  }
  const pieces = type.fields.map(({ index, shape }) => {
    if (shape.sort === 'bits' || shape.sort === 'none') return new Uint8Array(0);
    const known = parts.get(index);
    if (known) return known;
    if (shape.sort !== 'scalar')
      return space.source.read(table.fieldStart(row, index), table.fieldLength(row, index)).slice();
    const bytes = new Uint8Array(shape.scalar.size);
    const number = numbers.get(index) ?? table.number(row, index);
    shape.scalar.write(new DataView(bytes.buffer), 0, number, little[index]!);
    return bytes;
  });
  return joined(pieces);
}

/** Rows of a table that stay, from one to before another, or the bytes of a new one. */
export type TablePiece = { readonly from: number; readonly to: number } | Uint8Array;

/** The table with other rows; what stays of it keeps its bytes. */
export function tableOf(table: RowTable, pieces: readonly TablePiece[]): RowTable {
  const { type, parent, fieldIndex, space, offset, path, little } = table.parts;
  let count = 0;
  const bytes = joined(
    pieces.map((piece) => {
      if (piece instanceof Uint8Array) {
        count++;
        return piece;
      }
      count += piece.to - piece.from;
      if (piece.to <= piece.from) return new Uint8Array(0);
      const start = table.startOf(piece.from);
      const end = table.startOf(piece.to - 1) + table.lengthOf(piece.to - 1);
      return space.source.read(start, end - start).slice();
    }),
  );
  const end = offset + bytes.length;
  const place = {
    space: { ...space, source: sourceFrom(bytes, offset, space.source.name) },
    at: offset,
    end,
    parent,
    fieldIndex,
    path,
  };
  return readTable(type, count, place, little, new Budget());
}

/** Bytes that lie from an offset on. */
function sourceFrom(bytes: Uint8Array, offset: number, name: string): ByteSource {
  return {
    name,
    length: offset + bytes.length,
    read(from, length) {
      checkRange(name, bytes.length, from - offset, length);
      return bytes.subarray(from - offset, from - offset + length);
    },
  };
}

function joined(pieces: readonly Uint8Array[]): Uint8Array {
  const out = new Uint8Array(pieces.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const piece of pieces) {
    out.set(piece, at);
    at += piece.length;
  }
  return out;
}
