/** Something in a text that stands for something else: a value that the game puts there, or a mark of how it is shown. */
export interface TextMark {
  readonly sort: 'value' | 'tag';
  readonly text: string;
  readonly at: number;
}

export interface MarksFound {
  readonly marks: readonly TextMark[];
  /** Where braces do not close, what is wrong with them. */
  readonly broken: string | undefined;
}

/**
 * Values and tags of a text: names in braces (`{coins}`, `{0}`, with a form behind a colon or comma, plural and choice forms within), `${name}`, printf conversions
 * (`%s`, `%1$d`; ISO C, POSIX), names between signs of per cent, tags in pointed and square brackets. `own` are further patterns, as a game may have them.
 */
export function marksOf(text: string, own: readonly RegExp[] = []): MarksFound {
  if (own.length === 0 && !MAY_MARK.test(text)) return NO_MARKS;
  const marks: TextMark[] = [];
  const taken = (from: number, to: number): boolean =>
    marks.some(({ at, text: other }) => at < to && from < at + other.length);
  const note = (
    sort: TextMark['sort'],
    pattern: RegExp,
    accept: (found: string) => boolean = () => true,
  ): void => {
    for (const { 0: found, index } of text.matchAll(pattern))
      if (found !== '' && accept(found) && !taken(index, index + found.length))
        marks.push({ sort, text: found, at: index });
  };
  for (const pattern of own)
    note('value', new RegExp(pattern.source, `${pattern.flags.replace(/[gy]/g, '')}g`));
  const broken = braces(text, marks, taken);
  note('value', PRINTF, (found) => found !== '%%');
  note('value', /%[A-Za-z_][A-Za-z0-9_.]*%/g);
  note('tag', /<\/?[A-Za-z][A-Za-z0-9_-]*(?:[ =][^<>]*)?\/?>/g);
  note('tag', /\[\/?[A-Za-z][A-Za-z0-9_-]*(?:[ =:][^[\]]*)?\]/g);
  return { marks: marks.sort((a, b) => a.at - b.at), broken };
}

/** Most texts have no sign that a mark begins or ends with. */
const MAY_MARK = /[{}%<[]/;
const NO_MARKS: MarksFound = { marks: [], broken: undefined };

/** A space may be a flag, but a per cent before a word is one of the text. */
const PRINTF =
  /%(?:\d+\$)?[-+0#']*(?:\d+|\*)?(?:\.(?:\d+|\*))?(?:hh|h|ll|l|L|q|j|z|t)?[diouxXeEfFgGaAcsp@]|%%/g;

const NAME = /^\s*[A-Za-z0-9_.$-]+\s*$/;
const CHOICE = /^\s*([A-Za-z0-9_.$-]+)\s*,\s*(plural|select|selectordinal)\s*,/;

function braces(
  text: string,
  marks: TextMark[],
  taken: (from: number, to: number) => boolean,
): string | undefined {
  const open: number[] = [];
  for (let at = 0; at < text.length; at++) {
    if (text[at] === '\\') at++;
    else if (text[at] === '{') open.push(at);
    else if (text[at] === '}') {
      const from = open.pop();
      if (from === undefined) return `a '}' at sign ${at + 1} closes nothing`;
      const within = text.slice(from + 1, at);
      const choice = CHOICE.exec(within);
      const start = text[from - 1] === '$' ? from - 1 : from;
      if (choice) note(`{${choice[1]}, ${choice[2]}}`, from);
      else if (isValue(within, open.length, text, from) && !taken(start, at + 1))
        note(text.slice(start, at + 1), start);
    }
  }
  return open.length > 0 ? `a '{' at sign ${open[0]! + 1} is not closed` : undefined;

  function note(found: string, at: number): void {
    marks.push({ sort: 'value', text: found, at });
  }
}

/** A name in braces, with a form behind it; within a choice only what does not follow one of its words is one. */
function isValue(within: string, depth: number, text: string, from: number): boolean {
  const name = within.split(/[,:]/)[0]!;
  if (!NAME.test(name) || /[{}]/.test(within)) return false;
  return depth % 2 === 0 || !/[A-Za-z0-9=]\s*$/.test(text.slice(0, from));
}

/** How often each text stands in a list. */
export function counted(texts: Iterable<string>): Map<string, number> {
  const counts = new Map<string, number>();
  for (const text of texts) counts.set(text, (counts.get(text) ?? 0) + 1);
  return counts;
}
