import { FormatError, withFacts } from '../bytes';
import type { Evaluation } from './evaluation';
import { absolute, type RecordNode, type RegionNode } from './model';
import type { FieldType } from './types';
import { encodeText, unitLength } from './texts';
import { asCount, asText, describeValue, sameValue, type Value } from './values';

/** Offset of a field from the start of its record, from the lengths of those before it. */
export function fieldOffset(node: RecordNode, field: FieldType, context: Evaluation): number {
  let at = 0;
  for (const other of node.type.fields) {
    if (other === field) break;
    at += valueLength(node.values[other.index], other, node, context);
  }
  return at;
}

/** Bytes that a field's value takes as it was read. */
export function valueLength(value: Value, field: FieldType, node: RecordNode, context: Evaluation): number {
  if (value === undefined) return 0;
  if (Array.isArray(value) && !field.region)
    return (value as readonly Value[]).reduce<number>(
      (sum, one) => sum + valueLength(one, field, node, context),
      0,
    );
  if (typeof value === 'object' && 'sort' in value) {
    if (value.sort === 'record') return value.length;
    if (value.sort === 'region') return value.storedLength;
  }
  const { shape } = field;
  if (shape.sort === 'scalar') return shape.scalar.size;
  if (shape.sort === 'bytes') return (value as { length: number }).length;
  if (shape.sort !== 'text' || shape.size === 'rest') return 0;
  if (shape.size !== 'terminated') return asCount(shape.size.run(context, node));
  const kept = typeof value === 'object' && 'sort' in value && value.sort === 'text';
  const bytes = kept ? value.raw : encodeText(asText(value), shape.encoding);
  return bytes.length + unitLength(shape.encoding);
}

/** Checks one derived field against what it follows from. */
export function verifyField(node: RecordNode, field: FieldType, context: Evaluation): void {
  if (field.role.sort !== 'derived') return;
  const actual = node.values[field.index];
  if (actual === undefined) return;
  const facts = {
    fieldPath: `${node.path}.${field.name}`,
    byteOffset: absolute(node.space, node.offset + fieldOffset(node, field, context)),
  };
  const { from } = field.role;
  const expected = withFacts(facts, () => from.run(context, node));
  if (sameValue(actual, expected)) return;
  throw new FormatError(field.proves ? 'key-wrong' : 'derived-mismatch', {
    ...facts,
    expected: describeValue(expected),
    actual: describeValue(actual),
    why: field.proves
      ? `the key '${field.proves}' opens this part to junk, or its bytes are damaged`
      : `it must equal ${from.text}`,
    remedy: field.proves
      ? 'Try another key, or get the file anew'
      : 'The file may be damaged, or the script wrong',
  });
}

/** Checks every derived field of a record and of all in it, except those over payload bytes. */
export function verifyRecord(node: RecordNode, context: Evaluation): number {
  let held = 0;
  for (const field of node.type.fields) {
    if (field.role.sort === 'derived' && !field.role.deep) {
      verifyField(node, field, context);
      held++;
    }
    held += verifyValue(node.values[field.index], context);
  }
  return held;
}

function verifyValue(value: Value, context: Evaluation): number {
  if (typeof value !== 'object') return 0;
  if (Array.isArray(value))
    return (value as readonly Value[]).reduce<number>((sum, one) => sum + verifyValue(one, context), 0);
  if (!('sort' in value)) return 0;
  if (value.sort === 'record') return verifyRecord(value, context);
  return value.sort === 'region' ? verifyValue((value as RegionNode).content, context) : 0;
}

/** Verifies all that a part holds and counts the derived fields that hold. */
export const verifyPart = verifyValue;
