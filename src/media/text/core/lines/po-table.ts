import { FormatError } from '@/core/bytes';
import type { Shell } from './shell';
import {
  changedSpans,
  refuseForbidden,
  replaced,
  type AddedLine,
  type Forbidden,
  type LineTable,
  type PlacedLine,
} from './table';

const WORD = /^(msgctxt|msgid_plural|msgid|msgstr(?:\[(\d)\])?)\s*(?=")/;
const ESCAPES: Readonly<Record<string, string>> = {
  n: '\n',
  t: '\t',
  r: '\r',
  a: '\x07',
  b: '\b',
  f: '\f',
  v: '\v',
};

const NO_ZERO: readonly Forbidden[] = [{ sign: '\0', called: 'a sign of zero' }];
/** Between a context and what it is of. */
const BETWEEN = '|';

/**
 * A catalogue of gettext: each text by its context and source, which is what it is translated from; forms of a plural by their numbers. Only what stands in the quotes of a text
 * changes; obsolete ones, comments and how lines are folded stay.
 */
export function poTable(shell: Shell): LineTable | undefined {
  const { text } = shell;
  if (!/^(?:\s|#[^\n]*\n)*msg(?:ctxt|id)\s+"/.test(text)) return undefined;
  const rows: PlacedLine[] = [];
  let context = '';
  let source = '';
  let plural = '';
  let note = '';
  /** What quotes on lines of their own go on. */
  let open: { word: string; form: string | undefined; text: string; from: number; to: number } | undefined;
  let wasText = false;
  /** Whether any text has a context; else the sign between stands for itself. */
  let hasContexts = false;
  const close = (): void => {
    if (!open) return;
    const { word, form, text: said, from, to } = open;
    open = undefined;
    if (word === 'msgctxt') [context, hasContexts] = [said, true];
    else if (word === 'msgid') source = said;
    else if (word === 'msgid_plural') plural = said;
    else if (source !== '' || context !== '') {
      const key = `${context === '' ? '' : `${context}${BETWEEN}`}${source}${form === undefined ? '' : `[${form}]`}`;
      const origin = form === undefined || form === '0' ? source : plural;
      rows.push({ line: { key, texts: [said], origin, ...(note !== '' && { note }) }, from, to });
    }
    wasText = word.startsWith('msgstr');
  };
  for (let at = 0; at < text.length;) {
    const end = text.indexOf('\n', at);
    const next = end < 0 ? text.length : end + 1;
    const whole = text.slice(at, end < 0 ? text.length : end).replace(/\r$/, '');
    const line = whole.trimStart();
    const begins = at + whole.length - line.length;
    const word = WORD.exec(line);
    if (word) {
      close();
      const starts = word[1] === 'msgctxt' || (word[1] === 'msgid' && wasText);
      if (starts) [context, source, plural, wasText] = [word[1] === 'msgctxt' ? context : '', '', '', false];
      const quote = begins + word[0].length;
      const said = unquoted(text.slice(quote, begins + line.trimEnd().length));
      if (said === undefined) return undefined;
      open = { word: word[1]!, form: word[2], text: said, from: quote, to: begins + line.trimEnd().length };
    } else if (line.startsWith('"') && open) {
      const said = unquoted(line.trimEnd());
      if (said === undefined) return undefined;
      open.text += said;
      open.to = begins + line.trimEnd().length;
    } else {
      close();
      if (line.startsWith('#.'))
        note = note === '' || wasText ? line.slice(2).trim() : `${note} ${line.slice(2).trim()}`;
      else if (line === '' && wasText) [context, source, plural, note, wasText] = ['', '', '', '', false];
    }
    at = next;
  }
  close();
  if (rows.length === 0) return undefined;
  return {
    form: 'PO',
    tongues: [''],
    lines: rows.map(({ line }) => line),
    bytesOf: shell.bytesOf,
    forbidden: NO_ZERO,
    write(changes, added = []) {
      const made = replaced(text, changedSpans(rows, changes, NO_ZERO, quoted));
      const { lineEnd } = shell;
      const gap = made.endsWith(lineEnd) || made === '' ? '' : lineEnd;
      const further = added.map((line) => `${lineEnd}${entryOf(line, hasContexts).join(lineEnd)}${lineEnd}`);
      return shell.wrap(further.length > 0 ? made + gap + further.join('') : made);
    },
  };
}

/** The lines of a text that the catalogue gets. Throws FormatError for a form of a plural, which stands with its others or not at all. */
function entryOf({ key, texts }: AddedLine, hasContexts: boolean): string[] {
  if (/\[\d\]$/.test(key))
    throw new FormatError('not-writable', {
      ...{ fieldPath: key, expected: 'a text without forms of a plural', actual: 'one of several forms' },
      remedy: 'Add it with all its forms to the source of the catalogue with the program that makes it',
    });
  const text = texts[0] ?? '';
  refuseForbidden(key, text, NO_ZERO);
  const at = hasContexts ? key.indexOf(BETWEEN) : -1;
  return [
    ...(at >= 0 ? [`msgctxt ${quoted(key.slice(0, at))}`] : []),
    `msgid ${quoted(key.slice(at + 1))}`,
    `msgstr ${quoted(text)}`,
  ];
}

/** What stands between quotes; undefined where they do not close. */
function unquoted(text: string): string | undefined {
  if (text.length < 2 || !text.startsWith('"') || !text.endsWith('"')) return undefined;
  const inner = text.slice(1, -1);
  if (/(^|[^\\])(\\\\)*"/.test(inner)) return undefined;
  return inner.replace(/\\(x[0-9a-fA-F]{2}|[0-7]{1,3}|[\s\S])/g, (_, code: string) => {
    if (code[0] === 'x' && code.length > 1) return String.fromCharCode(parseInt(code.slice(1), 16));
    if (/^[0-7]/.test(code)) return String.fromCharCode(parseInt(code, 8));
    return ESCAPES[code] ?? code;
  });
}

const quoted = (text: string): string =>
  `"${text.replace(/[\\"]/g, '\\$&').replace(/\n/g, '\\n').replace(/\t/g, '\\t').replace(/\r/g, '\\r')}"`;
