import { FormatError } from '../bytes';
import type { Evaluation } from './evaluation';
import { ReadEvaluation } from './read-evaluation';
import { isItems, type Items } from './items';
import { located, startOf, type Located, type RecordNode } from './model';
import { RowTable, TableRow } from './table';
import type { ColumnInputs, Compiled, FieldType, RecordType } from './types';
import { describeValue, sameValue, type Value } from './values';

/** Columns of what entries say of themselves, for rows that are entries in order. */
export interface EntryColumns {
  readonly place: Float64Array;
  readonly stored: Float64Array;
  readonly plain: Float64Array;
}

/** Rows that are compared at a time. */
const BLOCK_ROWS = 8192;

/** What a field must equal, where its role says so. */
const mustEqual = ({ role }: FieldType): Compiled | undefined =>
  role.sort === 'derived' ? role.from : role.sort === 'computed' ? role.fixed : undefined;

/** Checks one field against what it must equal. */
export function verifyField(node: RecordNode, field: FieldType, context: Evaluation): void {
  if (!mustEqual(field)) return;
  const actual = field.role.sort === 'computed' ? context.field(node, field.index) : node.get(field.index);
  if (actual === undefined) return;
  if (field.repeat) return verifyList(node, field, actual as Items, context);
  compare(node, field, actual, node, context);
}

/** Items of a derived list are each worked out with `position` as their number. */
function verifyList(node: RecordNode, field: FieldType, list: Items, context: Evaluation): void {
  context.spend(list.length);
  for (let i = 0; i < list.length; i++) compare(node, field, list.at(i), itemNode(node, i), context);
}

/** The record as an item of its list sees it: the same but for `position`. */
export function itemNode(node: RecordNode, position: number): RecordNode {
  return Object.create(node, { position: { value: position } }) as RecordNode;
}

function compare(
  node: RecordNode,
  field: FieldType,
  actual: Value,
  asked: RecordNode,
  context: Evaluation,
): void {
  const from = mustEqual(field)!;
  let expected: Value;
  try {
    expected = from.run(context, asked);
  } catch (error) {
    throw error instanceof FormatError ? error.with(factsOf(node, field)) : error;
  }
  if (sameValue(actual, expected)) return;
  if (field.proves && context instanceof ReadEvaluation) context.failedCheck = { node, field };
  throw new FormatError(field.proves ? 'key-wrong' : 'derived-mismatch', {
    ...factsOf(node, field, field.repeat ? asked.position : undefined),
    expected: describeValue(expected),
    actual: describeValue(actual),
    why: field.proves
      ? `the key '${field.proves}' opens this part to junk, or its bytes are damaged`
      : `it must equal ${from.text}`,
    remedy: field.proves
      ? 'Try another key, or get the file anew'
      : 'The file may be damaged, or the script wrong',
  });
}

function factsOf(node: RecordNode, field: FieldType, item?: number): { fieldPath: string } & Located {
  const size = field.shape.sort === 'scalar' ? field.shape.scalar.size : 0;
  return {
    fieldPath: `${node.path}.${field.name}${item === undefined ? '' : `[${item}]`}`,
    ...located(node.space, node.offset + startOf(node, field) + size * (item ?? 0)),
  };
}

/** Where fields over payload bytes are that belong to no one entry; the rows of a list are told once. */
export function deepPaths(path: string, value: Value, isTried: IsTried = () => false): string[] {
  if (typeof value !== 'object') return [];
  if (isItems(value)) {
    const first = value.at(0);
    return typeof first === 'object' && !(first instanceof Uint8Array)
      ? deepPaths(`${path}[…]`, first, isTried)
      : [];
  }
  if (!('sort' in value)) return [];
  if (value.sort === 'region') return deepPaths(path, value.content, isTried);
  if (value.sort !== 'record') return [];
  return value.type.fields.flatMap((field) => [
    ...(isDeep(field) && !isTried(field) && (value.entry < 0 || field.repeat)
      ? [`${path}.${field.name}`]
      : []),
    ...deepPaths(`${path}.${field.name}`, value.get(field.index), isTried),
  ]);
}

const isDeep = (field: FieldType): boolean => field.role.sort === 'derived' && field.role.deep;

/** Whether a field over payload bytes is tried with all others, since its bytes are at hand. */
export type IsTried = (field: FieldType) => boolean;

/** A field that is checked, or that records lie in which are. */
interface VerifyStep {
  readonly field: FieldType;
  readonly isHeld: boolean;
  readonly isOuter: boolean;
}

/** Checks every derived field of a part and of all in it, except those over payload bytes, and counts them. */
export class PartVerifier {
  constructor(
    private readonly context: Evaluation,
    private readonly columns: EntryColumns | undefined,
    private readonly isTried: IsTried = () => false,
  ) {}

  verify(value: Value): number {
    if (typeof value !== 'object') return 0;
    if (isItems(value)) {
      if (value instanceof RowTable) return this.verifyTable(value);
      let held = 0;
      for (let i = 0; i < value.length; i++) {
        const one = value.at(i);
        // A list is of records throughout, or of plain values, which have nothing to verify.
        if (typeof one !== 'object' || one instanceof Uint8Array) break;
        held += this.verify(one);
      }
      return held;
    }
    if (!('sort' in value)) return 0;
    if (value.sort === 'record') return this.verifyRecord(value);
    return value.sort === 'region' ? this.verify(value.content) : 0;
  }

  private verifyRecord(node: RecordNode): number {
    let held = 0;
    for (const { field, isHeld, isOuter } of this.stepsOf(node.type)) {
      if (isHeld) {
        verifyField(node, field, this.context);
        held++;
      }
      if (isOuter) held += this.verify(node.get(field.index));
    }
    return held;
  }

  private readonly steps = new Map<RecordType, readonly VerifyStep[]>();

  /** The fields of a record that there is anything to do for. */
  private stepsOf(type: RecordType): readonly VerifyStep[] {
    let known = this.steps.get(type);
    if (!known) {
      known = type.fields
        .map((field) => ({
          field,
          isHeld: mustEqual(field) !== undefined && (!isDeep(field) || this.isTried(field)),
          isOuter: field.shape.sort === 'record' || field.shape.sort === 'choice',
        }))
        .filter(({ isHeld, isOuter }) => isHeld || isOuter);
      this.steps.set(type, known);
    }
    return known;
  }

  /**
   * Checks derived fields over payload bytes that belong to no one entry, or to a record inside its row, and counts
   * them. It goes through payloads, so it is for proofs.
   */
  verifyDeep(value: Value): number {
    if (typeof value !== 'object') return 0;
    let held = 0;
    if (isItems(value)) {
      if (value instanceof RowTable && !value.parts.type.fields.some(isDeep)) return 0;
      for (let i = 0; i < value.length; i++) {
        const one = value.at(i);
        if (typeof one !== 'object' || one instanceof Uint8Array) break;
        held += this.verifyDeep(one);
      }
      return held;
    }
    if (!('sort' in value)) return 0;
    if (value.sort === 'region') return this.verifyDeep(value.content);
    if (value.sort !== 'record') return 0;
    for (const field of value.type.fields) {
      if (isDeep(field) && (value.entry < 0 || field.repeat)) {
        verifyField(value, field, this.context);
        held++;
      }
      held += this.verifyDeep(value.get(field.index));
    }
    return held;
  }

  private verifyTable(table: RowTable): number {
    let held = 0;
    for (const field of table.parts.type.fields) {
      if (!mustEqual(field) || isDeep(field)) continue;
      for (let from = 0; from < table.length; from += BLOCK_ROWS) {
        const count = Math.min(BLOCK_ROWS, table.length - from);
        if (!this.holdsByColumn(table, field, from, count))
          for (let row = from; row < from + count; row++)
            verifyField(new TableRow(table, row), field, this.context);
      }
      held += table.length;
    }
    return held;
  }

  /** Whether a block of rows holds, as far as columns can tell; false means: look at each. */
  private holdsByColumn(table: RowTable, field: FieldType, from: number, count: number): boolean {
    if (field.role.sort !== 'derived' || !field.role.from.column) return false;
    const expected = field.role.from.column(tableInputs(table, this.columns, from, count));
    const actual = expected && table.doubles(field.index, from, count);
    if (!expected || !actual) return false;
    // A place that was taken from this very field.
    if (expected.buffer === actual.buffer && expected.byteOffset === actual.byteOffset) return true;
    for (let i = 0; i < count; i++) if (expected[i] !== actual[i]) return false;
    return true;
  }
}

/** What a column expression sees of a block of rows. */
export function tableInputs(
  table: RowTable,
  columns: EntryColumns | undefined,
  from: number,
  count: number,
): ColumnInputs {
  return {
    from,
    count,
    field(name) {
      const index = table.parts.type.byName.get(name);
      return index === undefined ? undefined : table.doubles(index, from, count);
    },
    special(name) {
      if (name === 'position') return Float64Array.from({ length: count }, (_, i) => from + i);
      if (!columns || table.entryBase < 0 || table.entryOf) return undefined;
      const start = table.entryBase + from;
      return columns[name].subarray(start, start + count);
    },
  };
}
