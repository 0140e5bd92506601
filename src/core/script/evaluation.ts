import type { BytesRef } from '../bytes';
import type { Primitives } from '../primitives';
import { isItems, type Items } from './items';
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
  /** The archive as it was read; the same object where nothing is being written. */
  readonly original: Evaluation;
  /** Length of the archive in bytes. */
  readonly fileSize: number;
  /** Name of the file that was opened, without folders. */
  readonly fileName: string;
  /** Number of a file that the script names; opens it. Throws FormatError `part-missing`. */
  fileNumber(name: string, number: number): number;
  /** How many there are of a file of several. */
  fileCount(name: string): number;
  /** Length of a file in bytes, by its number. */
  sizeOfFile(file: number): number;
  /** Number of the file that a thing lies in. */
  fileOf(thing: Placed): number;
  /** Bytes by their place in a file, of the one that was opened where none is named. */
  span(from: number, length: number, file?: number): BytesRef;
  /** Throws FormatError `key-missing`. */
  key(name: string): Uint8Array;
  parameter(name: string): Value;
  part(name: string): Value;
  hasPart(name: string): boolean;
  field(node: RecordNode, index: number): Value;
  /** A field of every record of a list, kept so that asking again costs nothing. */
  fieldOfAll(list: Items, name: string): Items;
  content(region: RegionNode): Value;
  place(thing: Placed): number;
  storedLength(thing: Placed): number;
  plainLength(thing: RegionNode | PayloadHandle): number;
  stored(thing: Placed): BytesRef;
  plain(thing: RegionNode | PayloadHandle): PlainRef;
  /** The record's bytes from its start up to a field, those behind it, or all of it with that field filled with one byte. */
  around(node: RecordNode, field: string, mode: 'before' | 'behind' | number): BytesRef;
  /** Where in the record a field begins, in bytes. */
  fieldPlace(node: RecordNode, field: string): number;
  payloadOf(row: RecordNode): PayloadHandle | undefined;
  payloadAt(entry: number): PayloadHandle | undefined;
  /** Stored bytes of one block of a payload whose seal cuts it into blocks. */
  blockSize(payload: PayloadHandle, block: number): number | undefined;
  /** Where a byte of the archive as it was read is now, in the file that was opened where none is named. */
  moved(place: number, file?: number): number;
  /** Whether numbers of ruled byte order are little endian here. */
  isLittle(node: RecordNode | undefined): boolean;
  /** Where the item about to be read begins; only while a list is read. */
  readonly here: number | undefined;
  /** Something worked out once for a whole archive, such as a sorted list. */
  remember<T>(of: object, what: string, make: () => T): T;
  /** Counts work against the budget; throws FormatError `budget`. */
  spend(steps: number): void;
  /** Counts bytes that are gone through for a hash. */
  spendHashed(bytes: number): void;
}

/** Plain bytes whose hashes may have been taken on an earlier pass. */
export interface PlainRef extends BytesRef {
  readonly known?: ReadonlyMap<string, Value>;
  /** A hash that is taken while they are checked, which goes through them; undefined where that one is not. */
  learn?(hash: string): Value | undefined;
}

/** A list, what is in a region as a list, or a single thing as a list of one. */
export function flattened(value: Value, context: Evaluation): Items {
  if (value === undefined) return [];
  if (isItems(value)) return value;
  if (typeof value === 'object' && 'sort' in value && value.sort === 'region')
    return flattened(context.content(value), context);
  return [value];
}
