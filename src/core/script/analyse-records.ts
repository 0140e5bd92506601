import type { Located } from './located';
import { isRest } from './rest';
import type { FieldShape, FieldType, RecordType } from './types';
import { unitLength } from './texts';

/** Works out of all records how short they can be, whether their length can change, and whether columns can hold them. */
export function analyseRecords(records: ReadonlyMap<string, RecordType>, at: Located): void {
  for (const record of records.values()) leastLength(record, records, at, []);
  for (let changed = true; changed;) {
    changed = false;
    for (const record of records.values()) {
      if (record.elastic || !record.fields.some((field) => isElastic(field, records))) continue;
      record.elastic = true;
      changed = true;
    }
  }
  for (const record of records.values()) {
    record.flat = isFlat(record);
    record.leading = leadingStarts(record);
  }
  for (let changed = true; changed;) {
    changed = false;
    for (const record of records.values()) {
      if (!record.constant || record.fields.every((field) => isConstant(field, records))) continue;
      record.constant = false;
      changed = true;
    }
  }
}

/** Whether a field is a number of so many bytes in each record. */
export const isPlainNumber = ({ shape, condition, repeat, region }: FieldType): boolean =>
  shape.sort === 'scalar' && !condition && !repeat && !region;

function leadingStarts({ fields }: RecordType): number[] {
  const starts = [0];
  for (const field of fields) {
    if (!isPlainNumber(field)) break;
    starts.push(starts.at(-1)! + (field.shape.sort === 'scalar' ? field.shape.scalar.size : 0));
  }
  return starts;
}

/** Whether a field's bytes are carried as they are, whatever changes elsewhere. */
export function isConstant(field: FieldType, records: ReadonlyMap<string, RecordType>): boolean {
  const { role, shape, isPayload, region } = field;
  if (isPayload || (region && region.seal.length > 0)) return false;
  if (role.sort !== 'carried' && role.sort !== 'fixed') return role.sort === 'computed';
  return shapesOf(shape).every((one) => {
    if (one.sort === 'choice') return isConstant({ ...field, shape: one }, records);
    if (one.sort === 'record') return records.get(one.name)!.constant;
    return one.sort !== 'padding';
  });
}

const shapesOf = (shape: FieldShape): FieldShape[] =>
  shape.sort === 'choice'
    ? [...shape.cases.values(), ...(shape.otherwise ? [shape.otherwise] : [])]
    : [shape];

function isElastic(field: FieldType, records: ReadonlyMap<string, RecordType>): boolean {
  if (field.isPayload) return true;
  if (field.region?.seal.some((step) => step.sort !== 'cipher')) return true;
  const isMade = field.role.sort === 'derived' || field.role.sort === 'free';
  return shapesOf(field.shape).some((shape) => {
    switch (shape.sort) {
      case 'record':
        return records.get(shape.name)!.elastic;
      case 'choice':
        return isElastic({ ...field, shape, region: undefined }, records);
      case 'padding':
        return true;
      case 'variable':
      case 'ended text':
      case 'counted text':
        return isMade;
      case 'scalar':
        return isMade && field.repeat !== undefined;
      case 'text':
      case 'bytes':
        return isMade && (isRest(shape.size) || shape.size.linear?.name !== undefined || !shape.size.linear);
      default:
        return false;
    }
  });
}

/** Whether every field is a number, or bytes or text whose length is a number or a scaled field before it. */
function isFlat(record: RecordType): boolean {
  return (
    !record.elastic &&
    record.fields.every(({ shape, condition, repeat, region, index }) => {
      if (condition || repeat || region) return false;
      if (shape.sort === 'scalar' || shape.sort === 'bits' || shape.sort === 'none') return true;
      if (shape.sort === 'ended text') return unitLength(shape.encoding) === 1;
      if (shape.sort !== 'bytes' && shape.sort !== 'text') return false;
      if (isRest(shape.size) || !shape.size.linear) return false;
      const { name } = shape.size.linear;
      if (name === undefined) return true;
      const before = record.byName.get(name);
      return before !== undefined && before < index && record.fields[before]!.shape.sort === 'scalar';
    })
  );
}

/** The fewest bytes a record can take; finds records that contain themselves without end on the way. */
function leastLength(
  record: RecordType,
  all: ReadonlyMap<string, RecordType>,
  at: Located,
  within: readonly string[],
): number {
  if (within.includes(record.name))
    return at.fail('records that end', `'${[...within, record.name].join("' in '")}'`);
  let sum = 0;
  for (const field of record.fields) {
    const { shape } = field;
    const optional = field.condition || field.repeat || field.region;
    if (shape.sort === 'record' && !field.condition && !field.repeat && !field.region)
      sum += leastLength(all.get(shape.name)!, all, at, [...within, record.name]);
    else if (!optional) sum += leastOf(shape);
  }
  record.leastLength = sum;
  return sum;
}

function leastOf(shape: FieldShape): number {
  if (shape.sort === 'scalar' || shape.sort === 'counted text') return shape.scalar.size;
  if (shape.sort === 'ended text') return unitLength(shape.encoding);
  if (shape.sort === 'variable') return 1;
  if (shape.sort !== 'bytes' && shape.sort !== 'text') return 0;
  return !isRest(shape.size) && shape.size.linear?.name === undefined ? (shape.size.linear?.plus ?? 0) : 0;
}
