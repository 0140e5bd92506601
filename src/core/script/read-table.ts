import { FormatError } from '../bytes';
import type { Budget } from './budget';
import { located, type RecordNode, type Space } from './model';
import { makeScanner } from './row-scanner';
import { lengthAt, narrow24, segmentsOf, type Segment } from './row-segments';
import {
  columnBytes,
  makeColumn,
  NumberList,
  planFields,
  RowTable,
  type Column,
  type FieldPlan,
} from './table';
import type { FieldType, RecordType } from './types';
import { describeValue, sameValue } from './values';

/** Bytes that are gone through at a time. */
const BLOCK_BYTES = 1 << 18;
/** A row longer than this is taken for junk. */
const MOST_ROW_BYTES = 1 << 26;

export interface TablePlace {
  readonly space: Space;
  readonly at: number;
  readonly end: number;
  readonly parent: RecordNode | undefined;
  readonly fieldIndex: number;
  readonly path: string;
}

/** Reads `count` rows of a flat type, or as many as there are up to `end` where it is Infinity. */
export function readTable(
  type: RecordType,
  count: number,
  place: TablePlace,
  little: readonly boolean[],
  budget: Budget,
): RowTable {
  const plans = planFields(type);
  const stride = plans.every(({ length }) => length !== undefined)
    ? plans.reduce((sum, { length }) => sum + length!, 0)
    : undefined;
  const scan = new TableScan(type, plans, place, little, budget);
  return stride === undefined ? scan.varying(count) : scan.even(count, stride);
}

/** Reads `count` numbers of one type that lie side by side; the caller has checked that they are there. */
export function readNumbers(
  field: FieldType,
  count: number,
  space: Space,
  at: number,
  little: boolean,
  budget: Budget,
): NumberList {
  const { shape } = field;
  const size = shape.sort === 'scalar' ? shape.scalar.size : 1;
  budget.spendBytes(count * columnBytes(field));
  const column = makeColumn(field, count)!;
  const perBlock = Math.floor(BLOCK_BYTES / size);
  for (let row = 0; row < count; row += perBlock) {
    const rows = Math.min(perBlock, count - row);
    const bytes = space.source.read(at + row * size, rows * size);
    fillColumn(
      column,
      field,
      new DataView(bytes.buffer, bytes.byteOffset, bytes.length),
      0,
      size,
      row,
      rows,
      little,
    );
  }
  return new NumberList(column, count);
}

class TableScan {
  constructor(
    private readonly type: RecordType,
    private readonly plans: readonly FieldPlan[],
    private readonly place: TablePlace,
    private readonly little: readonly boolean[],
    private readonly budget: Budget,
  ) {}

  private spend(rows: number): void {
    this.budget.spendBytes(rows * (8 + this.type.fields.reduce((sum, field) => sum + columnBytes(field), 0)));
  }

  private short(at: number, wanted: number, row: number): FormatError {
    const { space, end, path } = this.place;
    return new FormatError('truncated', {
      fieldPath: `${path}[${row}]`,
      ...located(space, at),
      expected: `${wanted} bytes`,
      actual: `${Math.max(0, end - at)} left${space.within ? ` in ${space.within}` : ''}`,
      remedy: 'The file may be cut short, or a size before this field is wrong',
    });
  }

  even(given: number, stride: number): RowTable {
    const { at, end } = this.place;
    const count = given === Infinity ? Math.floor((end - at) / stride) : given;
    if (given === Infinity && at + count * stride !== end)
      throw this.short(at + count * stride, stride, count);
    if (at + count * stride > end)
      throw this.short(
        at + Math.floor((end - at) / stride) * stride,
        stride,
        Math.floor((end - at) / stride),
      );
    this.spend(count);
    const columns = this.type.fields.map((field) => makeColumn(field, count));
    const scan = makeScanner(segmentsOf(this.type, this.plans, this.little), this.little, false);
    const perBlock = Math.max(1, Math.floor(BLOCK_BYTES / stride));
    const found = { rows: 0, end: 0 };
    for (let row = 0; row < count; row += perBlock) {
      const rows = Math.min(perBlock, count - row);
      const bytes = this.blockAt(at + row * stride, rows * stride);
      const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
      scan(view, rows, row, 0, undefined, columns, found);
    }
    return this.finish(columns, count, stride, undefined, count * stride);
  }

  /** Rows of varying length, a block of bytes at a time. */
  varying(given: number): RowTable {
    const { at, end } = this.place;
    // A count that was checked against the bytes left bounds the columns; otherwise they grow.
    let room = given === Infinity ? 1024 : given;
    this.spend(room);
    let columns = this.type.fields.map((field) => makeColumn(field, room));
    let starts = new Float64Array(room + 1);
    const segments = segmentsOf(this.type, this.plans, this.little);
    const scan = makeScanner(segments, this.little, true);
    const found = { rows: 0, end: 0 };
    let cursor = at;
    let row = 0;
    let wanted = BLOCK_BYTES;
    while (row < given && !(given === Infinity && cursor >= end)) {
      if (row === room) {
        this.spend(room);
        room *= 2;
        columns = columns.map((column, i) => grown(column, this.type.fields[i]!, room));
        const longer = new Float64Array(room + 1);
        longer.set(starts);
        starts = longer;
      }
      const block = this.blockAt(cursor, wanted);
      const view = new DataView(block.buffer, block.byteOffset, block.length);
      scan(view, room - row, row, cursor, starts, columns, found);
      if (found.rows === 0 || (found.end === 0 && given === Infinity)) {
        if (found.rows > 0) throw this.short(cursor, 1, row);
        const cut = this.cutRow(segments, cursor, row, view);
        if (cut.isFinal || cursor + block.length >= end) throw cut.error;
        // A row longer than the block.
        wanted = block.length * 2;
        if (wanted > MOST_ROW_BYTES) throw this.short(cursor, wanted, row);
        continue;
      }
      wanted = BLOCK_BYTES;
      row += found.rows;
      cursor += found.end;
    }
    starts[row] = cursor;
    if (given === Infinity) {
      columns = columns.map((column, i) => grown(column, this.type.fields[i]!, row));
      starts = starts.slice(0, row + 1);
    }
    return this.finish(columns, row, 0, starts, cursor - at);
  }

  private blockAt(from: number, wanted: number): Uint8Array {
    const { end, space } = this.place;
    // Nothing else is read until the block is done with, so the view stays good.
    return space.source.read(from, Math.min(wanted, Math.max(0, end - from)));
  }

  /** What to say of a row that a block cuts, and whether a longer block will not help. */
  private cutRow(
    segments: readonly Segment[],
    cursor: number,
    row: number,
    view: DataView,
  ): { error: FormatError; isFinal: boolean } {
    const block = new Uint8Array(view.buffer, view.byteOffset, view.byteLength);
    const begins: number[] = [];
    let at = 0;
    for (const { fixed, sized, ended } of segments) {
      begins.push(at);
      if (at + fixed > block.length) return { error: this.short(cursor + at, fixed, row), isFinal: false };
      at += fixed;
      if (sized) {
        const { kind, segment, offset, little, times, plus } = sized;
        const length = lengthAt(view, kind, begins[segment]! + offset, little) * times + plus;
        // Also for what is no number.
        const isFinal = !(length >= 0);
        if (isFinal || at + length > block.length)
          return { error: this.short(cursor + at, length, row), isFinal };
        at += length;
      } else if (ended >= 0) {
        const found = block.indexOf(ended, at);
        if (found < 0) return { error: this.unended(cursor + at, block.length - at, row), isFinal: false };
        at = found + 1;
      }
    }
    return { error: this.short(cursor, at, row), isFinal: false };
  }

  private unended(at: number, within: number, row: number): FormatError {
    return new FormatError('truncated', {
      fieldPath: `${this.place.path}[${row}]`,
      ...located(this.place.space, at),
      expected: 'a byte that ends the text',
      actual: `none in ${within} bytes`,
    });
  }

  private finish(
    columns: readonly (Column | undefined)[],
    count: number,
    stride: number,
    starts: Float64Array | undefined,
    byteLength: number,
  ): RowTable {
    const { space, at, parent, fieldIndex, path } = this.place;
    const table = new RowTable({
      type: this.type,
      parent,
      fieldIndex,
      space,
      offset: at,
      byteLength,
      count,
      path,
      plans: this.plans,
      columns,
      starts,
      stride,
      little: this.little,
    });
    for (const field of this.type.fields) this.checkField(field, table);
    return table;
  }

  private checkField(field: FieldType, table: RowTable): void {
    const { role, choices } = field;
    if (role.sort !== 'fixed' && !choices) return;
    const allowed = choices && new Set(choices.values());
    for (let row = 0; row < table.length; row++) {
      const value = table.value(row, field.index);
      const isRight = role.sort === 'fixed' ? sameValue(value, role.value) : allowed!.has(value);
      if (isRight) continue;
      throw new FormatError(role.sort === 'fixed' ? 'fixed-mismatch' : 'bad-value', {
        fieldPath: `${table.path}[${row}].${field.name}`,
        ...located(table.parts.space, table.fieldStart(row, field.index)),
        expected:
          role.sort === 'fixed' ? describeValue(role.value) : `one of ${[...choices!.keys()].join(', ')}`,
        actual: describeValue(value),
        remedy: 'The file may be damaged, or of a version that this script does not describe',
      });
    }
  }
}

function grown(column: Column | undefined, field: FieldType, room: number): Column | undefined {
  if (!column) return undefined;
  const longer = makeColumn(field, room)!;
  if (column.sort === 'narrow') {
    (longer as { values: Float64Array }).values.set(column.values.subarray(0, room));
  } else if (longer.sort === 'wide') {
    longer.high.set(column.high.subarray(0, room));
    longer.low.set(column.low.subarray(0, room));
  }
  return longer;
}

function store(column: Column, row: number, kind: string, view: DataView, at: number, little: boolean): void {
  if (column.sort === 'wide') {
    column.high[row] = view.getUint32(little ? at + 4 : at, little);
    column.low[row] = view.getUint32(little ? at : at + 4, little);
    return;
  }
  const { values } = column;
  switch (kind) {
    case 'u8':
    case 'i8':
      values[row] = view.getUint8(at);
      break;
    case 'u16':
    case 'i16':
      values[row] = view.getUint16(at, little);
      break;
    case 'u24':
      values[row] = narrow24(view, at, little);
      break;
    case 'i24':
      values[row] = (narrow24(view, at, little) << 8) >> 8;
      break;
    case 'f32':
      values[row] = view.getFloat32(at, little);
      break;
    case 'f64':
      values[row] = view.getFloat64(at, little);
      break;
    default:
      values[row] = view.getUint32(at, little);
  }
}

/** One column of a block of equally long rows, in a loop of its own for each width. */
function fillColumn(
  column: Column,
  field: FieldType,
  view: DataView,
  before: number,
  stride: number,
  row: number,
  rows: number,
  little: boolean,
): void {
  const { shape } = field;
  if (shape.sort !== 'scalar') return;
  const { name, size } = shape.scalar;
  if (column.sort === 'wide') {
    const { high, low } = column;
    const up = before + (little ? 4 : 0);
    const down = before + (little ? 0 : 4);
    for (let i = 0, at = 0; i < rows; i++, at += stride) {
      high[row + i] = view.getUint32(at + up, little);
      low[row + i] = view.getUint32(at + down, little);
    }
    return;
  }
  const { values } = column;
  if (size === 4 && name !== 'f32')
    for (let i = 0, at = before; i < rows; i++, at += stride) values[row + i] = view.getUint32(at, little);
  else if (size === 2)
    for (let i = 0, at = before; i < rows; i++, at += stride) values[row + i] = view.getUint16(at, little);
  else if (size === 1)
    for (let i = 0, at = before; i < rows; i++, at += stride) values[row + i] = view.getUint8(at);
  else
    for (let i = 0, at = before; i < rows; i++, at += stride) store(column, row + i, name, view, at, little);
}
