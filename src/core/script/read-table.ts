import { FormatError } from '../bytes';
import type { Budget } from './budget';
import { absolute, type RecordNode, type Space } from './model';
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
/** A terminated text longer than this is taken for junk. */
const MOST_TEXT_BYTES = 1 << 16;

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
      byteOffset: absolute(space, at),
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
    const perBlock = Math.max(1, Math.floor(BLOCK_BYTES / stride));
    for (let row = 0; row < count; row += perBlock) {
      const rows = Math.min(perBlock, count - row);
      const bytes = this.place.space.source.read(at + row * stride, rows * stride);
      const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
      for (const field of this.type.fields) {
        const column = columns[field.index];
        if (column)
          fillColumn(
            column,
            field,
            view,
            this.plans[field.index]!.before,
            stride,
            row,
            rows,
            this.little[field.index]!,
          );
      }
    }
    return this.finish(columns, count, stride, undefined, count * stride);
  }

  /** Row after row, since where one begins depends on those before it. */
  varying(given: number): RowTable {
    const { at, end, space } = this.place;
    // A count that was checked against the bytes left bounds the columns; otherwise they grow.
    let room = given === Infinity ? 1024 : given;
    this.spend(room);
    let columns = this.type.fields.map((field) => makeColumn(field, room));
    let starts = new Float64Array(room + 1);
    const steps = this.type.fields.map((field) => this.stepOf(field));
    let block: Uint8Array = new Uint8Array(0);
    let view = new DataView(block.buffer);
    let blockStart = at;
    let cursor = at;
    let row = 0;
    const need = (from: number, length: number): number => {
      if (from + length > end) throw this.short(from, length, row);
      if (from < blockStart || from + length > blockStart + block.length) {
        const size = Math.min(Math.max(BLOCK_BYTES, length), end - from);
        block = space.source.read(from, size).slice();
        view = new DataView(block.buffer, block.byteOffset, block.length);
        blockStart = from;
      }
      return from - blockStart;
    };
    for (; row < given && !(given === Infinity && cursor >= end); row++) {
      if (row === room) {
        this.spend(room);
        room *= 2;
        columns = columns.map((column, i) => grown(column, this.type.fields[i]!, room));
        const longer = new Float64Array(room + 1);
        longer.set(starts);
        starts = longer;
      }
      starts[row] = cursor;
      const begin = cursor;
      for (let i = 0; i < steps.length; i++) {
        const step = steps[i]!;
        const column = columns[i];
        if (step.sort === 'number') {
          const where = need(cursor, step.size);
          store(column!, row, step.kind, view, where, this.little[i]!);
          cursor += step.size;
        } else if (step.sort === 'fixed') cursor += step.length;
        else if (step.sort === 'sized') {
          const by = columns[step.by]! as {
            values?: ArrayLike<number>;
            high?: ArrayLike<number>;
            low?: ArrayLike<number>;
          };
          const base = by.values ? by.values[row]! : by.high![row]! * 0x1_0000_0000 + by.low![row]!;
          const length = base * step.times + step.plus;
          if (!(length >= 0 && cursor + length <= end)) throw this.short(cursor, length, row);
          cursor += length;
        } else {
          let length = 0;
          for (;;) {
            const where = need(cursor + length, 1);
            const found = block.indexOf(step.end, where);
            if (found >= 0) {
              length += found - where;
              break;
            }
            length += block.length - where;
            if (length > MOST_TEXT_BYTES) break;
          }
          if (length > MOST_TEXT_BYTES)
            throw new FormatError('truncated', {
              fieldPath: `${this.place.path}[${row}]`,
              byteOffset: absolute(space, cursor),
              expected: `a byte that ends the text within ${MOST_TEXT_BYTES} bytes`,
              actual: 'none',
            });
          (column as { values: Uint32Array }).values[row] = length;
          cursor += length + 1;
        }
      }
      if (cursor > end) throw this.short(begin, cursor - begin, row);
      if (cursor === begin && given === Infinity) throw this.short(cursor, 1, row);
    }
    starts[row] = cursor;
    if (given === Infinity) {
      columns = columns.map((column, i) => grown(column, this.type.fields[i]!, row));
      starts = starts.slice(0, row + 1);
    }
    return this.finish(columns, row, 0, starts, cursor - at);
  }

  private stepOf(field: FieldType): Step {
    const { shape } = field;
    if (shape.sort === 'scalar') return { sort: 'number', size: shape.scalar.size, kind: shape.scalar.name };
    if (shape.sort === 'ended text') return { sort: 'ended', end: shape.end };
    const { length } = this.plans[field.index]!;
    if (length !== undefined) return { sort: 'fixed', length };
    const { name, times, plus } = (
      shape as { size: { linear: { name: string; times: number; plus: number } } }
    ).size.linear;
    return { sort: 'sized', by: this.type.byName.get(name)!, times, plus };
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
        byteOffset: absolute(table.parts.space, table.fieldStart(row, field.index)),
        expected:
          role.sort === 'fixed' ? describeValue(role.value) : `one of ${[...choices!.keys()].join(', ')}`,
        actual: describeValue(value),
        remedy: 'The file may be damaged, or of a version that this script does not describe',
      });
    }
  }
}

type Step =
  | { sort: 'number'; size: number; kind: string }
  | { sort: 'fixed'; length: number }
  | { sort: 'sized'; by: number; times: number; plus: number }
  | { sort: 'ended'; end: number };

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

const narrow24 = (view: DataView, at: number, little: boolean): number =>
  little
    ? view.getUint8(at) | (view.getUint16(at + 1, true) << 8)
    : (view.getUint16(at) << 8) | view.getUint8(at + 2);

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
