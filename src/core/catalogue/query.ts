import { KINDS, type Kind } from '../kinds';
import { FormatError } from '../bytes';
import { isMeasure, measureRange, type Measure } from './measures';

/** What one word of a search asks for. */
export type Condition =
  /** A part of the path, or a readable name that stands for one. */
  | { readonly sort: 'part'; readonly text: string }
  | { readonly sort: 'pattern'; readonly text: string }
  | { readonly sort: 'expression'; readonly source: string }
  | { readonly sort: 'name'; readonly text: string }
  | { readonly sort: 'hash'; readonly from: string }
  | { readonly sort: 'number'; readonly number: number }
  | { readonly sort: 'kind'; readonly kind: Kind }
  | { readonly sort: 'size'; readonly least: number; readonly most: number }
  /** What was measured of it; where a script shows a field of that name, entries without a measure are asked for that. */
  | {
      readonly sort: 'measure';
      readonly measure: Measure;
      readonly least: number;
      readonly most: number;
      readonly value: string;
    }
  | { readonly sort: 'archive'; readonly text: string }
  /** A field that a script shows, or a part of the path with a colon in it where there is no such field. */
  | { readonly sort: 'field'; readonly title: string; readonly value: string }
  | { readonly sort: 'tag'; readonly text: string }
  | { readonly sort: 'state'; readonly state: State };

export const STATES = [
  'problem',
  'named',
  'unnamed',
  'guessed',
  'hidden',
  'doubled',
  'silent',
  'clipped',
  'broken',
  'finest',
  'measured',
] as const;
export type State = (typeof STATES)[number];

/** A condition, or what must not be the case. */
export interface Term {
  readonly condition: Condition;
  readonly isNot: boolean;
}

const UNITS: Readonly<Record<string, number>> = {
  '': 1,
  b: 1,
  k: 1e3,
  kb: 1e3,
  m: 1e6,
  mb: 1e6,
  g: 1e9,
  gb: 1e9,
};

/**
 * Reads a search: words with blanks between them that must all fit. A word is a part of the path in any case; with `*` or `?`
 * in it, a pattern for the whole name, or the whole path where it has a slash; between two slashes an expression of
 * ECMAScript; a text in double quotes, a part with blanks in it. `name:`, `kind:`, `size:`, `in:`, `tag:`, `hash:`, `number:`
 * and `is:` ask for other things, those of MEASURES, such as `length:` and `triangles:`, for what was measured; `-` before a word means not.
 * Throws FormatError where a word says what cannot be, with its place in the text as column.
 */
export function parseQuery(text: string): Term[] {
  const terms: Term[] = [];
  const words = /(-?)(?:\/((?:[^/\\\n]|\\.)+)\/(?=\s|$)|(?:(\p{L}[\p{L}\p{N}_-]*):)?(?:"([^"]*)"?|(\S+)))/gu;
  for (const found of text.matchAll(words)) {
    const [, not, source, key, quoted, bare] = found;
    const value = quoted ?? bare ?? '';
    if (source === undefined && value === '' && key === undefined) continue;
    const wrong = (why: string, remedy: string): FormatError =>
      new FormatError('bad-value', {
        fieldPath: 'search',
        column: found.index + 1,
        actual: found[0],
        why,
        remedy,
      });
    const condition =
      source !== undefined
        ? expression(source, wrong)
        : key !== undefined
          ? keyed(key, value, wrong)
          : part(value, quoted !== undefined);
    if (condition) terms.push({ condition, isNot: not === '-' });
  }
  return terms;
}

type Wrong = (why: string, remedy: string) => FormatError;

function expression(source: string, wrong: Wrong): Condition {
  try {
    new RegExp(source, 'iu');
  } catch (error) {
    throw wrong((error as Error).message, 'Mend the expression, or search for a part of the path instead');
  }
  return { sort: 'expression', source };
}

const part = (text: string, isQuoted: boolean): Condition | undefined =>
  text === '' ? undefined : { sort: !isQuoted && /[*?]/.test(text) ? 'pattern' : 'part', text };

function keyed(key: string, value: string, wrong: Wrong): Condition | undefined {
  if (value === '') return undefined;
  switch (key.toLowerCase()) {
    case 'name':
      return { sort: 'name', text: value };
    case 'in':
      return { sort: 'archive', text: value };
    case 'tag':
      return { sort: 'tag', text: value };
    case 'hash': {
      const digits = value.replace(/^0x/i, '').toLowerCase();
      if (!/^[0-9a-f]{1,16}$/.test(digits))
        throw wrong('a hash has up to 16 hexadecimal digits', 'Give its first digits or all');
      return { sort: 'hash', from: digits };
    }
    case 'number':
      if (!/^\d{1,9}$/.test(value)) throw wrong('a number has only digits', 'Give the number from 0');
      return { sort: 'number', number: Number(value) };
    case 'kind': {
      const kind = KINDS.find((one) => one === value.toLowerCase() || `${one}s` === value.toLowerCase());
      if (!kind) throw wrong(`kinds are ${KINDS.join(', ')}`, 'Choose one of them');
      return { sort: 'kind', kind };
    }
    case 'size':
      return sizeRange(value, wrong);
    case 'is': {
      const state = STATES.find((one) => one === value.toLowerCase());
      if (!state) throw wrong(`it can be ${STATES.join(', ')}`, 'Choose one of them');
      return { sort: 'state', state };
    }
    default: {
      const measure = key.toLowerCase();
      const range = isMeasure(measure) ? measureRange(measure, value) : undefined;
      if (isMeasure(measure) && range) return { sort: 'measure', measure, ...range, value };
      return { sort: 'field', title: key, value };
    }
  }
}

function sizeRange(value: string, wrong: Wrong): Condition {
  const found = /^(?:([<>])=?)?(\d+(?:\.\d+)?)([a-z]*)(?:\.\.(\d+(?:\.\d+)?)([a-z]*))?$/i.exec(value);
  const bytes = (number: string, unit: string): number => {
    const times = UNITS[unit.toLowerCase()];
    const size = Number(number) * (times ?? Number.NaN);
    if (!(size >= 0)) throw wrong('it is no size', 'Write it as >10k, <2MB or 10k..2M');
    return size;
  };
  if (!found) throw wrong('it is no size', 'Write it as >10k, <2MB or 10k..2M');
  const [, sign, number, unit, upTo, upToUnit] = found;
  const first = bytes(number!, unit!);
  if (upTo !== undefined) return { sort: 'size', least: first, most: bytes(upTo, upToUnit!) };
  if (sign === '>') return { sort: 'size', least: first, most: Number.POSITIVE_INFINITY };
  if (sign === '<') return { sort: 'size', least: 0, most: first };
  return { sort: 'size', least: first, most: first };
}
