import { FormatError } from '@/core/bytes';
import { drawnFindings, type LineFonts } from './drawn-line';
import { counted, marksOf } from './marks-of-text';
import { isSenseless, named, quoted, SENSELESS, spelled } from './other-signs';
import type { Forbidden, LengthLimit } from './table';

/** What is found about a text. What is `wrong` would not be shown as it is meant, or not be loaded; the rest is worth a look. */
export interface LineFinding {
  readonly code: LineCode;
  readonly state: 'wrong' | 'look';
  readonly what: string;
  readonly why: string;
  /** The text without what was found, where that can be said. */
  readonly mend?: string | undefined;
}

export type LineCode =
  | 'missing value'
  | 'added value'
  | 'order of values'
  | 'missing tag'
  | 'added tag'
  | 'braces'
  | 'too long'
  | 'sign'
  | 'font'
  | 'forbidden'
  | 'line breaks'
  | 'blanks'
  | 'end sign'
  | 'numbers'
  | 'term'
  | 'twice'
  | 'forms';

/** A word or name that is always to be said in the same way. */
export interface Term {
  readonly source: string;
  readonly target: string;
}

/** What a text is held against. */
export interface LineRules {
  /** The text in the language that is translated from. */
  readonly source: string | undefined;
  readonly limit?: LengthLimit | undefined;
  readonly bytesOf: (text: string) => number;
  readonly forbidden: readonly Forbidden[];
  /** What the text may be drawn with; none where that is not known. */
  readonly fonts?: LineFonts | undefined;
  /** How wide it may be drawn, in units of the font. */
  readonly width?: number | undefined;
  readonly terms?: readonly Term[];
  readonly patterns?: readonly RegExp[];
  /** Whether another line of the table has the same key. */
  readonly isTwice?: boolean;
}

/** Everything that is found about a text, the worst first. An empty one is not there yet, and is not held against anything. */
export function checkLine(text: string, rules: LineRules): LineFinding[] {
  if (text === '') return [];
  const found: LineFinding[] = [
    ...marks(text, rules),
    ...length(text, rules),
    ...signs(text, rules),
    ...drawnFindings(text, rules),
    ...shape(text, rules.source),
    ...terms(text, rules),
  ];
  if (rules.isTwice)
    found.push({
      ...{ code: 'twice', state: 'look', what: 'another line has the same key' },
      why: 'The game finds only one of them',
    });
  return found.sort((a, b) => Number(a.state === 'look') - Number(b.state === 'look'));
}

function marks(text: string, { source, patterns }: LineRules): LineFinding[] {
  const now = marksOf(text, patterns);
  const found: LineFinding[] = [];
  const was = source === undefined ? undefined : marksOf(source, patterns);
  if (now.broken !== undefined && was?.broken === undefined)
    found.push({
      code: 'braces',
      state: 'wrong',
      what: now.broken,
      why: 'The game would not find what it is to put there',
    });
  if (!was) return found;
  for (const sort of ['value', 'tag'] as const) {
    const [own, other] = [now, was].map((one) =>
      one.marks.filter((mark) => mark.sort === sort).map((mark) => mark.text),
    );
    if (own!.join('\0') === other!.join('\0')) continue;
    const [has, had] = [counted(own!), counted(other!)];
    const missing = [...had].filter(([mark, count]) => (has.get(mark) ?? 0) < count).map(([mark]) => mark);
    const added = [...has].filter(([mark, count]) => (had.get(mark) ?? 0) < count).map(([mark]) => mark);
    const isValue = sort === 'value';
    if (missing.length > 0)
      found.push({
        ...{
          code: isValue ? 'missing value' : 'missing tag',
          state: 'wrong',
          what: `${quoted(missing)} is missing`,
        },
        why: isValue ? 'The game puts a value there' : 'It says how the text is shown',
      });
    if (added.length > 0)
      found.push({
        ...{
          code: isValue ? 'added value' : 'added tag',
          state: 'wrong',
          what: `${quoted(added)} is not in the source`,
        },
        why: isValue ? 'The game has no value for it' : 'The game may show it as it stands',
      });
    const isMoved = missing.length + added.length === 0;
    // Values without a name are filled in by their order.
    const isByOrder = own!.some((mark) => /^%[^\d]*[a-zA-Z@]$/.test(mark) || mark === '{}');
    if (isValue && isMoved && isByOrder)
      found.push({
        ...{ code: 'order of values', state: 'wrong', what: `${quoted(own!)} stand in another order` },
        why: 'They have no names, so the game fills them in one after the other',
      });
  }
  return found;
}

function length(text: string, { limit, bytesOf }: LineRules): LineFinding[] {
  // A unit is one sign, and four bytes, at most.
  if (!limit || text.length * (limit.unit === 'bytes' ? 4 : 1) <= limit.most) return [];
  let is = [...text].length;
  if (limit.unit === 'bytes')
    try {
      is = bytesOf(text);
    } catch {
      return [];
    }
  if (is <= limit.most) return [];
  return [
    {
      ...{ code: 'too long', state: 'wrong', what: `${is} ${limit.unit}, at most ${limit.most}` },
      why: `${is - limit.most} too many; the rest would be cut off or run over its place`,
    },
  ];
}

function signs(text: string, { bytesOf, forbidden }: LineRules): LineFinding[] {
  const found: LineFinding[] = [];
  const refused = forbidden.filter(({ sign }) => text.includes(sign));
  for (const called of new Set(refused.map((one) => one.called)))
    found.push({
      ...{
        code: 'forbidden',
        state: 'wrong',
        what: `${called} in it`,
        why: 'The table cannot hold it; the line would end there',
      },
      mend: refused.reduce((now, { sign }) => now.split(sign).join(sign === '\r' ? '' : ' '), text),
    });
  const bad = SENSELESS.test(text) ? [...new Set(text)].filter((sign) => isSenseless(sign)) : [];
  if (bad.length > 0)
    found.push({
      ...{ code: 'sign', state: 'wrong', what: `${named(bad)} in it`, why: 'It stands for no sign' },
      mend: [...text].filter((sign) => !isSenseless(sign)).join(''),
    });
  const unencoded = holds(bytesOf, text)
    ? []
    : [...new Set(text)].filter((sign) => !isSenseless(sign) && !holds(bytesOf, sign));
  if (unencoded.length > 0)
    found.push({
      ...{ code: 'sign', state: 'wrong', what: `${named(unencoded)} is not in the encoding of the table` },
      ...{ why: 'It would be written as another sign, or not at all', mend: spelled(text, unencoded) },
    });
  return found;
}

function holds(bytesOf: (text: string) => number, sign: string): boolean {
  try {
    bytesOf(sign);
    return true;
  } catch (error) {
    if (error instanceof FormatError) return false;
    throw error;
  }
}

const BLANKS = /^(\s*)([\s\S]*?)(\s*)$/;
const breaksIn = (text: string): number => text.match(/\\n|\r\n|\n|\\r|\r|<br\s*\/?>/g)?.length ?? 0;
const END_SIGNS = /[.!?:;…。！？]["'”’»)\]]*$/;
const SPANISH = /^[¡¿]/;

function shape(text: string, source: string | undefined): LineFinding[] {
  if (source === undefined || source === '') return [];
  const found: LineFinding[] = [];
  const [now, was] = [breaksIn(text), breaksIn(source)];
  if (now !== was)
    found.push({
      ...{ code: 'line breaks', state: 'look', what: `${now} line breaks, the source has ${was}` },
      why: 'The text may not fit its place',
    });
  const [, before = '', middle = '', behind = ''] = BLANKS.exec(text)!;
  const [, wasBefore = '', , wasBehind = ''] = BLANKS.exec(source)!;
  if (before !== wasBefore || behind !== wasBehind)
    found.push({
      ...{ code: 'blanks', state: 'look', what: 'other blanks at its beginning or end than the source' },
      ...{ why: 'The game may put something beside it', mend: `${wasBefore}${middle}${wasBehind}` },
    });
  const signOf = (of: string): string =>
    END_SIGNS.exec(of.trim())?.[0][0]?.replace('。', '.').replace('！', '!').replace('？', '?') ?? '';
  if (signOf(text) !== signOf(source) && !SPANISH.test(text))
    found.push({
      ...{ code: 'end sign', state: 'look' },
      what: `ends with ${signOf(text) || 'no sign'}, the source with ${signOf(source) || 'none'}`,
      why: 'Questions and cries are told by it',
    });
  const numbers = (of: string): string =>
    (of.replace(/\{[^{}]*\}|%\d+\$\w|<[^<>]*>/g, ' ').match(/\d+/g) ?? []).sort().join(' ');
  if (numbers(text) !== numbers(source))
    found.push({
      ...{
        code: 'numbers',
        state: 'look',
        what: `has ${numbers(text) || 'no numbers'}, the source ${numbers(source) || 'none'}`,
      },
      why: 'A price or a hint may be another one',
    });
  return found;
}

function terms(text: string, { source, terms: known = [] }: LineRules): LineFinding[] {
  if (!source) return [];
  const [low, lowSource] = [text.toLocaleLowerCase(), source.toLocaleLowerCase()];
  const lost = known.filter(
    (term) =>
      isSaid(lowSource, term.source.toLocaleLowerCase()) && !low.includes(term.target.toLocaleLowerCase()),
  );
  return lost.map((term) => ({
    ...{ code: 'term' as const, state: 'look' as const, what: `${term.source} is called ${term.target}` },
    why: 'So says the glossary',
  }));
}

/** Whether a word stands in a text by itself. */
function isSaid(text: string, word: string): boolean {
  for (let at = text.indexOf(word); at >= 0; at = text.indexOf(word, at + 1))
    if (!/\p{L}/u.test(text[at - 1] ?? ' ') && !/\p{L}/u.test(text[at + word.length] ?? ' ')) return true;
  return false;
}
