import { FormatError } from '../bytes';
import { isItems, type Items } from './items';
import { startOf, type RecordNode, type RegionNode } from './model';
import type { ReadEvaluation } from './read-evaluation';
import type { FieldShape, FieldType } from './types';
import { bare, describeValue, sameValue, type Value } from './values';

/** What a script makes of some bytes of an archive. */
export interface Explanation {
  /** The field in the script's terms, such as `head.rows[3].size`. */
  readonly path: string;
  /** Number of the file of the archive that it lies in. */
  readonly file: number;
  /** The region whose unsealed content it lies in, where offsets count anew; empty for the file itself. */
  readonly within: string;
  /** Undefined for what takes no bytes. */
  readonly offset: number | undefined;
  readonly length: number;
  readonly type: string;
  readonly role: string;
  readonly value: string;
  /** Set where it does not equal what it must. */
  readonly expected?: string;
  /** How many more items of a list are left out behind this one. */
  readonly more?: number;
}

export interface ExplainOptions {
  /** Items of each list that are gone through. */
  readonly most: number;
  /** Derived fields are not held against what they follow from, as where some of it has not been read. */
  readonly unjudged?: boolean;
}

/**
 * Goes through everything that has been read so far, in the order of the script, whether reading came to its end or not.
 * Derived fields are held against what they follow from, but for those over payload bytes.
 */
export function* explainParts(context: ReadEvaluation, options: ExplainOptions): Generator<Explanation> {
  for (const [name, value] of context.parts) yield* explainValue(name, value, context, options);
}

function* explainValue(
  path: string,
  value: Value,
  context: ReadEvaluation,
  options: ExplainOptions,
): Generator<Explanation> {
  if (typeof value !== 'object') return;
  if (isItems(value)) yield* explainList(path, value, context, options);
  else if ('sort' in value && value.sort === 'record') yield* explainRecord(value, context, options);
  else if ('sort' in value && value.sort === 'region')
    yield* explainValue(path, value.content, context, options);
}

function* explainList(
  path: string,
  list: Items,
  context: ReadEvaluation,
  options: ExplainOptions,
): Generator<Explanation> {
  const shown = Math.min(list.length, options.most);
  for (let i = 0; i < shown; i++) {
    const item = list.at(i);
    const isRecord = typeof item === 'object' && 'sort' in item && item.sort === 'record';
    if (isRecord) yield* explainRecord(item as RecordNode, context, options);
    else yield { ...NO_BYTES, path: `${path}[${i}]`, type: 'item', role: '', value: describeValue(item) };
  }
  if (list.length > shown)
    yield { ...NO_BYTES, path, type: 'list', role: '', value: '', more: list.length - shown };
}

const NO_BYTES = { file: 0, within: '', offset: undefined, length: 0 };

function* explainRecord(
  node: RecordNode,
  context: ReadEvaluation,
  options: ExplainOptions,
): Generator<Explanation> {
  for (const field of node.type.fields) {
    const value = node.get(field.index);
    const path = `${node.path}.${field.name}`;
    if (field.role.sort === 'computed') {
      yield {
        ...NO_BYTES,
        path,
        type: 'value',
        role: 'computed',
        ...judged(node, field, value, context, options),
      };
      continue;
    }
    if (value === undefined && field.shape.sort !== 'padding') continue;
    const isInside = isNested(value);
    // What is inside lies in the same bytes, so it is told in its place.
    // What reading did not come to the end of has no length yet.
    const length = node.fieldLength(field.index);
    if ((!isInside || field.region) && (length > 0 || (length === 0 && value !== undefined)))
      yield {
        path,
        file: node.space.file,
        within: node.space.within,
        offset: node.offset + startOf(node, field),
        length,
        type: field.region ? 'region' : wordFor(field.shape),
        role: field.role.sort,
        ...(field.region ? { value: describeRegion(value) } : judged(node, field, value, context, options)),
      };
    yield* explainValue(path, value, context, options);
  }
}

function isNested(value: Value): boolean {
  if (typeof value !== 'object') return false;
  return isItems(value) || ('sort' in value && (value.sort === 'record' || value.sort === 'region'));
}

function describeRegion(value: Value): string {
  const { storedLength, plainLength } = value as RegionNode;
  return storedLength === plainLength ? `${storedLength} bytes` : `${storedLength} bytes for ${plainLength}`;
}

/** The value, and what it should be where it is not. */
function judged(
  node: RecordNode,
  field: FieldType,
  read: Value,
  context: ReadEvaluation,
  { unjudged }: ExplainOptions,
): { value: string; expected?: string } {
  if (unjudged) return { value: valueNow(node, field, read, context) };
  try {
    const value = field.role.sort === 'computed' ? context.field(node, field.index) : bare(read);
    const rule = ruleOf(field);
    const expected = rule?.run(context, node);
    return {
      value: describeValue(value),
      ...(rule && !sameValue(value, expected) && { expected: describeValue(expected) }),
    };
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    return { value: describeValue(bare(read)), expected: error.message };
  }
}

/** A value alone; nothing where what it is worked out from is not there yet. */
function valueNow(node: RecordNode, field: FieldType, read: Value, context: ReadEvaluation): string {
  if (field.role.sort !== 'computed') return describeValue(bare(read));
  try {
    return describeValue(context.field(node, field.index));
  } catch (error) {
    if (error instanceof FormatError) return 'not known yet';
    throw error;
  }
}

function ruleOf({
  role,
  repeat,
}: FieldType): { run: (c: ReadEvaluation, node: RecordNode) => Value } | undefined {
  if (repeat) return undefined;
  if (role.sort === 'derived' && !role.deep) return role.from;
  return role.sort === 'computed' ? role.fixed : undefined;
}

function wordFor(shape: FieldShape): string {
  switch (shape.sort) {
    case 'scalar':
      return shape.scalar.name;
    case 'variable':
      return shape.integer.name;
    case 'text':
    case 'ended text':
    case 'counted text':
      return 'text';
    case 'bits':
      return shape.width === 1 ? '1 bit' : `${shape.width} bits`;
    default:
      return shape.sort;
  }
}
