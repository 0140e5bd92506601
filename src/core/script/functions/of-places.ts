import { concatRefs, refOfBytes, refOfSpan, type BytesRef } from '../../bytes';
import { flattened, type Evaluation } from '../evaluation';
import { fieldIndex } from '../field-index';
import { isItems, type Items } from '../items';
import type { PayloadHandle, RegionNode } from '../model';
import { RowTable } from '../table';
import { decodeText, TEXT_ENCODINGS, unitLength, type TextEncoding } from '../texts';
import { asCount, asInteger, asRef, asText, describeValue, senseless, type Value } from '../values';
import { asPlaced, asRecord, define, held, isPlaced, sortOf, type FunctionTable } from './script-function';

const MOST_TEXT_BYTES = 1 << 16;
/** What there is of nothing, such as the payload of a folder. */
const NONE = new Uint8Array(0);
/** How far a mark is searched for, and the pieces in which that is done. */
const MOST_SEARCHED = 1 << 20;

function sealed(value: Value): RegionNode | PayloadHandle {
  const sort = sortOf(value);
  if (sort === 'region' || sort === 'payload') return value as RegionNode | PayloadHandle;
  throw senseless('a region or the payload', describeValue(value));
}

function asPayload(value: Value): PayloadHandle {
  if (sortOf(value) === 'payload') return value as PayloadHandle;
  throw senseless('the payload', describeValue(value));
}

function sizeOf(of: Value, context: Evaluation): number {
  if (of === undefined) return 0;
  if (isPlaced(of)) return context.storedLength(of);
  if (isItems(of)) {
    let sum = 0;
    for (let i = 0; i < of.length; i++) sum += sizeOf(of.at(i), context);
    return sum;
  }
  return asRef(of).length;
}

function storedOf(of: Value, context: Evaluation): BytesRef {
  if (of === undefined) return refOfBytes(NONE);
  if (!isItems(of)) return context.stored(asPlaced(of));
  if (of instanceof RowTable && context.original === context) {
    const { offset, byteLength, space } = of.parts;
    return refOfSpan(space.source, offset, byteLength);
  }
  context.spend(of.length);
  return concatRefs(Array.from({ length: of.length }, (_, i) => storedOf(of.at(i), context)));
}

function endOf(of: Value, context: Evaluation): number {
  if (isItems(of)) return of.length === 0 ? 0 : endOf(of.at(of.length - 1), context);
  const thing = asPlaced(of);
  return context.place(thing) + context.storedLength(thing);
}

/** Numbers of a list in rising order, worked out once. */
function sorted(list: Items, context: Evaluation): Float64Array {
  return context.remember(list, 'sorted', () => {
    context.spend(list.length);
    const numbers = new Float64Array(list.length);
    for (let i = 0; i < list.length; i++) numbers[i] = Number(asInteger(list.at(i)));
    return numbers.sort();
  });
}

function above(list: Items, than: number, context: Evaluation): Value {
  const numbers = sorted(list, context);
  let low = 0;
  let high = numbers.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (numbers[middle]! <= than) low = middle + 1;
    else high = middle;
  }
  return low < numbers.length ? numbers[low] : undefined;
}

/** The record of a list whose range of `count` numbers from `first` on has `number` in it; ranges may lie in any order. */
function covering(list: Items, wanted: number, first: string, count: string, context: Evaluation): Value {
  const index = context.remember(list, `covering ${first} ${count}`, () => {
    const ranges: { from: number; to: number; node: Value }[] = [];
    for (let i = 0; i < list.length; i++) {
      const node = asRecord(list.at(i));
      const value = (name: string): number => asCount(context.field(node, fieldIndex(node, name)));
      ranges.push({ from: value(first), to: value(first) + value(count), node });
    }
    return ranges.filter(({ from, to }) => to > from).sort((a, b) => a.from - b.from);
  });
  let low = 0;
  let high = index.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (index[middle]!.from <= wanted) low = middle + 1;
    else high = middle;
  }
  const found = index[low - 1];
  return found && wanted < found.to ? found.node : undefined;
}

/** Every record of a type inside a thing, in the order in which they lie. */
function within(of: Value, type: string, context: Evaluation): Items {
  const found: Value[] = [];
  const visit = (value: Value): void => {
    if (typeof value !== 'object') return;
    if (isItems(value)) {
      context.spend(value.length);
      for (let i = 0; i < value.length; i++) visit(value.at(i));
      return;
    }
    if (!('sort' in value)) return;
    if (value.sort === 'region') visit(value.content);
    if (value.sort !== 'record') return;
    if (value.type.name === type) found.push(value);
    for (const field of value.type.fields)
      if (field.region || field.shape.sort === 'record' || field.shape.sort === 'choice')
        visit(value.get(field.index));
  };
  visit(of);
  return found;
}

function encodingNamed(value: Value): TextEncoding {
  const name = value === undefined ? 'utf-8' : asText(value);
  const known = TEXT_ENCODINGS.find((encoding) => encoding === name);
  if (!known) throw senseless(`an encoding: ${TEXT_ENCODINGS.join(', ')}`, `'${name}'`);
  return known;
}

/** The text from the start of some bytes up to its zero. */
function endedText(ref: BytesRef, encoding: TextEncoding): string {
  const bytes = held(ref);
  const unit = unitLength(encoding);
  for (let at = 0; at + unit <= bytes.length; at += unit)
    if (bytes[at] === 0 && (unit === 1 || bytes[at + 1] === 0))
      return decodeText(bytes.subarray(0, at), encoding);
  throw senseless(`a zero that ends the text within ${bytes.length} bytes`, 'none');
}

function textAt(of: Value, offset: number, encoding: TextEncoding, context: Evaluation): string {
  const whole = sortOf(of) === 'region' ? context.plain(of as RegionNode) : undefined;
  if (whole) return endedText(partOf(whole, offset), encoding);
  const from = of === undefined ? offset : context.place(asPlaced(of)) + offset;
  const file = of === undefined ? 0 : context.fileOf(asPlaced(of));
  const size = context.sizeOfFile(file);
  if (from >= size) throw senseless(`a place below ${size}`, `${from}`);
  return endedText(context.span(from, Math.min(MOST_TEXT_BYTES, size - from), file), encoding);
}

function partOf(ref: BytesRef, offset: number): BytesRef {
  if (offset >= ref.length) throw senseless(`a place below ${ref.length}`, `${offset}`);
  const length = Math.min(MOST_TEXT_BYTES, ref.length - offset);
  if (ref.span) {
    const { source } = ref.span;
    const from = ref.span.offset + offset;
    return { length, chunks: () => [source.read(from, length)] };
  }
  const bytes = held(ref).subarray(offset, offset + length);
  return { length, chunks: () => [bytes] };
}

/** Where bytes occur in the archive, searching upwards from a place or downwards from the end. */
function find(context: Evaluation, wanted: Uint8Array, from: number, backwards: boolean): Value {
  const size = context.fileSize;
  const low = backwards ? Math.max(0, size - MOST_SEARCHED) : from;
  const high = backwards ? size : Math.min(size, from + MOST_SEARCHED);
  if (wanted.length === 0 || low > high) return undefined;
  const bytes = held(context.span(low, high - low));
  const matches = (at: number): boolean => {
    for (let i = 0; i < wanted.length; i++) if (bytes[at + i] !== wanted[i]) return false;
    return true;
  };
  context.spend(bytes.length >> 4);
  const last = bytes.length - wanted.length;
  if (backwards) {
    for (let at = last; at >= 0; at--) if (matches(at)) return low + at;
  } else for (let at = 0; at <= last; at++) if (matches(at)) return low + at;
  return undefined;
}

const fileNamed = (context: Evaluation, name: Value, number: Value): number =>
  name === undefined
    ? 0
    : context.original.fileNumber(asText(name), number === undefined ? 0 : asCount(number));

export const placeFunctions: FunctionTable = {
  count: define(
    'count(list)',
    'how many there are in a list',
    (context, [list]) => flattened(list, context).length,
  ),
  last: define('last(list)', 'the last of a list', (context, [of]) => {
    const list = flattened(of, context);
    return list.length > 0 ? list.at(list.length - 1) : undefined;
  }),
  sum: define('sum(list)', 'the sum of numbers', (context, [of]) => {
    const list = flattened(of, context);
    let sum = 0n;
    for (let i = 0; i < list.length; i++) sum += BigInt(asInteger(list.at(i)));
    return asCount(Number(sum));
  }),
  place: define('place(x)', 'offset in the file, in bytes; 0 for nothing', (context, [of]) =>
    of === undefined ? 0 : context.place(asPlaced(of)),
  ),
  end: define('end(x)', 'offset behind a thing or behind the last of a list', (context, [of]) =>
    endOf(of, context),
  ),
  size: define(
    'size(x)',
    'bytes that a thing takes as it lies, or the length of bytes; 0 for nothing',
    (context, [of]) => sizeOf(of, context),
  ),
  stored: define(
    'stored(x)',
    'the bytes of a thing as they lie in the file, or of all in a list one after the other',
    (context, [of]) => storedOf(of, context),
  ),
  plain: define(
    'plain(x)',
    'the bytes of a region or payload after its seal is taken off',
    (context, [of]) => (of === undefined ? NONE : context.plain(sealed(of))),
  ),
  before: define(
    "before(record, 'field')",
    'the bytes of a record before the named field',
    (context, [of, field]) => context.around(asRecord(of), asText(field), 'before'),
  ),
  behind: define(
    "behind(record, 'field')",
    'the bytes of a record behind the named field',
    (context, [of, field]) => context.around(asRecord(of), asText(field), 'behind'),
  ),
  zeroed: define(
    "zeroed(record, 'field')",
    'the bytes of a record with the named field as zeros',
    (context, [of, field]) => context.around(asRecord(of), asText(field), 0),
  ),
  filled: define(
    "filled(record, 'field', byte)",
    'the bytes of a record with the named field filled with one byte',
    (context, [of, field, byte]) => context.around(asRecord(of), asText(field), asCount(byte)),
  ),
  fieldplace: define("fieldplace(record, 'field')", 'offset of a field in the file', (context, [of, field]) =>
    context.fieldPlace(asRecord(of), asText(field)),
  ),
  entry: define('entry(number)', 'the payload of an entry, by its number', (context, [number]) =>
    number === undefined ? undefined : context.payloadAt(asCount(number)),
  ),
  entryof: define('entryof(record)', 'the payload whose row or holder a record is', (context, [of]) =>
    of === undefined ? undefined : context.payloadOf(asRecord(of)),
  ),
  blocksize: define(
    'blocksize(payload, number)',
    'stored bytes of one block of a payload that is cut into blocks',
    (context, [of, number]) => context.blockSize(asPayload(of), asCount(number)),
  ),
  moved: define(
    "moved(place [, 'file', number])",
    'where a byte of the archive as it was read is in the one that is written; give it was(field)',
    (context, [place, name, number]) => context.moved(asCount(place), fileNamed(context, name, number)),
  ),
  span: define(
    "span(from, length [, 'file', number])",
    'bytes by their place, of the archive or of another of its files',
    (context, [from, length, name, number]) => {
      const at = asCount(from);
      const wanted = asCount(length);
      const file = fileNamed(context, name, number);
      const size = context.sizeOfFile(file);
      if (at + wanted > size) throw senseless(`bytes within ${size}`, `${wanted} from ${at}`);
      return context.span(at, wanted, file);
    },
  ),
  filesize: define(
    "filesize('file' [, number])",
    'length of another file of the archive in bytes',
    (context, [name, number]) => context.sizeOfFile(fileNamed(context, name, number)),
  ),
  filecount: define("filecount('file')", 'how many there are of a file of several', (context, [name]) =>
    context.fileCount(asText(name)),
  ),
  byteat: define('byteat(place)', 'the byte at a place, or nothing behind the end', (context, [place]) => {
    const at = asCount(place);
    return at < context.fileSize ? held(context.span(at, 1))[0] : undefined;
  }),
  find: define(
    'find(bytes [, from])',
    'the first place where bytes or a text occur, within a mebibyte',
    (context, [of, from]) =>
      find(context.original, held(asRef(of)), from === undefined ? 0 : asCount(from), false),
  ),
  findlast: define(
    'findlast(bytes)',
    'the last place where bytes or a text occur, within a mebibyte of the end',
    (context, [of]) => find(context.original, held(asRef(of)), 0, true),
  ),
  above: define(
    'above(list, number)',
    'the least number of a list that is greater, or nothing',
    (context, [list, than]) => above(flattened(list, context), Number(asInteger(than)), context),
  ),
  covering: define(
    "covering(list, number, 'first', 'count')",
    'the record whose range, from its field first on and count long, has the number in it',
    (context, [list, number, first, count]) =>
      covering(flattened(list, context), asCount(number), asText(first), asText(count), context),
  ),
  within: define(
    "within(thing, 'record')",
    'all records of a type inside a thing, at any depth',
    (context, [of, type]) =>
      of === undefined
        ? []
        : context.remember(of as object, `within ${asText(type)}`, () => within(of, asText(type), context)),
  ),
  textat: define(
    "textat(thing, offset [, 'encoding'])",
    'the text at an offset in a part, record or region, up to its zero; nothing for the thing means the file',
    (context, [of, offset, encoding]) =>
      textAt(of, asCount(offset), encodingNamed(encoding), context.original),
  ),
  decoded: define("decoded(bytes [, 'encoding'])", 'bytes as a text', (context, [of, encoding]) =>
    decodeText(held(isPlaced(of) ? context.stored(of) : asRef(of)), encodingNamed(encoding)),
  ),
  exists: define('exists(x)', 'whether there is such a thing', (_context, [of]) => of !== undefined),
};
