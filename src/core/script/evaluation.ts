import type { BytesRef } from '../bytes';
import type { Primitives } from '../primitives';
import type { PayloadHandle, RecordNode, RegionNode } from './model';
import type { Value } from './values';

/** What has a place in the file. */
export type Placed = RecordNode | RegionNode | PayloadHandle;

/**
 * What an expression sees. The reader's answers are the bytes as they are; the planner's are the bytes
 * as they will be, so that the same derived expression verifies and recomputes.
 */
export interface Evaluation {
  readonly primitives: Primitives;
  readonly fileSize: number;
  /** Throws FormatError `key-missing`. */
  key(name: string): Uint8Array;
  part(name: string): Value;
  hasPart(name: string): boolean;
  field(node: RecordNode, index: number): Value;
  content(region: RegionNode): Value;
  place(thing: Placed): number;
  storedLength(thing: Placed): number;
  stored(thing: Placed): BytesRef;
  plain(thing: RegionNode | PayloadHandle): PlainRef;
  /** The record's bytes from its start up to a field, or all of it with that field as zeros. */
  around(node: RecordNode, field: string, mode: 'before' | 'zeroed'): BytesRef;
  payloadOf(row: RecordNode): PayloadHandle | undefined;
  /** Counts work against the budget; throws FormatError `budget`. */
  spend(steps: number): void;
}

/** Plain bytes whose hashes may have been taken on an earlier pass. */
export interface PlainRef extends BytesRef {
  readonly known?: ReadonlyMap<string, Value>;
}

/** A list of lists as one list; a single thing as a list of one. */
export function flattened(value: Value, context: Evaluation): readonly Value[] {
  if (value === undefined) return [];
  if (Array.isArray(value)) {
    context.spend(value.length);
    return value as readonly Value[];
  }
  if (typeof value === 'object' && 'sort' in value && value.sort === 'region')
    return flattened(context.content(value), context);
  return [value];
}
