import type { Shell } from './shell';
import {
  changedSpans,
  LINE_BREAKS,
  refuseForbidden,
  replaced,
  type LineTable,
  type PlacedLine,
} from './table';

/** Lines of a key, a tab and a text; empty ones and those that begin with `#` say nothing. Undefined where any other stands among them. */
export function tabbedTable(shell: Shell): LineTable | undefined {
  const { text } = shell;
  const rows: PlacedLine[] = [];
  for (let at = 0; at < text.length;) {
    const end = text.indexOf('\n', at);
    const next = end < 0 ? text.length : end + 1;
    const to = end < 0 ? text.length : text[end - 1] === '\r' && end > at ? end - 1 : end;
    const tab = text.indexOf('\t', at);
    if (tab >= at && tab < to && text[at] !== '#') {
      const line = { key: text.slice(at, tab), texts: [text.slice(tab + 1, to)] };
      rows.push({ line, from: tab + 1, to });
    } else if (to > at && text[at] !== '#') return undefined;
    at = next;
  }
  if (rows.length === 0) return undefined;
  // A table of several columns is another form.
  if (rows.length > 1 && rows.every(({ line }) => line.texts[0]!.includes('\t'))) return undefined;
  return {
    form: 'Keys and tabs',
    tongues: [''],
    lines: rows.map(({ line }) => line),
    bytesOf: shell.bytesOf,
    forbidden: LINE_BREAKS,
    write(changes, added = []) {
      const spans = changedSpans(rows, changes, LINE_BREAKS);
      let made = replaced(text, spans);
      for (const { key, texts } of added) {
        refuseForbidden(key, key, [...LINE_BREAKS, { sign: '\t', called: 'a tab' }]);
        refuseForbidden(key, texts[0] ?? '', LINE_BREAKS);
        if (made !== '' && !made.endsWith('\n')) made += shell.lineEnd;
        made += `${key}\t${texts[0] ?? ''}${shell.lineEnd}`;
      }
      return shell.wrap(made);
    },
  };
}
