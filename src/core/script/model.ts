import type { ByteSource } from '../bytes';
import type { Items } from './items';
import type { FieldType, RecordType } from './types';
import type { Value } from './values';

/**
 * Bytes with offsets of their own: a file, or what came out of a sealed region. `fileOffset` is the
 * place in the file that stands for offset 0 here, exact where the seal keeps lengths.
 */
export interface Space {
  readonly source: ByteSource;
  readonly fileOffset: number;
  /** Empty for a file itself. */
  readonly within: string;
  /** Number of the file that it is or lies in; 0 for the one that was opened. */
  readonly file: number;
  /** Set inside a sealed region. */
  readonly region?: RegionNode;
}

/** One record as it was read. A row of a table is one that is made when somebody asks for it. */
export interface RecordNode {
  readonly sort: 'record';
  readonly type: RecordType;
  readonly parent: RecordNode | undefined;
  /** Number of the parent's field that it stands in; -1 where it is a part of its own. */
  readonly fieldIndex: number;
  readonly space: Space;
  /** Offset in its space, in bytes. */
  readonly offset: number;
  readonly length: number;
  /** Number in its list, from 0. */
  readonly position: number;
  /** The list it stands in. */
  readonly siblings: Items | undefined;
  /** Name in messages, such as `pages[2]`. */
  readonly path: string;
  /** Number of the entry whose payload or row it is, or -1. */
  readonly entry: number;
  /** The value of a field as it was read; undefined where a condition left it out. */
  get(index: number): Value;
  /** Where a field begins, from the start of the record, and how many bytes it takes, as it was read. */
  fieldStart(index: number): number;
  fieldLength(index: number): number;
}

/** What was worked out for a computed field, unless that is under way or nobody has asked yet. */
export type Worked = Value | typeof PENDING | typeof UNKNOWN;
export const PENDING: unique symbol = Symbol('pending');
export const UNKNOWN: unique symbol = Symbol('unknown');

/** Numbers that are not known yet, shared by all records that have none. */
const NONE: number[] = [];

/**
 * A record that is kept as an object; what varies in shape is read into these. There may be hundreds of thousands, so that what can
 * be worked out of others is not kept.
 */
export class HeldRecord implements RecordNode {
  readonly sort = 'record';
  length = 0;
  siblings: Items | undefined = undefined;
  entry = -1;
  /** Values of computed fields in their order, as far as somebody has asked for them; see `ComputedFields`. */
  worked: { readonly of: object; readonly values: Worked[] } | undefined = undefined;
  /** Values as they will be written, for the plan that asked for them last. */
  written: { readonly of: object; round: number; readonly values: Value[] } | undefined = undefined;
  readonly values: Value[];
  /** Where the fields begin behind those that lie at the same place in each record, and where the last one ends. */
  private readonly behind: number[];

  /**
   * `named` is the name in messages; of one that stands in a field of another it follows from that. `isItem` says that it is told by its
   * position as well.
   */
  constructor(
    readonly type: RecordType,
    readonly parent: RecordNode | undefined,
    readonly fieldIndex: number,
    readonly space: Space,
    readonly offset: number,
    readonly position: number,
    private readonly named: string | undefined,
    private readonly isItem: boolean,
  ) {
    this.values = new Array<Value>(type.fields.length).fill(undefined);
    const varying = type.fields.length + 1 - type.leading.length;
    this.behind = varying > 0 ? new Array<number>(varying).fill(0) : NONE;
  }

  /** One of the same kind that stands elsewhere, with nothing in it yet. */
  another(parent: RecordNode | undefined, space: Space, offset: number, position: number): HeldRecord {
    return new HeldRecord(
      this.type,
      parent,
      this.fieldIndex,
      space,
      offset,
      position,
      this.named,
      this.isItem,
    );
  }

  get path(): string {
    const base = this.named ?? fieldPath(this.parent!, this.fieldIndex);
    return this.isItem ? `${base}[${this.position}]` : base;
  }

  get(index: number): Value {
    return this.values[index];
  }

  /** Whether all of its fields were read. */
  get isWhole(): boolean {
    const { leading } = this.type;
    return this.behind.length > 0 ? this.behind.at(-1)! > 0 : this.length === leading.at(-1);
  }

  fieldStart(index: number): number {
    const { leading } = this.type;
    return index < leading.length ? leading[index]! : this.behind[index - leading.length]!;
  }

  /** Notes where a field begins; behind the last one, where the record ends. */
  begins(index: number, start: number): void {
    const at = index - this.type.leading.length;
    if (at >= 0) this.behind[at] = start;
  }

  fieldLength(index: number): number {
    const end = this.fieldStart(index + 1);
    // Of what reading did not come to the end of nothing is known.
    return end > this.length ? 0 : end - this.fieldStart(index);
  }
}

/** Whether a record is kept as an object itself, and no item of a list that sees its record through one of its own. */
export const isHeld = (node: RecordNode): node is HeldRecord =>
  Object.getPrototypeOf(node) === HeldRecord.prototype;

/** Name in messages of a field of a record. */
export const fieldPath = (node: RecordNode, index: number): string =>
  `${node.path}.${node.type.fields[index]?.name ?? ''}`;

/** A stretch of bytes with content of its own, sealed or not. */
export interface RegionNode {
  readonly sort: 'region';
  readonly field: FieldType;
  readonly owner: RecordNode;
  readonly space: Space;
  readonly offset: number;
  /** Bytes as they lie. */
  readonly storedLength: number;
  /** Where its content is read: a space of its own when it is sealed, else the owner's. */
  readonly inner: Space;
  /** Offset of the content in `inner`. */
  readonly innerOffset: number;
  readonly plainLength: number;
  content: Value;
  readonly path: string;
}

/** A region as it is read: first without its seal, and as one with what it unseals to once that is known. */
export class HeldRegion implements RegionNode {
  readonly sort = 'region';
  readonly space: Space;
  inner: Space;
  innerOffset: number;
  plainLength: number;
  content: Value = undefined;

  constructor(
    readonly field: FieldType,
    readonly owner: RecordNode,
    readonly offset: number,
    readonly storedLength: number,
  ) {
    this.space = owner.space;
    this.inner = owner.space;
    this.innerOffset = offset;
    this.plainLength = storedLength;
  }

  get path(): string {
    return fieldPath(this.owner, this.field.index);
  }
}

/** The payload of an entry. */
export interface PayloadHandle {
  readonly sort: 'payload';
  readonly index: number;
}

/** Absolute place in the file of an offset in a space. */
export const absolute = (space: Space, offset: number): number => space.fileOffset + offset;

/** Where a field stands in its record, for messages: of a part of a number, where that number begins. */
export function startOf(node: RecordNode, { index, shape }: FieldType): number {
  return node.fieldStart(shape.sort === 'bits' ? shape.container : index);
}

/** A place as messages tell it: in its file, or in what a region or field unseals to. */
export interface Located {
  readonly byteOffset: number;
  readonly within?: string;
  readonly file?: string;
}

export function located(space: Space, offset: number): Located {
  if (space.within) return { byteOffset: offset, within: space.within };
  return { byteOffset: absolute(space, offset), ...(space.file > 0 && { file: space.source.name }) };
}
