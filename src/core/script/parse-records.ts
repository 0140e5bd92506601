import { fromHex } from '../bytes';
import { analyseRecords } from './analyse-records';
import { RESERVED } from './compile-expression';
import type { Located } from './located';
import { parseSeal } from './parse-seal';
import { readShape } from './parse-shape';
import { byteValue, optional, suggest, type ScriptScope } from './scope';
import { restOf } from './rest';
import type { FieldRole, FieldShape, FieldType, RecordType, Repeat } from './types';
import type { Value } from './values';

const FIELD_WORDS = [
  'type',
  'fixed',
  'derived',
  'free',
  'value',
  'if',
  'count',
  'until',
  'while',
  'size',
  'seal',
  'bits',
  'fill',
  'end',
  'enum',
  'proves',
  'about',
] as const;

/** Reads all records; a record may use any other, but not contain itself without a condition or count. */
export function parseRecords(
  at: Located,
  scope: ScriptScope,
  payloadFields: ReadonlySet<string>,
): ReadonlyMap<string, RecordType> {
  const records = new Map<string, RecordType>();
  for (const [name, record] of at.entries())
    records.set(name, readRecord(name, record, scope, payloadFields));
  analyseRecords(records, at);
  return records;
}

/** Names with a meaning of their own would hide what is called so. */
export function refuseReserved(name: string, at: Located): void {
  if (RESERVED.has(name)) at.fail('another name', `'${name}', which has a meaning of its own`);
}

/** What an entry's bytes can be written back as: just these, with the sign that ends a text. */
const PAYLOAD_SHAPES: ReadonlySet<string> = new Set(['bytes', 'text', 'ended text']);

/** Names of all fields of a record, those inside bits included. */
export function fieldNames(record: Located): string[] {
  const names: string[] = [];
  if (!record.isMapping()) return names;
  for (const [name, field] of record.entries()) {
    names.push(name);
    const bits = field.isMapping() ? field.get('bits') : undefined;
    if (bits?.isMapping()) names.push(...bits.entries().map(([bit]) => bit));
  }
  return names;
}

function readRecord(
  name: string,
  at: Located,
  scope: ScriptScope,
  payloadFields: ReadonlySet<string>,
): RecordType {
  const fields: FieldType[] = [];
  const add = (field: FieldType, where: Located): void => {
    refuseReserved(field.name, where);
    if (fields.some((other) => other.name === field.name))
      where.fail('a name of its own for every field of a record', `'${field.name}' twice`);
    fields.push(field);
  };
  for (const [word, value] of at.entries()) {
    const field = readField(word, fields.length, value, scope);
    if (payloadFields.has(word) && PAYLOAD_SHAPES.has(field.shape.sort) && !field.region && !field.repeat)
      field.isPayload = true;
    add(field, value);
    const bits = value.isMapping() ? value.get('bits') : undefined;
    if (bits) for (const part of readBits(bits, field, fields.length, scope)) add(part, bits);
  }
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
    leading: [0],
    leastLength: 0,
    elastic: false,
    flat: false,
    // Until something in it is found that is not.
    constant: true,
  };
}

function readField(name: string, index: number, at: Located, scope: ScriptScope): FieldType {
  if (!at.isMapping()) return { ...plainField(name, index), shape: readShape(at, scope) };
  at.entries(FIELD_WORDS);
  const computed = at.get('value');
  if (computed && !at.get('type')) {
    at.entries(['value', 'fixed', 'proves', 'about']);
    const fixed = at.get('fixed');
    const from = scope.expression(computed);
    return {
      ...plainField(name, index),
      shape: { sort: 'none' },
      role: { sort: 'computed', from, fixed: fixed && scope.expression(fixed) },
      proves: readProves(at, scope),
    };
  }
  const shape = readShape(at.need('type'), scope, {
    fill: byteValue(at.get('fill'), 0),
    end: byteValue(at.get('end'), 0),
  });
  const isList = at.get('count') ?? at.get('until') ?? at.get('while');
  if (
    isList &&
    shape.sort === 'choice' &&
    ![...shape.cases.values(), shape.otherwise ?? shape].every(isRecordShape)
  )
    at.need('type').fail(
      'records in every case of a list',
      'something else',
      'Put each of them into a record of its own',
    );
  const size = at.get('size');
  if (at.get('seal') && !size) at.need('seal').fail("'size', the stored bytes, beside 'seal'", 'nothing');
  return {
    ...plainField(name, index),
    shape,
    role: readRole(at, shape, scope),
    condition: optional(at.get('if'), scope),
    repeat: readRepeat(at, scope),
    region: size && {
      size: restOf(size.text()) ?? scope.expression(size),
      seal: parseSeal(at.get('seal'), scope),
    },
    choices: readChoices(at.get('enum'), scope),
    proves: readProves(at, scope),
  };
}

function readProves(at: Located, scope: ScriptScope): string | undefined {
  const proves = at.get('proves')?.text();
  if (proves !== undefined && !scope.known.keys.has(proves))
    at.need('proves').fail('a key of this script', proves, suggest(proves, scope.known.keys));
  return proves;
}

export function readRepeat(at: Located, scope: ScriptScope): Repeat | undefined {
  const count = at.get('count');
  const until = at.get('until');
  const during = at.get('while');
  if ([count, until, during].filter(Boolean).length > 1)
    at.fail("only one of 'count', 'until' and 'while'", 'more');
  if (until) return { sort: 'until', condition: scope.expression(until) };
  if (during) return { sort: 'while', condition: scope.expression(during) };
  if (!count) return undefined;
  return count.text().trim() === 'rest'
    ? { sort: 'rest' }
    : { sort: 'count', count: scope.expression(count) };
}

const isRecordShape = (shape: FieldShape): boolean => shape.sort === 'record' || shape.sort === 'choice';

function readChoices(at: Located | undefined, scope: ScriptScope): FieldType['choices'] {
  if (!at) return undefined;
  const { enums } = scope.known;
  return (
    enums.get(at.text()) ?? at.fail('one of the enums', `'${at.text()}'`, suggest(at.text(), enums.keys()))
  );
}

function plainField(name: string, index: number): Omit<FieldType, 'shape'> {
  return {
    name,
    index,
    role: { sort: 'carried' },
    condition: undefined,
    repeat: undefined,
    region: undefined,
    proves: undefined,
    choices: undefined,
    guards: [],
    isPayload: false,
  };
}

function readRole(at: Located, shape: FieldShape, scope: ScriptScope): FieldRole {
  const given = (['fixed', 'derived', 'free'] as const).filter((word) => at.get(word));
  if (given.length > 1) at.need(given[1]!).fail('only one of fixed, derived and free', given.join(' and '));
  const isPlain =
    shape.sort !== 'record' && shape.sort !== 'choice' && shape.sort !== 'padding' && !at.get('size');
  const isList = at.get('count') ?? at.get('until') ?? at.get('while');
  if (given.length > 0 && (!isPlain || (isList && given[0] !== 'derived')))
    at.need(given[0]!).fail('a plain field', 'a record, padding, a list or a region');
  const derived = at.get('derived');
  if (derived && isList && shape.sort !== 'scalar')
    derived.fail('a list of numbers', 'a list of something else');
  if (derived) {
    const from = scope.expression(derived);
    return { sort: 'derived', from, deep: [...from.bytesOf].some(isOfPayloads) };
  }
  const free = at.get('free');
  if (free) return { sort: 'free', rule: scope.expression(free) };
  const fixed = at.get('fixed');
  return fixed ? { sort: 'fixed', value: fixedValue(fixed, shape) } : { sort: 'carried' };
}

function fixedValue(at: Located, shape: FieldShape): Value {
  if (shape.sort === 'bytes')
    return fromHex(at.text().replace(/\s/g, '')) ?? at.fail('hexadecimal digits', at.text());
  if (shape.sort === 'text' || shape.sort === 'ended text' || shape.sort === 'counted text') return at.text();
  const value = at.scalar();
  return typeof value === 'string' ? at.fail('a number', `'${value}'`) : value;
}

/**
 * Parts of a number, lowest bits first: `name: WIDTH` or `name: { width, signed, derived, fixed }`. The number
 * itself is put together from them.
 */
function readBits(at: Located, container: FieldType, start: number, scope: ScriptScope): FieldType[] {
  const { shape } = container;
  if (
    shape.sort !== 'scalar' ||
    shape.scalar.name.startsWith('f') ||
    container.repeat ||
    container.role.sort !== 'carried'
  )
    return at.fail('bits of a whole number that has no role of its own', container.name);
  let from = 0;
  const fields = at.entries().map(([name, value], i): FieldType => {
    const isMapping = value.isMapping();
    if (isMapping) value.entries(['width', 'signed', 'derived', 'fixed', 'free', 'enum', 'about']);
    const width = isMapping ? value.need('width').scalar() : value.scalar();
    if (
      typeof width !== 'number' ||
      !Number.isInteger(width) ||
      width < 1 ||
      from + width > 8 * shape.scalar.size
    )
      return value.fail(`a width that fits into ${8 * shape.scalar.size} bits`, String(width));
    const signed = isMapping && value.get('signed')?.scalar() === true;
    const bits: FieldShape = { sort: 'bits', container: container.index, from, width, signed };
    from += width;
    return {
      ...plainField(name, start + i),
      shape: bits,
      condition: container.condition,
      role: isMapping ? readRole(value, bits, scope) : { sort: 'carried' },
      choices: readChoices(isMapping ? value.get('enum') : undefined, scope),
    };
  });
  if (from !== 8 * shape.scalar.size)
    at.fail(
      `bits that fill all ${8 * shape.scalar.size} of ${shape.scalar.name}`,
      `${from}`,
      'Name the rest as well, such as reserved: 3',
    );
  container.role = { sort: 'composed', fields: fields.map(({ index }) => index) };
  return fields;
}

/** Bytes that are gone through by a proof and not on opening: those of payloads, and of whole files. */
const isOfPayloads = (name: string): boolean => name === 'payload' || name.startsWith('file ');
