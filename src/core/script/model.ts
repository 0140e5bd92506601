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

/** A record that is kept as an object; what varies in shape is read into these. */
export class HeldRecord implements RecordNode {
  readonly sort = 'record';
  length = 0;
  siblings: Items | undefined;
  entry = -1;
  readonly values: Value[];
  /** Where each field begins, and behind the last one the end. */
  readonly starts: number[];

  constructor(
    readonly type: RecordType,
    readonly parent: RecordNode | undefined,
    readonly fieldIndex: number,
    readonly space: Space,
    readonly offset: number,
    readonly position: number,
    readonly path: string,
  ) {
    this.values = new Array<Value>(type.fields.length).fill(undefined);
    this.starts = new Array<number>(type.fields.length + 1).fill(0);
  }

  get(index: number): Value {
    return this.values[index];
  }

  fieldStart(index: number): number {
    return this.starts[index]!;
  }

  fieldLength(index: number): number {
    return this.starts[index + 1]! - this.starts[index]!;
  }
}

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
