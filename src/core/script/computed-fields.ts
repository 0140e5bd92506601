import { FormatError } from '../bytes';
import type { Evaluation } from './evaluation';
import { isHeld, PENDING, UNKNOWN, type RecordNode, type Worked } from './model';
import { TableRow } from './table';
import type { FieldType, RecordType } from './types';
import type { Value } from './values';

/** How far a computed field may lead from record to record, as folders inside folders do. */
const DEEPEST = 500;

/** Values of computed fields, worked out when they are asked for and then kept. */
export class ComputedFields {
  private readonly others = new WeakMap<RecordNode, Worked[]>();
  private readonly rows = new WeakMap<object, Map<number, Map<number, Worked>>>();
  private depth = 0;

  get(node: RecordNode, field: FieldType, context: Evaluation): Value {
    const known = this.known(node, field.index);
    if (known === PENDING) throw this.circle(node, field);
    if (known !== undefined || this.isKnown(node, field.index)) return known as Value;
    if (field.role.sort === 'computed' && field.role.from.mentions.has('preceding'))
      this.catchUp(node, field, context);
    return this.workOut(node, field, context);
  }

  /** What builds on the record before goes forward from the last known one instead of back in a recursion. */
  private catchUp(node: RecordNode, field: FieldType, context: Evaluation): void {
    const { siblings } = node;
    if (!siblings) return;
    let from = node.position;
    while (from > 0 && !this.isKnown(siblings.at(from - 1) as RecordNode, field.index)) from--;
    context.spend(node.position - from);
    for (let i = from; i < node.position; i++) {
      const before = siblings.at(i) as RecordNode;
      // Lists may hold records of several types.
      if (before.type === node.type) this.workOut(before, field, context);
    }
  }

  private workOut(node: RecordNode, field: FieldType, context: Evaluation): Value {
    if (field.role.sort !== 'computed' || this.isKnown(node, field.index))
      return this.known(node, field.index) as Value;
    const { from } = field.role;
    if (++this.depth > DEEPEST)
      throw new FormatError('budget', {
        fieldPath: `${node.path}.${field.name}`,
        expected: `at most ${DEEPEST} records deep`,
      });
    this.set(node, field.index, PENDING);
    try {
      const value = from.run(context, node);
      this.set(node, field.index, value);
      return value;
    } catch (error) {
      this.forget(node, field.index);
      throw error instanceof FormatError ? error.with({ fieldPath: `${node.path}.${field.name}` }) : error;
    } finally {
      this.depth--;
    }
  }

  private circle(node: RecordNode, field: FieldType): FormatError {
    return new FormatError('script-wrong', {
      fieldPath: `${node.path}.${field.name}`,
      why: 'this computed field needs its own value',
    });
  }

  private isKnown(node: RecordNode, index: number): boolean {
    if (node instanceof TableRow) return this.rows.get(node.table)?.get(index)?.has(node.position) ?? false;
    const values = this.valuesOf(node);
    return values !== undefined && values[orderOf(node.type, index)] !== UNKNOWN;
  }

  private known(node: RecordNode, index: number): Worked {
    if (node instanceof TableRow) return this.rows.get(node.table)?.get(index)?.get(node.position);
    const value = this.valuesOf(node)?.[orderOf(node.type, index)];
    return value === UNKNOWN ? undefined : value;
  }

  /** An item of a list of values sees its record through an object of its own, and what is worked out is not the record's. */
  private valuesOf(node: RecordNode): Worked[] | undefined {
    if (!isHeld(node)) return this.others.get(node);
    return node.worked?.of === this ? node.worked.values : undefined;
  }

  private set(node: RecordNode, index: number, value: Worked): void {
    if (node instanceof TableRow) {
      let table = this.rows.get(node.table);
      if (!table) this.rows.set(node.table, (table = new Map<number, Map<number, Worked>>()));
      let column = table.get(index);
      if (!column) table.set(index, (column = new Map<number, Worked>()));
      column.set(node.position, value);
      return;
    }
    let values = this.valuesOf(node);
    if (!values) {
      values = new Array<Worked>(computedOf(node.type).count).fill(UNKNOWN);
      if (isHeld(node)) node.worked = { of: this, values };
      else this.others.set(node, values);
    }
    values[orderOf(node.type, index)] = value;
  }

  private forget(node: RecordNode, index: number): void {
    if (node instanceof TableRow) this.rows.get(node.table)?.get(index)?.delete(node.position);
    else {
      const values = this.valuesOf(node);
      if (values) values[orderOf(node.type, index)] = UNKNOWN;
    }
  }
}

interface ComputedOrder {
  readonly count: number;
  /** By the number of a field, its number among the computed ones. */
  readonly order: Int16Array;
}

const orders = new WeakMap<RecordType, ComputedOrder>();

function computedOf(type: RecordType): ComputedOrder {
  let known = orders.get(type);
  if (!known) {
    const order = new Int16Array(type.fields.length);
    let count = 0;
    for (const { role, index } of type.fields) if (role.sort === 'computed') order[index] = count++;
    orders.set(type, (known = { count, order }));
  }
  return known;
}

const orderOf = (type: RecordType, index: number): number => computedOf(type).order[index]!;
