import Papa from 'papaparse';
import { spelledAs, tonguesIn } from '@/core/catalogue';
import { cellSpans, rowsOf, type Row } from './column-rows';
import type { Shell } from './shell';
import {
  lastOfEach,
  replaced,
  type AddedLine,
  type LineTable,
  type Span,
  type TableLine,
  type TextChange,
} from './table';

const NOTES = /^(note|notes|comment|context|description|info)$/i;
const SPEAKERS = /^(speaker|who|character|actor)$/i;
const LIMITS = /^(limit|max|most|max ?length|length)$/i;
const KEYS = /^(key|id|name|code|label|tag|number|#)$/i;
const TEXTS = /^(text|value|string|line|translation|target)$/i;

/**
 * Rows of columns with a heading (RFC 4180, or with tabs or semicolons): a key, a text or one for each language, and what else stands beside them. Undefined where the
 * headings do not tell which is which.
 */
export function columnTable(shell: Shell): LineTable | undefined {
  const { text } = shell;
  const first = text.slice(0, text.search(/\r?\n|$/));
  const found = [',', ';', '\t', '|'].find((one) => first.includes(one));
  if (found === undefined) return undefined;
  const sign = found;
  // Most tables of other forms are told by their first line already.
  const names = (Papa.parse<string[]>(first, { delimiter: sign }).data[0] ?? []).map((cell) => cell.trim());
  if (names.length < 2) return undefined;
  const key = names.findIndex((name) => KEYS.test(name));
  if (key < 0) return undefined;
  const one = (pattern: RegExp): number => names.findIndex((name, i) => i !== key && pattern.test(name));
  const tongueOf = (name: string): string | undefined =>
    /^[a-z]+([-_][a-z]+)?$/i.test(name) ? tonguesIn(`${name}/`)[0] : undefined;
  const columns = names.flatMap((name, i) => {
    const tongue = i === key ? undefined : tongueOf(name);
    return tongue === undefined ? [] : [{ i, tongue }];
  });
  const alone = one(TEXTS);
  const texts = columns.length > 0 ? columns : alone >= 0 ? [{ i: alone, tongue: '' }] : [];
  if (texts.length === 0) return undefined;
  const [head, ...body] = rowsOf(text, sign);
  // A heading of several lines is none.
  if (head?.cells.length !== names.length) return undefined;
  const [note, speaker, limit] = [one(NOTES), one(SPEAKERS), one(LIMITS)];
  const lines = body
    .filter(({ cells }) => cells.length > 1 || (cells[0] ?? '') !== '')
    .map(({ cells }): TableLine => {
      const most = limit < 0 ? NaN : Number(cells[limit]);
      return {
        key: cells[key] ?? '',
        texts: texts.map(({ i }) => cells[i]),
        ...(note >= 0 && { note: cells[note] }),
        ...(speaker >= 0 && { speaker: cells[speaker] }),
        ...(most > 0 && { limit: { most, unit: 'characters' } }),
      };
    });
  const kept = body.filter(({ cells }) => cells.length > 1 || (cells[0] ?? '') !== '');
  const spelled = (cells: readonly string[]): string =>
    Papa.unparse([[...cells]], { delimiter: sign, newline: shell.lineEnd });
  return {
    form: sign === '\t' ? 'Columns and tabs' : 'CSV',
    tongues: texts.map(({ tongue }) => tongue),
    lines,
    bytesOf: shell.bytesOf,
    forbidden: [],
    write: (changes, added = []) => written(changes, added),
    ...(columns.length > 0 && {
      withTongue(tongue: string, textOf: (line: number) => string) {
        const cell = (now: string): string =>
          Papa.unparse([[now]], { delimiter: sign, newline: shell.lineEnd });
        const behind = (row: Row, now: string): Span => ({
          ...{ from: row.to, to: row.to },
          text: `${sign.repeat(Math.max(1, names.length - row.cells.length + 1))}${cell(now)}`,
        });
        const title = spelledAs(names[columns[0]!.i]!, tongue);
        const spans = [behind(head, title), ...kept.map((row, line) => behind(row, textOf(line)))];
        return shell.wrap(replaced(text, spans));
      },
      inTongue(tongue: string, changes: readonly TextChange[]) {
        const { i } = columns[0]!;
        const [from, to] = cellSpans(text.slice(head.from, head.to), sign)[i]!;
        const was = text.slice(head.from + from, head.from + to);
        const title = was.replace(names[i]!, () => spelledAs(names[i]!, tongue));
        return written(changes, [], [{ from: head.from + from, to: head.from + to, text: title }]);
      },
    }),
  };

  function written(
    changes: readonly TextChange[],
    added: readonly AddedLine[],
    titles: readonly Span[] = [],
  ): Uint8Array {
    const spans = lastOfEach(changes).flatMap(({ line, tongue, text: now }): Span[] => {
      const { cells, from, to } = kept[line]!;
      const { i } = texts[tongue]!;
      const row = text.slice(from, to);
      const places = cellSpans(row, sign);
      const place = places.length === cells.length ? places[i] : undefined;
      const isQuoted = place !== undefined && row[place[0]] === '"';
      const cell = Papa.unparse([[now]], { delimiter: sign, newline: shell.lineEnd, quotes: isQuoted });
      if (place) return [{ from: from + place[0], to: from + place[1], text: cell }];
      // A row that ends before its column gets the cells up to it.
      return [{ from: to, to, text: `${sign.repeat(Math.max(1, i - cells.length + 1))}${cell}` }];
    });
    let made = replaced(text, [...titles, ...spans]);
    for (const { key: name, texts: given } of added) {
      const cells = names.map(() => '');
      cells[key] = name;
      texts.forEach(({ i }, n) => (cells[i] = given[n] ?? ''));
      if (!/[\r\n]$/.test(made)) made += shell.lineEnd;
      made += `${spelled(cells)}${shell.lineEnd}`;
    }
    return shell.wrap(made);
  }
}
