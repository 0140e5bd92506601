import {
  absolute,
  asCount,
  asTruth,
  flattened,
  isItems,
  isRest,
  RowTable,
  TableRow,
  type FieldType,
  type Items,
  type RecordNode,
  type RegionNode,
  type Value,
} from '../script';
import type { WriteEvaluation } from './write-evaluation';

/** How long records and fields will be. What cannot change its length is answered from what was read. */
export class Lengths {
  /** Stored lengths of sealed regions, which depend on what is in them. */
  readonly ofRegions = new Map<RegionNode, number>();
  private records = new Map<RecordNode, number>();
  private starts = new Map<Items, Float64Array>();

  constructor(private readonly evaluation: WriteEvaluation) {}

  forget(): void {
    this.records = new Map();
    this.starts = new Map();
  }

  /** Whether its length may be another one than was read. */
  private isElastic(node: RecordNode): boolean {
    return node.type.elastic || this.evaluation.marks.stretched.has(node);
  }

  ofRecord(node: RecordNode): number {
    if (!this.isElastic(node)) return node.length;
    let length = this.records.get(node);
    if (length === undefined) {
      length = this.startOfField(node, node.type.fields.length);
      this.records.set(node, length);
    }
    return length;
  }

  ofRegion(region: RegionNode): number {
    const known = this.ofRegions.get(region);
    if (known !== undefined) return known;
    return region.inner === region.space
      ? this.ofContent(region.content, region.field, region.owner, region.storedLength)
      : region.storedLength;
  }

  /** Where a field begins in its record. */
  startOfField(node: RecordNode, index: number): number {
    if (!this.isElastic(node)) return index < node.type.fields.length ? node.fieldStart(index) : node.length;
    let at = 0;
    const { fields } = node.type;
    for (let i = 0; i < index; i++) at += this.ofField(node, fields[i]!, at);
    return at;
  }

  /** Where a record begins among those of its list. */
  startInList(node: RecordNode): number {
    const { siblings } = node;
    if (!siblings || node.position === 0) return 0;
    const { lists } = this.evaluation.marks;
    if (node instanceof TableRow || !(node.type.elastic || lists.has(siblings)))
      return node.offset - (siblings.at(0) as RecordNode).offset;
    let starts = this.starts.get(siblings);
    if (!starts) {
      starts = new Float64Array(siblings.length).fill(-1);
      starts[0] = 0;
      this.starts.set(siblings, starts);
    }
    let known = node.position;
    while (starts[known]! < 0) known--;
    for (; known < node.position; known++)
      starts[known + 1] = starts[known]! + this.ofRecord(siblings.at(known) as RecordNode);
    return starts[node.position]!;
  }

  ofField(node: RecordNode, field: FieldType, start: number): number {
    const { shape } = field;
    const read = node.get(field.index);
    if (shape.sort === 'padding') return this.ofPadding(node, field, start);
    if (read === undefined || shape.sort === 'none' || shape.sort === 'bits') return 0;
    if (typeof read === 'object' && 'sort' in read && read.sort === 'region') return this.ofRegion(read);
    return this.ofContent(read, field, node, node.fieldLength(field.index));
  }

  private ofContent(read: Value, field: FieldType, node: RecordNode, was: number): number {
    if (read instanceof RowTable) return read.parts.byteLength;
    if (typeof read === 'object' && 'sort' in read && read.sort === 'record') return this.ofRecord(read);
    if (isItems(read)) {
      if (field.shape.sort === 'scalar')
        return this.evaluation.listLength(node, field, read) * field.shape.scalar.size;
      if (field.shape.sort === 'record' || field.shape.sort === 'choice') {
        let sum = 0;
        const list = flattened(read, this.evaluation);
        for (let i = 0; i < list.length; i++) {
          const one = list.at(i);
          if (typeof one !== 'object' || !('sort' in one) || one.sort !== 'record') return was;
          sum += this.ofRecord(one);
        }
        return sum;
      }
      return this.evaluation.marks.lists.has(read) ? this.evaluation.fieldBytes(node, field).length : was;
    }
    const payload = field.isPayload ? this.evaluation.changedIn(node, field) : undefined;
    if (payload) return payload.length;
    const { role, shape } = field;
    const isMade =
      role.sort === 'derived' || role.sort === 'free' || this.evaluation.marks.stretched.has(node);
    if (!isMade || shape.sort === 'scalar' || shape.sort === 'digits') return was;
    // Filled up to its size, or refused when it is written.
    if (shape.sort === 'text' && !isRest(shape.size)) return asCount(shape.size.run(this.evaluation, node));
    return this.evaluation.fieldBytes(node, field).length;
  }

  /** Padding follows from where it begins; what was left off at the end of a file stays off. */
  private ofPadding(node: RecordNode, field: FieldType, start: number): number {
    const { shape } = field;
    const { original } = this.evaluation;
    if (shape.sort !== 'padding') return 0;
    if (field.condition && !asTruth(field.condition.run(original, node))) return 0;
    if (shape.size) return asCount(shape.size.run(this.evaluation, node));
    const unit = asCount(shape.align!.run(this.evaluation, node));
    if (unit === 0) return 0;
    const wasAt = absolute(node.space, node.offset + node.fieldStart(field.index));
    const was = node.fieldLength(field.index);
    if (was < (unit - (wasAt % unit)) % unit) return was;
    const at = this.evaluation.place(node) + start;
    return (unit - (at % unit)) % unit;
  }
}
