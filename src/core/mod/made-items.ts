import { FormatError } from '../bytes';
import { ItemList, itemNode, type FieldType, type RecordNode, type Value } from '../script';
import type { WriteEvaluation } from './write-evaluation';

const PENDING = Symbol('pending');

/** Items that lead from one to the one before are worked out forwards beyond this depth, to spare the stack. */
const DEEPEST = 200;

/** The items of a derived list as they will be written, each worked out when it is first asked for. */
export class MadeItems extends ItemList {
  private readonly known: (Value | typeof PENDING)[] = [];
  private depth = 0;

  constructor(
    private readonly evaluation: WriteEvaluation,
    private readonly node: RecordNode,
    private readonly field: FieldType,
    private readonly countOf: () => number,
  ) {
    super();
  }

  get length(): number {
    return this.countOf();
  }

  at(index: number): Value {
    if (!(index >= 0 && index < this.length)) return undefined;
    const known = this.known[index];
    if (known === PENDING)
      throw new FormatError('script-wrong', {
        fieldPath: `${this.node.path}.${this.field.name}[${index}]`,
        why: 'this item needs its own value',
        remedy: 'Let it follow from the items before it, or ask for was(...)',
      });
    if (index in this.known) return known;
    if (this.depth > DEEPEST) this.catchUp(index);
    const { role } = this.field;
    if (role.sort !== 'derived') return undefined;
    this.known[index] = PENDING;
    this.depth++;
    try {
      return (this.known[index] = role.from.run(this.evaluation, itemNode(this.node, index)));
    } catch (error) {
      delete this.known[index];
      throw error;
    } finally {
      this.depth--;
    }
  }

  private catchUp(index: number): void {
    let from = index;
    while (from > 0 && !(from - 1 in this.known)) from--;
    this.depth = 0;
    for (let i = from; i < index; i++) this.at(i);
  }
}
