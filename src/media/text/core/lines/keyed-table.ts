import type { Shell } from './shell';
import {
  changedSpans,
  LINE_BREAKS,
  refuseForbidden,
  replaced,
  type LineTable,
  type PlacedLine,
} from './table';

const HEADING = /^\s*\[([^\]]*)\]\s*$/;
const PAIR = /^(\s*)([A-Za-z0-9_][A-Za-z0-9_.\/ -]*?)(\s*[=:][ \t]*)(.*)$/;

/** Lines of a key, a sign and a text, below headings in brackets or without; undefined where other lines stand among them. */
export function keyedTable(shell: Shell): LineTable | undefined {
  const { text } = shell;
  const rows: PlacedLine[] = [];
  let section = '';
  let lastEnd = 0;
  for (let at = 0; at < text.length;) {
    const end = text.indexOf('\n', at);
    const to = end < 0 ? text.length : text[end - 1] === '\r' && end > at ? end - 1 : end;
    const line = text.slice(at, to);
    const heading = HEADING.exec(line);
    const pair = PAIR.exec(line);
    if (heading) section = heading[1]!;
    else if (pair) {
      const [, blank = '', name = '', sign = '', said = ''] = pair;
      const from = at + blank.length + name.length + sign.length;
      rows.push({ line: { key: section === '' ? name : `${section}/${name}`, texts: [said] }, from, to });
      lastEnd = to;
    } else if (!/^\s*([#;!].*)?$/.test(line)) return undefined;
    at = end < 0 ? text.length : end + 1;
  }
  if (rows.length === 0) return undefined;
  return {
    form: 'Keys and values',
    tongues: [''],
    lines: rows.map(({ line }) => line),
    bytesOf: shell.bytesOf,
    forbidden: LINE_BREAKS,
    write(changes, added = []) {
      const spans = changedSpans(rows, changes, LINE_BREAKS);
      const further = added.map(({ key, texts }) => {
        const name = key.startsWith(`${section}/`) ? key.slice(section.length + 1) : key;
        refuseForbidden(key, name, [...LINE_BREAKS, { sign: '=', called: "a '='" }]);
        refuseForbidden(key, texts[0] ?? '', LINE_BREAKS);
        return `${shell.lineEnd}${name}=${texts[0] ?? ''}`;
      });
      if (further.length > 0) spans.push({ from: lastEnd, to: lastEnd, text: further.join('') });
      return shell.wrap(replaced(text, spans));
    },
  };
}
