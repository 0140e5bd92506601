import { FormatError, memorySource, refOfSpan, withFacts } from '../bytes';
import { Budget } from './budget';
import type { Evaluation } from './evaluation';
import { absolute, type RecordNode, type RegionNode, type Space } from './model';
import { unsealSmall } from './seal';
import { readText, unitLength } from './texts';
import type { FieldShape, FieldType, PartType, RecordType, Script } from './types';
import { asCount, asTruth, describeValue, sameValue, type Value } from './values';
import { verifyField } from './verify';

/** A terminated text longer than this is taken for junk. */
const MOST_TEXT_BYTES = 1 << 16;
/** Bytes up to this length become a value; longer ones stay where they are. */
const MOST_HELD_BYTES = 4096;
const WINDOW_BYTES = 1 << 16;
const DEEPEST = 64;
const MOST_EMPTY_ROWS = 65_536;

/** Reads records through a window, so that a field costs no call into the source. */
export class RecordReader {
  private window = new DataView(new ArrayBuffer(0));
  private windowSpace: Space | undefined;
  private windowStart = 0;
  private windowEnd = 0;
  private depth = 0;

  constructor(
    private readonly script: Script,
    private readonly context: Evaluation,
    readonly budget: Budget,
  ) {}

  /** All instances of a part: one record, a counted list, or a chain of linked ones. */
  readPart(part: PartType, file: Space): Value {
    const type = this.script.records.get(part.record)!;
    if (part.condition && !asTruth(this.evaluate(part.condition.run, undefined, part.name))) return undefined;
    const at = asCount(this.evaluate(part.at.run, undefined, `${part.name}.at`));
    if (part.next) return this.readLinked(part, type, file, at);
    if (part.count) {
      const count = asCount(this.evaluate(part.count.run, undefined, `${part.name}.count`));
      return this.readList(type, count, file, at, file.source.length, undefined, part.name).list;
    }
    this.refuseOutside(file, at, part.name);
    return this.readRecord(type, file, at, file.source.length, undefined, part.name, 0);
  }

  private readLinked(part: PartType, type: RecordType, file: Space, first: number): RecordNode[] {
    const list: RecordNode[] = [];
    const seen = new Set<number>();
    for (let at = first; at !== 0;) {
      const path = `${part.name}[${list.length}]`;
      this.refuseOutside(file, at, path);
      if (seen.has(at))
        throw new FormatError('overlap', {
          fieldPath: path,
          byteOffset: at,
          why: 'the chain comes back to a place where it was before',
        });
      seen.add(at);
      const node = this.readRecord(type, file, at, file.source.length, undefined, path, list.length);
      node.siblings = list;
      list.push(node);
      at = asCount(this.evaluate(part.next!.run, node, `${path}.next`));
    }
    return list;
  }

  private refuseOutside(file: Space, at: number, path: string): void {
    if (at >= file.source.length)
      throw new FormatError('out-of-range', {
        fieldPath: path,
        byteOffset: at,
        expected: `a place below ${file.source.length}, the length of the file`,
        actual: `${at}`,
        remedy: 'The file may be cut short or of another version',
      });
  }

  private evaluate<T>(
    run: (context: Evaluation, node: RecordNode | undefined) => T,
    node: RecordNode | undefined,
    fieldPath: string,
    byteOffset?: number,
  ): T {
    return withFacts({ fieldPath, byteOffset }, () => run(this.context, node));
  }

  readRecord(
    type: RecordType,
    space: Space,
    offset: number,
    end: number,
    parent: RecordNode | undefined,
    path: string,
    position: number,
  ): RecordNode {
    this.budget.spendNodes(1);
    if (++this.depth > DEEPEST)
      throw new FormatError('budget', { fieldPath: path, expected: `at most ${DEEPEST} records deep` });
    const values: Value[] = new Array<Value>(type.fields.length).fill(undefined);
    const node: RecordNode = {
      sort: 'record',
      type,
      parent,
      space,
      offset,
      length: 0,
      position,
      siblings: undefined,
      path,
      values,
    };
    let at = offset;
    for (const field of type.fields) {
      if (field.condition && !asTruth(this.evaluate(field.condition.run, node, `${path}.${field.name}`)))
        continue;
      at += this.readField(field, node, at, end);
      node.length = at - offset;
    }
    this.depth--;
    return node;
  }

  /** Puts the field's value into its node and returns how many bytes it took. */
  private readField(field: FieldType, node: RecordNode, at: number, end: number): number {
    const path = (): string => `${node.path}.${field.name}`;
    const { space } = node;
    if (field.region) return this.readRegion(field, node, at, end);
    if (field.repeat) {
      const { list, length } = this.readRepeated(field, node, space, at, end);
      node.values[field.index] = list;
      return length;
    }
    const { value, length } = this.readShape(field.shape, node, space, at, end, path, 0);
    node.values[field.index] = value;
    if (field.role.sort === 'fixed' && !sameValue(value, field.role.value))
      throw new FormatError('fixed-mismatch', {
        fieldPath: path(),
        byteOffset: absolute(space, at),
        expected: describeValue(field.role.value),
        actual: describeValue(value),
        remedy: 'The file may be damaged, or of a version that this script does not describe',
      });
    return length;
  }

  private readShape(
    shape: FieldShape,
    node: RecordNode,
    space: Space,
    at: number,
    end: number,
    path: () => string,
    position: number,
  ): { value: Value; length: number } {
    if (shape.sort === 'scalar') {
      const { scalar, little } = shape;
      if (at + scalar.size > end) throw this.short(space, at, end, scalar.size, path());
      const view = this.view(space, at, scalar.size);
      return { value: scalar.read(view, at - this.windowStart, little), length: scalar.size };
    }
    if (shape.sort === 'record') {
      const record = this.readRecord(
        this.script.records.get(shape.name)!,
        space,
        at,
        end,
        node,
        path(),
        position,
      );
      return { value: record, length: record.length };
    }
    if (shape.sort === 'text' && shape.size === 'terminated')
      return this.readTerminated(shape.encoding, space, at, end, path);
    const size =
      shape.size === 'rest'
        ? end - at
        : asCount(this.evaluate((shape.size as { run: FieldRun }).run, node, path()));
    if (at + size > end) throw this.short(space, at, end, size, path());
    if (shape.sort === 'bytes' && size > MOST_HELD_BYTES)
      return { value: refOfSpan(space.source, at, size), length: size };
    this.budget.spendBytes(size);
    const bytes = space.source.read(at, size).slice();
    if (shape.sort === 'bytes') return { value: bytes, length: size };
    const value = withFacts({ fieldPath: path(), byteOffset: absolute(space, at) }, () =>
      readText(bytes, shape.encoding),
    );
    return { value, length: size };
  }

  private readTerminated(
    encoding: Parameters<typeof readText>[1],
    space: Space,
    at: number,
    end: number,
    path: () => string,
  ): { value: Value; length: number } {
    const unit = unitLength(encoding);
    const limit = Math.min(end, at + MOST_TEXT_BYTES);
    for (let stop = at; stop + unit <= limit; stop += unit) {
      const view = this.view(space, stop, unit);
      const where = stop - this.windowStart;
      if ((unit === 1 ? view.getUint8(where) : view.getUint16(where)) !== 0) continue;
      const bytes = space.source.read(at, stop - at).slice();
      const value = withFacts({ fieldPath: path(), byteOffset: absolute(space, at) }, () =>
        readText(bytes, encoding),
      );
      return { value, length: stop + unit - at };
    }
    throw new FormatError('truncated', {
      fieldPath: path(),
      byteOffset: absolute(space, at),
      expected: `a zero that ends the text within ${limit - at} bytes`,
      actual: 'none',
    });
  }

  private readRepeated(
    field: FieldType,
    node: RecordNode,
    space: Space,
    at: number,
    end: number,
  ): { list: Value[]; length: number } {
    const path = `${node.path}.${field.name}`;
    const repeat = field.repeat!;
    const count = repeat.sort === 'rest' ? Infinity : asCount(this.evaluate(repeat.count.run, node, path));
    if (field.shape.sort === 'record')
      return this.readList(this.script.records.get(field.shape.name)!, count, space, at, end, node, path);
    const least = field.shape.sort === 'scalar' ? field.shape.scalar.size : 1;
    this.refuseCount(count, least, space, at, end, path);
    const list: Value[] = [];
    let cursor = at;
    while (list.length < count && !(count === Infinity && cursor >= end)) {
      this.budget.spendNodes(1);
      const { value, length } = this.readShape(
        field.shape,
        node,
        space,
        cursor,
        end,
        () => `${path}[${list.length}]`,
        list.length,
      );
      if (length === 0 && count === Infinity) throw this.short(space, cursor, end, 1, path);
      list.push(value);
      cursor += length;
    }
    return { list, length: cursor - at };
  }

  private readList(
    type: RecordType,
    count: number,
    space: Space,
    at: number,
    end: number,
    parent: RecordNode | undefined,
    path: string,
  ): { list: RecordNode[]; length: number } {
    this.refuseCount(count, type.leastLength, space, at, end, path);
    const list: RecordNode[] = [];
    let cursor = at;
    while (list.length < count && !(count === Infinity && cursor >= end)) {
      const node = this.readRecord(type, space, cursor, end, parent, `${path}[${list.length}]`, list.length);
      if (node.length === 0 && count === Infinity) throw this.short(space, cursor, end, 1, path);
      // Bytes bound every other count; rows that take none are bounded by this.
      if (node.length === 0 && list.length > MOST_EMPTY_ROWS)
        throw new FormatError('budget', {
          fieldPath: path,
          byteOffset: absolute(space, cursor),
          expected: `at most ${MOST_EMPTY_ROWS} records that take no bytes`,
          actual: `${count}`,
        });
      node.siblings = list;
      list.push(node);
      cursor += node.length;
    }
    return { list, length: cursor - at };
  }

  /** A count is checked against the bytes left before anything is made for it. */
  private refuseCount(
    count: number,
    least: number,
    space: Space,
    at: number,
    end: number,
    path: string,
  ): void {
    if (count === Infinity) return;
    if (count * least > end - at)
      throw new FormatError('truncated', {
        fieldPath: path,
        byteOffset: absolute(space, at),
        expected: `${count} items of at least ${least} bytes`,
        actual: `${end - at} bytes left`,
        remedy: 'The count is wrong, or the file is cut short',
      });
  }

  private readRegion(field: FieldType, node: RecordNode, at: number, end: number): number {
    const path = `${node.path}.${field.name}`;
    const size = asCount(this.evaluate(field.region!.size.run, node, path));
    if (at + size > end) throw this.short(node.space, at, end, size, path);
    const byteOffset = absolute(node.space, at);
    const facts = { fieldPath: path, byteOffset };
    this.budget.spendBytes(size);
    const stored = node.space.source.read(at, size).slice();
    const plain = withFacts(facts, () =>
      unsealSmall(field.region!.seal, stored, this.context, node, this.budget),
    );
    const inner: Space = {
      source: memorySource(plain, node.space.source.name),
      fileOffset: byteOffset,
      within: plain.length === size ? node.space.within : path,
    };
    const region: RegionNode = {
      sort: 'region',
      field,
      owner: node,
      space: node.space,
      offset: at,
      storedLength: size,
      plain,
      inner,
      content: undefined,
      path,
    };
    node.values[field.index] = region;
    node.length = at + size - node.offset;
    for (const guard of field.guards) verifyField(node, guard, this.context);
    const consumed = this.readContent(field, region, inner);
    if (consumed !== plain.length)
      throw new FormatError('bad-value', {
        ...facts,
        byteOffset: absolute(inner, consumed),
        expected: `${plain.length} bytes explained`,
        actual: `${consumed}`,
        why: 'bytes are left over in the region',
      });
    return size;
  }

  private readContent(field: FieldType, region: RegionNode, inner: Space): number {
    const end = inner.source.length;
    if (field.repeat) {
      const { list, length } = this.readRepeated(field, region.owner, inner, 0, end);
      region.content = list;
      return length;
    }
    const { value, length } = this.readShape(field.shape, region.owner, inner, 0, end, () => region.path, 0);
    region.content = value;
    return length;
  }

  private view(space: Space, at: number, length: number): DataView {
    if (space !== this.windowSpace || at < this.windowStart || at + length > this.windowEnd) {
      const size = Math.min(WINDOW_BYTES, space.source.length - at);
      const bytes = space.source.read(at, size).slice();
      this.window = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
      this.windowSpace = space;
      this.windowStart = at;
      this.windowEnd = at + size;
    }
    return this.window;
  }

  private short(space: Space, at: number, end: number, wanted: number, path: string): FormatError {
    return new FormatError('truncated', {
      fieldPath: path,
      byteOffset: absolute(space, at),
      expected: `${wanted} bytes`,
      actual: `${Math.max(0, end - at)} left${space.within ? ` in ${space.within}` : ''}`,
      remedy: 'The file may be cut short, or a size before this field is wrong',
    });
  }
}

type FieldRun = (context: Evaluation, node: RecordNode | undefined) => Value;
