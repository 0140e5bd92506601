import { equalBytes, type ByteSource } from '../bytes';
import { ItemList } from './items';
import type { RecordNode, Space } from './model';
import { readText, decodeText, encodeText } from './texts';
import { isRest } from './rest';
import type { FieldType, RecordType } from './types';
import { canonical, type Value } from './values';

/** A column of numbers; 64-bit ones are two halves, since a bigint each would cost ten times as much. */
export type Column =
  | {
      sort: 'narrow';
      values:
        | Uint8Array
        | Int8Array
        | Uint16Array
        | Int16Array
        | Uint32Array
        | Int32Array
        | Float32Array
        | Float64Array;
    }
  | { sort: 'wide'; high: Uint32Array | Int32Array; low: Uint32Array };

/** Bytes a row takes in memory for a column of this type. */
export function columnBytes(field: FieldType): number {
  const { shape } = field;
  if (shape.sort === 'scalar') return shape.scalar.size === 3 ? 4 : shape.scalar.size;
  return shape.sort === 'ended text' ? 4 : 0;
}

export function makeColumn(field: FieldType, count: number): Column | undefined {
  const { shape } = field;
  if (shape.sort === 'ended text') return { sort: 'narrow', values: new Uint32Array(count) };
  if (shape.sort !== 'scalar') return undefined;
  switch (shape.scalar.name) {
    case 'u8':
      return { sort: 'narrow', values: new Uint8Array(count) };
    case 'i8':
      return { sort: 'narrow', values: new Int8Array(count) };
    case 'u16':
      return { sort: 'narrow', values: new Uint16Array(count) };
    case 'i16':
      return { sort: 'narrow', values: new Int16Array(count) };
    case 'u24':
    case 'u32':
      return { sort: 'narrow', values: new Uint32Array(count) };
    case 'i24':
    case 'i32':
      return { sort: 'narrow', values: new Int32Array(count) };
    case 'f32':
      return { sort: 'narrow', values: new Float32Array(count) };
    case 'f64':
      return { sort: 'narrow', values: new Float64Array(count) };
    case 'u64':
      return { sort: 'wide', high: new Uint32Array(count), low: new Uint32Array(count) };
    default:
      return { sort: 'wide', high: new Int32Array(count), low: new Uint32Array(count) };
  }
}

/** Where in a row a field lies: a constant, and the lengths of the varying fields before it. */
export interface FieldPlan {
  readonly before: number;
  readonly varying: readonly number[];
  /** Length of the field where it is the same in all rows. */
  readonly length: number | undefined;
}

export function planFields(type: RecordType): FieldPlan[] {
  let before = 0;
  const varying: number[] = [];
  return type.fields.map((field) => {
    const length = fixedLength(field);
    const plan = { before, varying: [...varying], length };
    if (length === undefined) varying.push(field.index);
    else before += length;
    return plan;
  });
}

function fixedLength({ shape }: FieldType): number | undefined {
  if (shape.sort === 'scalar') return shape.scalar.size;
  if (shape.sort === 'bits' || shape.sort === 'none') return 0;
  if ((shape.sort === 'bytes' || shape.sort === 'text') && !isRest(shape.size))
    return shape.size.linear!.name === undefined ? shape.size.linear!.plus : undefined;
  return undefined;
}

/** What a table is made of once it has been scanned. */
export interface TableParts {
  readonly type: RecordType;
  readonly parent: RecordNode | undefined;
  readonly fieldIndex: number;
  readonly space: Space;
  readonly offset: number;
  readonly byteLength: number;
  readonly count: number;
  readonly path: string;
  readonly plans: readonly FieldPlan[];
  readonly columns: readonly (Column | undefined)[];
  /** Where each row begins, and where the last one ends; undefined where all rows are equally long. */
  readonly starts: Float64Array | undefined;
  readonly stride: number;
  readonly little: readonly boolean[];
}

/**
 * A list of records of one flat type, held in columns. A row is made into an object only when somebody
 * asks for one; texts and bytes are read from the source then.
 */
export class RowTable extends ItemList {
  readonly length: number;
  readonly path: string;
  /** Entry numbers of the rows: `entryBase + position`, or by `entryOf` where some rows are no entries. */
  entryBase = -1;
  entryOf: Int32Array | undefined;
  private readonly whole = new Map<number, Float64Array>();

  constructor(readonly parts: TableParts) {
    super();
    this.length = parts.count;
    this.path = parts.path;
  }

  at(index: number): RecordNode | undefined {
    return index >= 0 && index < this.length ? new TableRow(this, index) : undefined;
  }

  startOf(row: number): number {
    const { starts, offset, stride } = this.parts;
    return starts ? starts[row]! : offset + row * stride;
  }

  lengthOf(row: number): number {
    const { starts, stride } = this.parts;
    return starts ? starts[row + 1]! - starts[row]! : stride;
  }

  /** Length of a field's bytes in a row. */
  fieldLength(row: number, index: number): number {
    const plan = this.parts.plans[index]!;
    if (plan.length !== undefined) return plan.length;
    const { shape } = this.parts.type.fields[index]!;
    if (shape.sort === 'ended text') return Number(this.number(row, index)) + 1;
    const { name, times, plus } = (
      shape as { size: { linear: { name: string; times: number; plus: number } } }
    ).size.linear;
    return Number(this.number(row, this.parts.type.byName.get(name)!)) * times + plus;
  }

  fieldStart(row: number, index: number): number {
    const plan = this.parts.plans[index]!;
    let at = this.startOf(row) + plan.before;
    for (const other of plan.varying) at += this.fieldLength(row, other);
    return at;
  }

  number(row: number, index: number): number | bigint {
    return numberOf(this.parts.columns[index]!, row);
  }

  /** Numbers of a field as doubles, or undefined where one is not exact. Once all have been asked for, these are kept. */
  doubles(index: number, from: number, count: number): Float64Array | undefined {
    const kept = this.whole.get(index);
    if (kept) return kept.subarray(from, from + count);
    const made = this.makeDoubles(index, from, count);
    if (made && count === this.length && count > 0) this.whole.set(index, made);
    return made;
  }

  private makeDoubles(index: number, from: number, count: number): Float64Array | undefined {
    const { shape } = this.parts.type.fields[index]!;
    const out = new Float64Array(count);
    if (shape.sort === 'bits') {
      for (let i = 0; i < count; i++) out[i] = this.bits(from + i, index);
      return out;
    }
    const column = this.parts.columns[index];
    if (shape.sort !== 'scalar' || !column) return undefined;
    if (column.sort === 'narrow') {
      if (column.values instanceof Float32Array || column.values instanceof Float64Array) return undefined;
      out.set(column.values.subarray(from, from + count));
      return out;
    }
    let exact = true;
    for (let i = 0; i < count; i++) {
      const value = column.high[from + i]! * 0x1_0000_0000 + column.low[from + i]!;
      if (!Number.isSafeInteger(value)) exact = false;
      out[i] = value;
    }
    return exact ? out : undefined;
  }

  private bits(row: number, index: number): number {
    const { shape } = this.parts.type.fields[index]!;
    if (shape.sort !== 'bits') return Number.NaN;
    return Number(bitsOf(this.number(row, shape.container), shape.from, shape.width, shape.signed));
  }

  value(row: number, index: number): Value {
    const field = this.parts.type.fields[index]!;
    const { shape } = field;
    if (shape.sort === 'scalar') return this.number(row, index);
    if (shape.sort === 'bits')
      return bitsOf(this.number(row, shape.container), shape.from, shape.width, shape.signed);
    if (shape.sort === 'none') return undefined;
    const at = this.fieldStart(row, index);
    const { source } = this.parts.space;
    if (shape.sort === 'ended text')
      return endedText(source, at, this.fieldLength(row, index) - 1, shape.encoding);
    const bytes = source.read(at, this.fieldLength(row, index));
    if (shape.sort === 'text') return readText(bytes, shape.encoding, shape.fill);
    return bytes.slice();
  }

  isLittle(index: number): boolean {
    return this.parts.little[index]!;
  }
}

function endedText(
  source: ByteSource,
  at: number,
  length: number,
  encoding: Parameters<typeof decodeText>[1],
): Value {
  const bytes = source.read(at, length);
  const text = decodeText(bytes, encoding);
  return encoding === 'ascii' || encoding === 'latin1' || equalBytes(encodeText(text, encoding), bytes)
    ? text
    : { sort: 'text', text, raw: bytes.slice() };
}

/** Some of a number's bits, counted from the lowest. */
export function bitsOf(of: number | bigint, from: number, width: number, signed: boolean): number | bigint {
  if (typeof of === 'number' && of >= 0 && width <= 31 && !signed)
    return Math.floor(of / 2 ** from) % 2 ** width;
  const pattern = BigInt.asUintN(width, BigInt(of) >> BigInt(from));
  return canonical(signed ? BigInt.asIntN(width, pattern) : pattern);
}

/** One row as a record. Two of the same row are the same for everything but `===`. */
export class TableRow implements RecordNode {
  readonly sort = 'record';

  constructor(
    readonly table: RowTable,
    readonly position: number,
  ) {}

  get type(): RecordType {
    return this.table.parts.type;
  }

  get parent(): RecordNode | undefined {
    return this.table.parts.parent;
  }

  get fieldIndex(): number {
    return this.table.parts.fieldIndex;
  }

  get space(): Space {
    return this.table.parts.space;
  }

  get offset(): number {
    return this.table.startOf(this.position);
  }

  get length(): number {
    return this.table.lengthOf(this.position);
  }

  get siblings(): RowTable {
    return this.table;
  }

  get path(): string {
    return `${this.table.path}[${this.position}]`;
  }

  get entry(): number {
    const { entryBase, entryOf } = this.table;
    if (entryOf) return entryOf[this.position]!;
    return entryBase < 0 ? -1 : entryBase + this.position;
  }

  get(index: number): Value {
    return this.table.value(this.position, index);
  }

  fieldStart(index: number): number {
    return this.table.fieldStart(this.position, index) - this.offset;
  }

  fieldLength(index: number): number {
    return this.table.fieldLength(this.position, index);
  }
}

/** Rows without bytes, for entries that are told by number alone. */
export function numberedRows(count: number, space: Space): RowTable {
  return new RowTable({
    type: NUMBERED,
    parent: undefined,
    fieldIndex: -1,
    space,
    offset: 0,
    byteLength: 0,
    count,
    path: 'entries',
    plans: [],
    columns: [],
    starts: undefined,
    stride: 0,
    little: [],
  });
}

const NUMBERED: RecordType = {
  name: 'numbered',
  fields: [],
  byName: new Map(),
  leading: [0],
  leastLength: 0,
  elastic: false,
  flat: true,
  constant: true,
};

/** Numbers one after the other, such as all offsets of an archive. */
export class NumberList extends ItemList {
  readonly length: number;

  constructor(
    private readonly column: Column,
    count: number,
  ) {
    super();
    this.length = count;
  }

  at(index: number): Value {
    return index >= 0 && index < this.length ? numberOf(this.column, index) : undefined;
  }
}

function numberOf(column: Column, row: number): number | bigint {
  if (column.sort === 'narrow') return column.values[row]!;
  const high = column.high[row]!;
  const low = column.low[row]!;
  const value = high * 0x1_0000_0000 + low;
  return Number.isSafeInteger(value) ? value : canonical((BigInt(high) << 32n) | BigInt(low));
}
