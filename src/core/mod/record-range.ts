import { collect, concatRefs, refOfBytes, sliceOf, type BytesRef } from '../bytes';
import { isItems, RowTable, type FieldType, type Items, type RecordNode, type Value } from '../script';
import type { Lengths } from './lengths';

/** What is asked for values and for the bytes of whole fields. */
interface FieldBytes {
  readonly lengths: Lengths;
  valueOf(node: RecordNode, index: number): Value;
  fieldBytes(node: RecordNode, field: FieldType): BytesRef;
}

/**
 * The bytes `[from, to)` of a record as it will be. Only the fields that have bytes in there are worked out, so that a
 * checksum may be made over what stands before and behind it in its own record.
 */
export function bytesWithin(evaluation: FieldBytes, node: RecordNode, from: number, to: number): BytesRef {
  const parts: BytesRef[] = [];
  addRecord(evaluation, node, from, to, parts);
  return parts.length === 1 ? parts[0]! : concatRefs(parts);
}

function addRecord(of: FieldBytes, node: RecordNode, from: number, to: number, parts: BytesRef[]): void {
  let start = 0;
  for (const field of node.type.fields) {
    if (start >= to) return;
    const length = of.lengths.ofField(node, field, start);
    if (start + length > from) addField(of, node, field, length, from - start, to - start, parts);
    start += length;
  }
}

function addField(
  of: FieldBytes,
  node: RecordNode,
  field: FieldType,
  length: number,
  from: number,
  to: number,
  parts: BytesRef[],
): void {
  const start = Math.max(0, from);
  const stop = Math.min(length, to);
  const inner = start === 0 && stop === length ? undefined : openContent(of.valueOf(node, field.index));
  if (inner) return addItems(of, inner, start, stop, parts);
  // What is made lies in a buffer that is written on; what is copied from a source stays where it is.
  const bytes = sliceOf(of.fieldBytes(node, field), start, stop - start);
  parts.push(bytes.span || bytes.length > 4096 ? bytes : refOfBytes(collect(bytes)));
}

function addItems(
  of: FieldBytes,
  items: readonly RecordNode[],
  from: number,
  to: number,
  parts: BytesRef[],
): void {
  let start = 0;
  for (const item of items) {
    if (start >= to) return;
    const length = of.lengths.ofRecord(item);
    if (start + length > from) addRecord(of, item, from - start, to - start, parts);
    start += length;
  }
}

/** The records that a value consists of, where they lie in the file as they are; nothing for all else. */
function openContent(value: Value): readonly RecordNode[] | undefined {
  if (typeof value !== 'object') return undefined;
  if (isItems(value)) return value instanceof RowTable ? undefined : recordsOf(value);
  if (!('sort' in value)) return undefined;
  if (value.sort === 'record') return [value];
  if (value.sort !== 'region' || value.field.region!.seal.length > 0) return undefined;
  return openContent(value.content);
}

function recordsOf(list: Items): readonly RecordNode[] | undefined {
  const records: RecordNode[] = [];
  for (let i = 0; i < list.length; i++) {
    const item = list.at(i);
    if (typeof item !== 'object' || !('sort' in item) || item.sort !== 'record') return undefined;
    records.push(item);
  }
  return records;
}
