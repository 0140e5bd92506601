import { FormatError, withFacts } from '../bytes';
import type { Evaluation } from './evaluation';
import { HeldRecord, type RecordNode } from './model';
import { TableRow } from './table';
import type { FieldType } from './types';
import type { Value } from './values';

const PENDING: unique symbol = Symbol('pending');
type Known = Value | typeof PENDING;

/** How far a computed field may lead from record to record, as folders inside folders do. */
const DEEPEST = 500;

/** Values of computed fields, worked out when they are asked for and then kept. */
export class ComputedFields {
  private readonly held = new WeakMap<HeldRecord, Known[]>();
  private readonly rows = new WeakMap<object, Map<number, Map<number, Known>>>();
  private depth = 0;

  get(node: RecordNode, field: FieldType, context: Evaluation): Value {
    const known = this.known(node, field.index);
    if (known === PENDING) throw this.circle(node, field);
    if (known !== undefined || this.isKnown(node, field.index)) return known;
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
      const value = withFacts({ fieldPath: `${node.path}.${field.name}` }, () => from.run(context, node));
      this.set(node, field.index, value);
      return value;
    } catch (error) {
      this.forget(node, field.index);
      throw error;
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
    return node instanceof TableRow
      ? (this.rows.get(node.table)?.get(index)?.has(node.position) ?? false)
      : index in (this.held.get(node as HeldRecord) ?? []);
  }

  private known(node: RecordNode, index: number): Known {
    return node instanceof TableRow
      ? this.rows.get(node.table)?.get(index)?.get(node.position)
      : this.held.get(node as HeldRecord)?.[index];
  }

  private set(node: RecordNode, index: number, value: Known): void {
    if (node instanceof TableRow) {
      let table = this.rows.get(node.table);
      if (!table) this.rows.set(node.table, (table = new Map<number, Map<number, Known>>()));
      let column = table.get(index);
      if (!column) table.set(index, (column = new Map<number, Known>()));
      column.set(node.position, value);
      return;
    }
    let record = this.held.get(node as HeldRecord);
    if (!record) this.held.set(node as HeldRecord, (record = []));
    record[index] = value;
  }

  private forget(node: RecordNode, index: number): void {
    if (node instanceof TableRow) this.rows.get(node.table)?.get(index)?.delete(node.position);
    else {
      const record = this.held.get(node as HeldRecord);
      if (record) delete record[index];
    }
  }
}
