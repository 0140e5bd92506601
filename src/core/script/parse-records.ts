import { fromHex } from '../bytes';
import type { Located } from './located';
import { parseSeal } from './parse-seal';
import { suggest, type ScriptScope } from './scope';
import { scalars } from './scalars';
import { TEXT_ENCODINGS, unitLength, type TextEncoding } from './texts';
import type { Compiled, FieldRole, FieldShape, FieldType, RecordType } from './types';
import type { Value } from './values';

const FIELD_WORDS = [
  'type',
  'fixed',
  'derived',
  'free',
  'if',
  'count',
  'size',
  'seal',
  'proves',
  'about',
] as const;

/** Reads all records; a record may use any other, but not contain itself without a condition or count. */
export function parseRecords(at: Located, scope: ScriptScope): ReadonlyMap<string, RecordType> {
  const records = new Map<string, RecordType>();
  for (const [name, record] of at.entries()) records.set(name, readRecord(name, record, scope));
  for (const record of records.values()) leastLength(record, records, at, []);
  return records;
}

function readRecord(name: string, at: Located, scope: ScriptScope): RecordType {
  const fields = at.entries().map(([field, value], index) => readField(field, index, value, scope));
  for (const field of fields)
    if (field.region)
      field.guards = fields.filter(
        (other) =>
          other.role.sort === 'derived' &&
          other.index < field.index &&
          other.role.from.bytesOf.has(field.name),
      );
  return {
    name,
    fields,
    byName: new Map(fields.map((field) => [field.name, field.index])),
    leastLength: 0,
  };
}

function readField(name: string, index: number, at: Located, scope: ScriptScope): FieldType {
  if (!at.isMapping()) {
    const shape = readShape(at, scope);
    return { ...bare(name, index), shape };
  }
  at.entries(FIELD_WORDS);
  const type = at.need('type');
  const shape = readShape(type, scope);
  const optional = (word: (typeof FIELD_WORDS)[number]): Compiled | undefined => {
    const found = at.get(word);
    return found && scope.expression(found);
  };
  const count = at.get('count');
  const size = at.get('size');
  const proves = at.get('proves')?.text();
  if (proves !== undefined && !scope.known.keys.has(proves))
    at.need('proves').fail('a key of this script', proves, suggest(proves, scope.known.keys));
  if (at.get('seal') && !size) at.need('seal').fail("'size', the stored bytes, beside 'seal'", 'nothing');
  return {
    ...bare(name, index),
    shape,
    role: readRole(at, shape, scope),
    condition: optional('if'),
    repeat:
      count &&
      (count.text() === 'rest' ? { sort: 'rest' } : { sort: 'count', count: scope.expression(count) }),
    region: size && { size: scope.expression(size), seal: parseSeal(at.get('seal'), scope) },
    proves,
  };
}

function bare(name: string, index: number): Omit<FieldType, 'shape'> {
  return {
    name,
    index,
    role: { sort: 'carried' },
    condition: undefined,
    repeat: undefined,
    region: undefined,
    proves: undefined,
    guards: [],
  };
}

function readRole(at: Located, shape: FieldShape, scope: ScriptScope): FieldRole {
  const given = (['fixed', 'derived', 'free'] as const).filter((word) => at.get(word));
  if (given.length > 1) at.need(given[1]!).fail('only one of fixed, derived and free', given.join(' and '));
  if (given.length > 0 && (shape.sort === 'record' || at.get('count') || at.get('size')))
    at.need(given[0]!).fail('a plain field', 'a record, a list or a region');
  const derived = at.get('derived');
  if (derived) {
    const from = scope.expression(derived);
    return { sort: 'derived', from, deep: from.bytesOf.has('payload') };
  }
  const free = at.get('free');
  if (free) return { sort: 'free', rule: scope.expression(free) };
  const fixed = at.get('fixed');
  return fixed ? { sort: 'fixed', value: fixedValue(fixed, shape) } : { sort: 'carried' };
}

function fixedValue(at: Located, shape: FieldShape): Value {
  if (shape.sort === 'bytes')
    return fromHex(at.text().replace(/\s/g, '')) ?? at.fail('hexadecimal digits', at.text());
  if (shape.sort === 'text') return at.text();
  const value = at.scalar();
  return typeof value === 'string' ? at.fail('a number', `'${value}'`) : value;
}

const TYPE = /^([A-Za-z_][A-Za-z0-9_-]*)\s*(?:\((.*)\))?\s*(?:\s(big|little))?$/s;

function readShape(at: Located, scope: ScriptScope): FieldShape {
  const text = at.text();
  const [, name, inner, order] = TYPE.exec(text) ?? at.fail('a type', `'${text}'`);
  const scalar = scalars.get(name!);
  if (scalar && inner === undefined)
    return { sort: 'scalar', scalar, little: order ? order === 'little' : scope.little };
  if (name === 'bytes' && inner !== undefined) return { sort: 'bytes', size: sizeOf(inner, text, at, scope) };
  if (name === 'text' && inner !== undefined) {
    const comma = inner.lastIndexOf(',');
    const encoding = comma < 0 ? 'utf-8' : inner.slice(comma + 1).trim();
    const size = comma < 0 ? inner : inner.slice(0, comma);
    return { sort: 'text', size: sizeOf(size, text, at, scope), encoding: encodingOf(encoding, at) };
  }
  if (name === 'ztext')
    return { sort: 'text', size: 'terminated', encoding: encodingOf(inner?.trim() || 'utf-8', at) };
  if (scope.recordNames.has(name!) && inner === undefined && order === undefined)
    return { sort: 'record', name: name! };
  const known = [...scalars.names(), 'bytes', 'text', 'ztext', ...scope.recordNames];
  return at.fail(
    'a type: a number, bytes(size), text(size), ztext or a record',
    `'${text}'`,
    suggest(name!, known),
  );
}

function sizeOf(size: string, whole: string, at: Located, scope: ScriptScope): Compiled | 'rest' {
  return size.trim() === 'rest' ? 'rest' : scope.expression(at, size, whole.indexOf('(') + 1);
}

function encodingOf(name: string, at: Located): TextEncoding {
  const known = TEXT_ENCODINGS.find((encoding) => encoding === name);
  return (
    known ?? at.fail(`an encoding: ${TEXT_ENCODINGS.join(', ')}`, `'${name}'`, suggest(name, TEXT_ENCODINGS))
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
    if (shape.sort === 'record' && !field.condition && field.repeat?.sort !== 'count')
      sum += leastLength(all.get(shape.name)!, all, at, [...within, record.name]) * (optional ? 0 : 1);
    else if (!optional && shape.sort === 'scalar') sum += shape.scalar.size;
    else if (!optional && shape.sort === 'text' && shape.size === 'terminated')
      sum += unitLength(shape.encoding);
  }
  record.leastLength = sum;
  return sum;
}
