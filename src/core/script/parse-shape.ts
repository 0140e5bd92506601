import type { Located } from './located';
import { suggest, type ScriptScope } from './scope';
import { scalars, type Scalar } from './scalars';
import { TEXT_ENCODINGS, type TextEncoding } from './texts';
import { restOf, type Rest } from './rest';
import type { ByteOrder, Compiled, FieldShape } from './types';
import { variableIntegers } from './variable-integers';

const TYPE = /^([A-Za-z_][A-Za-z0-9_-]*)\s*(?:\((.*)\))?\s*(?:\s(big|little))?$/s;

const QUOTES = 'Put a type that has a comma in it into quotes';

/** What a field's other words say about its shape. */
export interface ShapeWords {
  /** The byte that fills a text or padding. */
  readonly fill: number;
  /** The byte that ends an ended text. */
  readonly end: number;
}

const PLAIN: ShapeWords = { fill: 0, end: 0 };

/** Reads a type such as `u32 big`, `text(16, latin1)` or the name of a record, or a choice between types. */
export function readShape(at: Located, scope: ScriptScope, words: ShapeWords = PLAIN): FieldShape {
  if (at.isMapping()) return readChoice(at, scope, words);
  const text = at.text();
  const [, name = '', inner, order] =
    TYPE.exec(text) ??
    at.fail('a type', `'${text}'`, text.includes('(') && !text.includes(')') ? QUOTES : undefined);
  if (inner === undefined) {
    const scalar = scalars.get(name);
    if (scalar) return { sort: 'scalar', scalar, order: (order as ByteOrder | undefined) ?? scope.order };
    const integer = variableIntegers.get(name);
    if (integer) return { sort: 'variable', integer };
    if (name === 'ztext') return { sort: 'ended text', encoding: 'utf-8', end: words.end };
    if (scope.recordNames.has(name) && order === undefined) return { sort: 'record', name };
  } else {
    const shape = readCall(name, inner, text, at, scope, words);
    if (shape) return shape;
  }
  const known = [
    ...scalars.names(),
    ...variableIntegers.names(),
    ...['bytes', 'text', 'ztext', 'ctext', 'digits', 'pad', 'align'],
    ...scope.recordNames,
  ];
  return at.fail(
    'a type: a number, bytes(size), text(size), ztext, ctext(u16), digits(size, base), pad(size), align(unit) or a record',
    `'${text}'`,
    sameElsewhere(name) ?? suggest(name, known),
  );
}

/** What types are called in programming languages, with what they are called here. */
const ELSEWHERE: ReadonlyMap<string, string> = new Map(
  Object.entries({
    byte: 'u8',
    char: 'u8, or text(SIZE)',
    float: 'f32',
    double: 'f64',
    string: 'text(SIZE), ztext or ctext(u16)',
    str: 'text(SIZE), ztext or ctext(u16)',
    cstring: 'ztext',
    varint: 'uleb',
  }),
);

/** `uint32`, `u32be` and their like by the name that they have here. */
function sameElsewhere(name: string): string | undefined {
  const known = ELSEWHERE.get(name.toLowerCase());
  if (known) return `Did you mean ${known}?`;
  const [, sign, bits, order] = /^(u|i|s)?(?:int)?_?(8|16|24|32|64)(?:_t)?_?(le|be)?$/i.exec(name) ?? [];
  if (!bits) return undefined;
  const here = `${/u/i.test(sign ?? 'i') ? 'u' : 'i'}${bits}`;
  return `Did you mean '${here}${order ? (/be/i.test(order) ? ' big' : ' little') : ''}'?`;
}

function readCall(
  name: string,
  inner: string,
  whole: string,
  at: Located,
  scope: ScriptScope,
  { fill, end }: ShapeWords,
): FieldShape | undefined {
  const start = whole.indexOf('(') + 1;
  const [first, second] = cut(inner);
  const size = (): Compiled | Rest => restOf(first) ?? scope.expression(at, first, start);
  switch (name) {
    case 'bytes':
      return { sort: 'bytes', size: size() };
    case 'text':
      return { sort: 'text', size: size(), encoding: encodingOf(second ?? 'utf-8', at), fill };
    case 'ztext':
      return { sort: 'ended text', encoding: encodingOf(first, at), end };
    case 'ctext': {
      const [word = '', order] = first.trim().split(/\s+/);
      return {
        sort: 'counted text',
        scalar: countType(word, at),
        order: order === 'big' || order === 'little' ? order : scope.order,
        encoding: encodingOf(second ?? 'utf-8', at),
      };
    }
    case 'digits': {
      const base = Number(second?.trim() ?? 10);
      if (base !== 8 && base !== 10 && base !== 16) return at.fail('a base of 8, 10 or 16', second);
      return { sort: 'digits', digits: { size: scope.expression(at, first, start), base } };
    }
    case 'pad':
      return { sort: 'padding', size: scope.expression(at, first, start), align: undefined, fill };
    case 'align':
      return { sort: 'padding', size: undefined, align: scope.expression(at, first, start), fill };
    default:
      return undefined;
  }
}

/** Cut at the last comma outside brackets: sizes are expressions and may have commas of their own. */
function cut(inner: string): [string, string | undefined] {
  let depth = 0;
  let comma = -1;
  for (let i = 0; i < inner.length; i++) {
    if ('(['.includes(inner[i]!)) depth++;
    if (')]'.includes(inner[i]!)) depth--;
    if (inner[i] === ',' && depth === 0) comma = i;
  }
  return comma < 0 ? [inner, undefined] : [inner.slice(0, comma), inner.slice(comma + 1)];
}

function countType(word: string, at: Located): Scalar {
  const scalar = scalars.get(word);
  if (!scalar || !word.startsWith('u'))
    return at.fail('a count in front: u8, u16, u24 or u32', `'${word}'`, suggest(word, scalars.names()));
  return scalar;
}

function encodingOf(given: string, at: Located): TextEncoding {
  const name = given.trim();
  const known = TEXT_ENCODINGS.find((encoding) => encoding === name);
  return (
    known ?? at.fail(`an encoding: ${TEXT_ENCODINGS.join(', ')}`, `'${name}'`, suggest(name, TEXT_ENCODINGS))
  );
}

/** `{ by: EXPRESSION, cases: { VALUE: TYPE, ... }, else: TYPE }` */
function readChoice(at: Located, scope: ScriptScope, words: ShapeWords): FieldShape {
  at.entries(['by', 'cases', 'else']);
  const otherwise = at.get('else');
  return {
    sort: 'choice',
    by: scope.expression(at.need('by')),
    cases: new Map(
      at
        .need('cases')
        .entries()
        .map(([value, type]) => [caseWord(value, type, scope), readShape(type, scope, words)]),
    ),
    otherwise: otherwise && readShape(otherwise, scope, words),
  };
}

/** The text that a case is told by: numbers in decimal digits however they are spelled, words of an enum by their value. */
function caseWord(text: string, at: Located, { known }: ScriptScope): string {
  if (/^0x[0-9a-f]+$/i.test(text)) return String(BigInt(text));
  const [name, word] = text.split('.', 2) as [string, string | undefined];
  const words = word === undefined ? undefined : known.enums.get(name);
  if (!words) return text;
  const value = words.get(word!);
  return value === undefined
    ? at.fail(`a word of ${name}`, `'${word}'`, suggest(word!, words.keys()))
    : String(value);
}
