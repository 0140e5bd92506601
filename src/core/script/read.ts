import { refuseCount } from './refuse-count';
import { FormatError, memorySource, withFacts } from '../bytes';
import type { Budget } from './budget';
import { isItems, type Items } from './items';
import {
  absolute,
  located,
  type Located,
  fieldPath,
  HeldRecord,
  HeldRegion,
  type RecordNode,
  type RegionNode,
  type Space,
} from './model';
import type { ReadEvaluation } from './read-evaluation';
import { readNumbers, readTable } from './read-table';
import { chooseShape } from './choose-shape';
import { ValueReader, type Found } from './read-value';
import { isRest } from './rest';
import { unsealSmall } from './seal';
import { bitsOf } from './table';
import type {
  Compiled,
  FieldShape,
  FileChoice,
  FieldType,
  PartType,
  RecordType,
  Repeat,
  Script,
} from './types';
import { asCount, asTruth, bare, describeValue, sameValue, type Value } from './values';
import { verifyField } from './verify';
import { withPlace } from './with-place';

const DEEPEST = 64;
const MOST_EMPTY_ROWS = 65_536;

/** Reads the parts of an archive by its script. */
export class RecordReader {
  private depth = 0;
  private readonly values: ValueReader;

  constructor(
    private readonly script: Script,
    private readonly context: ReadEvaluation,
    private readonly budget: Budget,
  ) {
    this.values = new ValueReader(context, budget);
  }

  /** All instances of a part: one record, a list, a chain of linked ones, or one for each item of a list. */
  readPart(part: PartType): Value {
    if (part.condition && !asTruth(this.evaluate(part.condition, undefined, () => part.name)))
      return undefined;
    if (part.each) return this.readForEach(part, part.each);
    if (part.file && !part.file.number && this.script.files.get(part.file.name)!.several)
      return this.readInEach(part, part.file);
    const file = this.spaceOf(part, undefined);
    const at = this.countAt(part.at, undefined, () => `${part.name}.at`);
    if (part.next) return this.readLinked(part, part.next, file, at);
    const end = file.source.length;
    const type = this.typeOf(part);
    if (part.repeat) {
      if (at > end) this.refuseOutside(file, at, part.name);
      const place = { space: file, at, end, parent: undefined, fieldIndex: -1, named: part.name };
      return this.readRecords(type, part.repeat, place, (list) => this.context.parts.set(part.name, list))
        .list;
    }
    if (at !== end || type.leastLength > 0) this.refuseOutside(file, at, part.name);
    const node = new HeldRecord(type, undefined, -1, file, at, 0, part.name, false);
    // Its own fields may be asked for by the name of the part while it is being read.
    this.context.parts.set(part.name, node);
    return this.fillRecord(node, end);
  }

  private spaceOf({ file, name }: PartType, item: RecordNode | undefined): Space {
    const { files } = this.context;
    if (!file) return files.all[0]!.space;
    const number = file.number && this.countAt(file.number, item, () => `${name}.in`);
    return files.open(file.name, number ?? 0).space;
  }

  /** One record in each file of several. */
  private readInEach(part: PartType, file: FileChoice): HeldRecord[] {
    const list: HeldRecord[] = [];
    const count = this.context.files.count(file.name);
    for (let i = 0; i < count; i++) {
      const { space } = this.context.files.open(file.name, i);
      const at = this.countAt(part.at, undefined, () => `${part.name}.at`);
      this.fillNext(part, list, space, at);
    }
    return list;
  }

  private fillNext(part: PartType, list: HeldRecord[], space: Space, at: number): HeldRecord {
    this.refuseOutside(space, at, part.name, list.length);
    const node = new HeldRecord(this.typeOf(part), undefined, -1, space, at, list.length, part.name, true);
    node.siblings = list;
    list.push(node);
    this.context.parts.set(part.name, list);
    return this.fillRecord(node, space.source.length);
  }

  /** Reads a record and puts it into its list; one that fails half-way too, to be shown. */
  private fillInto(list: HeldRecord[], node: HeldRecord, end: number): void {
    try {
      this.fillRecord(node, end);
    } finally {
      list.push(node);
    }
  }

  private readonly typeOf = ({ record }: PartType): RecordType => this.script.records.get(record)!;

  private readLinked(part: PartType, next: Compiled, file: Space, first: number): HeldRecord[] {
    const list: HeldRecord[] = [];
    this.context.parts.set(part.name, list);
    const seen = new Set<number>();
    for (let at = first; at !== 0;) {
      this.refuseOutside(file, at, part.name, list.length);
      if (seen.has(at))
        throw new FormatError('overlap', {
          fieldPath: `${part.name}[${list.length}]`,
          byteOffset: at,
          why: 'the chain comes back to a place where it was before',
        });
      seen.add(at);
      const node = new HeldRecord(this.typeOf(part), undefined, -1, file, at, list.length, part.name, true);
      node.siblings = list;
      this.fillInto(list, node, file.source.length);
      at = this.countAt(next, node, () => `${node.path}.next`);
    }
    return list;
  }

  private readForEach(part: PartType, each: Compiled): HeldRecord[] {
    const items = this.evaluate(each, undefined, () => `${part.name}.each`);
    if (!isItems(items))
      throw new FormatError('script-wrong', {
        fieldPath: `${part.name}.each`,
        expected: 'a list',
        actual: describeValue(items),
      });
    const list: HeldRecord[] = [];
    for (let i = 0; i < items.length; i++) {
      const item = items.at(i) as RecordNode;
      const at = this.countAt(part.at, item, () => `${part.name}[${i}].at`);
      this.fillNext(part, list, this.spaceOf(part, item), at);
    }
    return list;
  }

  private refuseOutside(file: Space, at: number, name: string, position?: number): void {
    if (at >= file.source.length)
      throw new FormatError('out-of-range', {
        fieldPath: position === undefined ? name : `${name}[${position}]`,
        byteOffset: at,
        expected: `a place below ${file.source.length}, the length of the file`,
        actual: `${at}`,
        remedy: 'The file may be cut short or of another version',
      });
  }

  /** A count or place; what is none says where the expression stands. */
  private countAt(
    of: Compiled,
    node: RecordNode | undefined,
    path: () => string,
    place?: () => Located,
  ): number {
    try {
      return asCount(of.run(this.context, node));
    } catch (error) {
      throw withPlace(error, path, place);
    }
  }

  private evaluate(
    of: Compiled,
    node: RecordNode | undefined,
    path: () => string,
    place?: () => Located,
  ): Value {
    try {
      return of.run(this.context, node);
    } catch (error) {
      throw withPlace(error, path, place);
    }
  }

  private fillRecord(node: HeldRecord, end: number): HeldRecord {
    this.budget.spendRecord(node.type.fields.length);
    if (++this.depth > DEEPEST)
      throw new FormatError('budget', { fieldPath: node.path, expected: `at most ${DEEPEST} records deep` });
    let at = node.offset;
    for (const field of node.type.fields) {
      node.begins(field.index, at - node.offset);
      if (!field.condition || this.isThere(field, field.condition, node, at))
        at += this.readField(field, node, at, end);
      node.begins(field.index + 1, at - node.offset);
      node.length = at - node.offset;
    }
    this.depth--;
    return node;
  }

  private isThere({ index }: FieldType, condition: Compiled, node: HeldRecord, at: number): boolean {
    const path = (): string => fieldPath(node, index);
    return asTruth(this.evaluate(condition, node, path, () => located(node.space, at)));
  }

  /** Puts the field's value into its node and returns how many bytes it took. */
  private readField(field: FieldType, node: HeldRecord, at: number, end: number): number {
    if (field.shape.sort === 'none') return 0;
    if (field.region) return this.readRegion(field, field.region, node, at, end);
    if (field.repeat) {
      const { list, length } = this.readRepeated(field, node, node.space, at, end);
      node.values[field.index] = list;
      return length;
    }
    const { shape } = field;
    if (shape.sort === 'scalar') {
      // By far the most fields are numbers, so that they go a way of their own.
      const value = this.values.number(field, shape, node, at, end);
      node.values[field.index] = value;
      if (field.role.sort === 'fixed' || field.choices) this.checkValue(field, node, value, at);
      return shape.scalar.size;
    }
    const { value, length } = this.readShape(field, shape, node, node.space, at, end, undefined);
    node.values[field.index] = value;
    this.checkValue(field, node, value, at);
    return length;
  }

  private checkValue(field: FieldType, node: RecordNode, value: Value, at: number): void {
    const { role, choices } = field;
    const refuse = (code: 'fixed-mismatch' | 'bad-value', expected: string): never => {
      throw new FormatError(code, {
        fieldPath: `${node.path}.${field.name}`,
        ...located(node.space, at),
        expected,
        actual: describeValue(value),
        remedy: 'The file may be damaged, or of a version that this script does not describe',
      });
    };
    if (role.sort === 'fixed' && !sameValue(value, role.value))
      refuse('fixed-mismatch', describeValue(role.value));
    if (!choices) return;
    for (const choice of choices.values()) if (sameValue(choice, value)) return;
    refuse('bad-value', `one of ${[...choices.keys()].join(', ')}`);
  }

  private readShape(
    field: FieldType,
    shape: FieldShape,
    node: HeldRecord,
    space: Space,
    at: number,
    end: number,
    position: number | undefined,
  ): Found {
    const path = (): string => `${node.path}.${field.name}${position === undefined ? '' : `[${position}]`}`;
    switch (shape.sort) {
      case 'record': {
        const type = this.script.records.get(shape.name)!;
        const record = new HeldRecord(
          type,
          node,
          field.index,
          space,
          at,
          position ?? 0,
          undefined,
          position !== undefined,
        );
        if (position === undefined) node.values[field.index] = record;
        this.fillRecord(record, end);
        return { value: record, length: record.length };
      }
      case 'choice': {
        const chosen = chooseShape(shape, this.evaluate(shape.by, node, path));
        if (!chosen)
          throw new FormatError('bad-value', {
            fieldPath: path(),
            ...located(space, at),
            expected: `one of ${[...shape.cases.keys()].join(', ')}`,
            actual: describeValue(shape.by.run(this.context, node)),
          });
        return this.readShape(field, chosen, node, space, at, end, position);
      }
      case 'bits': {
        const container = asWhole(node.values[shape.container]);
        return { value: bitsOf(container, shape.from, shape.width, shape.signed), length: 0 };
      }
      default:
        return this.values.read(field, shape, node, { space, at, end, path });
    }
  }

  private readRepeated(
    field: FieldType,
    node: HeldRecord,
    space: Space,
    at: number,
    end: number,
  ): { list: Items; length: number } {
    const path = (): string => fieldPath(node, field.index);
    const repeat = field.repeat!;
    const { shape } = field;
    if (shape.sort === 'record') {
      const type = this.script.records.get(shape.name)!;
      const place = { space, at, end, parent: node, fieldIndex: field.index, named: undefined };
      return this.readRecords(type, repeat, place, (list) => (node.values[field.index] = list));
    }
    const count = this.countOf(repeat, node, path, () => located(space, at));
    if (shape.sort === 'scalar' && count !== undefined) {
      const { size } = shape.scalar;
      const whole = count === Infinity ? (end - at) / size : count;
      if (!Number.isInteger(whole))
        throw this.values.short(space, end - ((end - at) % size), end, size, path());
      refuseCount(whole, size, space, at, end, path);
      const little = this.values.isLittle(shape.order, node);
      return { list: readNumbers(field, whole, space, at, little, this.budget), length: whole * size };
    }
    refuseCount(count ?? Infinity, 1, space, at, end, path);
    const list: Value[] = [];
    node.values[field.index] = list;
    let cursor = at;
    for (let more = this.goesOn(repeat, count, list, { space, at: cursor, end, path }, node); more;) {
      this.budget.spendNodes(1);
      const { value, length } = this.readShape(field, shape, node, space, cursor, end, list.length);
      if (length === 0 && count === Infinity) throw this.values.short(space, cursor, end, 1, path());
      list.push(value);
      cursor += length;
      more = this.goesOn(repeat, count, list, { space, at: cursor, end, path }, node);
    }
    return { list, length: cursor - at };
  }

  /** A number, Infinity for a list to the end, or undefined where a condition ends it. */
  private countOf(
    repeat: Repeat,
    node: RecordNode | undefined,
    path: () => string,
    place: () => Located,
  ): number | undefined {
    if (repeat.sort === 'rest') return Infinity;
    return repeat.sort === 'count' ? this.countAt(repeat.count, node, path, place) : undefined;
  }

  private goesOn(
    repeat: Repeat,
    count: number | undefined,
    list: readonly Value[],
    { space, at: cursor, end, path }: { space: Space; at: number; end: number; path: () => string },
    node: RecordNode | undefined,
  ): boolean {
    if (count !== undefined) return count === Infinity ? cursor < end : list.length < count;
    if (cursor >= end && repeat.sort === 'while') return false;
    if (repeat.sort === 'until' && list.length === 0) return true;
    const of = repeat as { condition: Compiled };
    const last = list.at(-1);
    const isRecord = typeof last === 'object' && 'sort' in last && last.sort === 'record';
    const judged = repeat.sort === 'until' && isRecord ? (last as RecordNode) : node;
    this.context.here = cursor;
    const result = asTruth(
      this.evaluate(
        of.condition,
        judged,
        () => `${path()}[${list.length}]`,
        () => located(space, cursor),
      ),
    );
    this.context.here = undefined;
    return repeat.sort === 'while' ? result : !result;
  }

  private readRecords(
    type: RecordType,
    repeat: Repeat,
    place: {
      space: Space;
      at: number;
      end: number;
      parent: HeldRecord | undefined;
      fieldIndex: number;
      /** Name of a part; undefined for a list in a field. */
      named: string | undefined;
    },
    publish: (list: Items) => void,
  ): { list: Items; length: number } {
    const { space, at, end, parent, fieldIndex, named } = place;
    const path = (): string => named ?? fieldPath(parent!, fieldIndex);
    const count = this.countOf(repeat, parent, path, () => located(space, at));
    refuseCount(count ?? Infinity, type.leastLength, space, at, end, path);
    if (type.flat && count !== undefined && type.leastLength > 0) {
      const little = type.fields.map(
        ({ shape }) => shape.sort === 'scalar' && this.values.isLittle(shape.order, parent),
      );
      try {
        const table = readTable(type, count, { ...place, path: path() }, little, this.budget);
        return { list: table, length: table.parts.byteLength };
      } catch (error) {
        // Row by row it fails again, and leaves what came before to be shown.
        if (!this.context.isExplained) throw error;
      }
    }
    const list: HeldRecord[] = [];
    publish(list);
    let cursor = at;
    for (let more = this.goesOn(repeat, count, list, { space, at: cursor, end, path }, parent); more;) {
      const node = new HeldRecord(type, parent, fieldIndex, space, cursor, list.length, named, true);
      node.siblings = list;
      this.fillInto(list, node, end);
      if (node.length === 0 && count === Infinity) throw this.values.short(space, cursor, end, 1, path());
      // Bytes bound every other count; rows that take none are bounded by this.
      if (node.length === 0 && list.length > MOST_EMPTY_ROWS)
        throw new FormatError('budget', {
          fieldPath: path(),
          ...located(space, cursor),
          expected: `at most ${MOST_EMPTY_ROWS} records that take no bytes`,
          actual: `${count ?? 'more'}`,
        });
      cursor += node.length;
      more = this.goesOn(repeat, count, list, { space, at: cursor, end, path }, parent);
    }
    return { list, length: cursor - at };
  }

  private readRegion(
    field: FieldType,
    { size: sizeRule, seal }: NonNullable<FieldType['region']>,
    node: HeldRecord,
    at: number,
    end: number,
  ): number {
    const path = (): string => fieldPath(node, field.index);
    const place = (): Located => located(node.space, at);
    const facts = (): Located & { fieldPath: string } => ({ fieldPath: path(), ...place() });
    const size = isRest(sizeRule)
      ? this.values.left(sizeRule, node.space, at, end, path)
      : this.countAt(sizeRule, node, path, place);
    if (at + size > end) throw this.values.short(node.space, at, end, size, path());
    const region = new HeldRegion(field, node, at, size);
    if (seal.length > 0) {
      this.budget.spendBytes(size);
      const stored = node.space.source.read(at, size).slice();
      const plain = withFacts(facts(), () => unsealSmall(seal, stored, this.context, node, this.budget));
      region.innerOffset = 0;
      region.plainLength = plain.length;
      region.inner = {
        source: memorySource(plain, node.space.source.name),
        fileOffset: absolute(node.space, at),
        within: plain.length === size ? node.space.within : path(),
        file: node.space.file,
        region,
      };
    }
    node.values[field.index] = region;
    node.length = at + size - node.offset;
    for (const guard of field.guards) verifyField(node, guard, this.context);
    const { inner, innerOffset } = region;
    const stop = innerOffset + region.plainLength;
    const consumed = this.readContent(field, region, node, stop);
    if (consumed !== region.plainLength)
      throw new FormatError('bad-value', {
        ...facts(),
        ...located(inner, innerOffset + consumed),
        expected: `${region.plainLength} bytes explained`,
        actual: `${consumed}`,
        why: 'bytes are left over in the region',
      });
    return size;
  }

  private readContent(field: FieldType, region: RegionNode, owner: HeldRecord, end: number): number {
    const { inner, innerOffset } = region;
    const held = region as { content: Value };
    if (field.repeat) {
      const { list, length } = this.readRepeated(field, owner, inner, innerOffset, end);
      held.content = list;
      owner.values[field.index] = region;
      return length;
    }
    const { value, length } = this.readShape(field, field.shape, owner, inner, innerOffset, end, undefined);
    held.content = value;
    owner.values[field.index] = region;
    return length;
  }
}

const asWhole = (value: Value): number | bigint => bare(value) as number | bigint;
