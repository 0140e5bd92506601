import type { ByteSource } from '../bytes';
import type { FieldType, RecordType } from './types';
import type { Value } from './values';

/**
 * Bytes with offsets of their own: the file, or what came out of a sealed region. `fileOffset` is the
 * place in the file that stands for offset 0 here, exact where the seal keeps lengths.
 */
export interface Space {
  readonly source: ByteSource;
  readonly fileOffset: number;
  /** Empty for the file itself. */
  readonly within: string;
}

/** One record as it was read. Large archives have many, so it holds no more than it must. */
export interface RecordNode {
  readonly sort: 'record';
  readonly type: RecordType;
  readonly parent: RecordNode | undefined;
  readonly space: Space;
  /** Offset in its space, in bytes. */
  readonly offset: number;
  length: number;
  /** Number in its list, from 0. */
  readonly position: number;
  /** The list it stands in. */
  siblings: readonly RecordNode[] | undefined;
  /** Name in messages, such as `pages[2]`. */
  readonly path: string;
  /** One value a field of the type, in order; undefined where a condition left it out. */
  readonly values: Value[];
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
  readonly plain: Uint8Array;
  readonly inner: Space;
  content: Value;
  readonly path: string;
}

/** The payload of the entry that a row of the table describes. */
export interface PayloadHandle {
  readonly sort: 'payload';
  readonly row: RecordNode;
  readonly index: number;
}

/** Absolute place in the file of an offset in a space. */
export const absolute = (space: Space, offset: number): number => space.fileOffset + offset;
