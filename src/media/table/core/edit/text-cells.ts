import { parseTree, type Node } from 'jsonc-parser';
import Papa from 'papaparse';
import { isAlias, isMap, isScalar, isSeq, parseDocument, type ParsedNode } from 'yaml';
import { cellSpans, keyedTable, replaced, rowsOf, type Shell, type Span } from '@/media/text/core/lines';
import type { Cell } from '../cell';
import { wantedOf, type CellEdit, type Wanted } from './wanted';

/** The text of a document with other values; undefined for those edits whose place is not in it. */
export interface WrittenText {
  readonly text: string;
  readonly written: number;
}

/** A value as JSON spells it; a whole number in the place of one with a fraction gets one, since readers may tell them apart. */
const spelledValue = (value: Cell, before: string): string =>
  typeof value === 'number' && Number.isSafeInteger(value) && /^-?\d+\.\d*$/.test(before)
    ? `${value}.0`
    : typeof value === 'bigint'
      ? String(value)
      : JSON.stringify(value);

/** A JSON document (RFC 8259) with other values; of a name that stands twice in a record the last is meant, as for those who read it. */
export function writeJsonCells({ text }: Shell, edits: readonly CellEdit[]): WrittenText {
  const spans = new Map<CellEdit, Span>();
  const walk = (node: Node, { below, edit }: Wanted): void => {
    if (edit) {
      const to = node.offset + node.length;
      const now = spelledValue(edit.value, text.slice(node.offset, to));
      spans.set(edit, { from: node.offset, to, text: now });
    }
    if (below.size === 0) return;
    node.children?.forEach((child, i) => {
      const [name, value] = child.children ?? [];
      const isNamed = node.type === 'object';
      const next = below.get(isNamed ? String(name?.value) : String(i));
      const target = isNamed ? value : child;
      if (next && target) walk(target, next);
    });
  };
  const root = parseTree(text);
  if (root) walk(root, wantedOf(edits));
  return { text: replaced(text, [...spans.values()]), written: spans.size };
}

/** A YAML document (1.2) with other values; what stands under an anchor elsewhere is not changed there. */
export function writeYamlCells({ text, lineEnd }: Shell, edits: readonly CellEdit[]): WrittenText {
  const document = parseDocument(text, { logLevel: 'silent', uniqueKeys: false });
  const spans = new Map<CellEdit, Span>();
  const walk = (node: ParsedNode | null, { below, edit }: Wanted): void => {
    if (!node || isAlias(node)) return;
    if (edit && isScalar(node) && node.range) {
      const [from, to] = node.range;
      const isBlock = node.type === 'BLOCK_LITERAL' || node.type === 'BLOCK_FOLDED';
      const end = isBlock && text[to - 1] === '\n' ? lineEnd : '';
      // A value that is not written yet is set apart from its name.
      const gap = from === to && /[:-]$/.test(text.slice(0, from)) ? ' ' : '';
      const now = gap + spelledValue(edit.value, text.slice(from, to)) + end;
      spans.set(edit, { from, to, text: now });
    }
    if (isMap(node))
      for (const { key, value } of node.items) {
        const next = below.get(isScalar(key) ? String(key.value) : String(key));
        if (next) walk(value as ParsedNode | null, next);
      }
    else if (isSeq(node))
      node.items.forEach((item, i) => {
        const next = below.get(String(i));
        if (next) walk(item as ParsedNode, next);
      });
  };
  walk(document.contents, wantedOf(edits));
  return { text: replaced(text, [...spans.values()]), written: spans.size };
}

const plainText = (value: Cell): string => (value === null ? '' : String(value as string | number));

/** Rows of columns with other cells. Places are the number of a row below the heading, lines of nothing not counted, and of a column. */
export function writeColumnCells(
  { text, lineEnd }: Shell,
  edits: readonly CellEdit[],
  { sign, hasHeading }: { sign: string; hasHeading: boolean },
): WrittenText {
  const rows = rowsOf(text, sign).filter(({ cells }) => cells.join('').trim() !== '');
  const spans = new Map<CellEdit, Span>();
  for (const edit of edits) {
    const [number, column] = edit.place as readonly [number, number];
    const row = rows[number + (hasHeading ? 1 : 0)];
    if (!row) continue;
    const line = text.slice(row.from, row.to);
    const places = cellSpans(line, sign);
    const place = places.length === row.cells.length ? places[column] : undefined;
    const quotes = place !== undefined && line[place[0]] === '"';
    const cell = Papa.unparse([[plainText(edit.value)]], { delimiter: sign, newline: lineEnd, quotes });
    if (place) spans.set(edit, { from: row.from + place[0], to: row.from + place[1], text: cell });
    else if (places.length === row.cells.length) {
      const blanks = sign.repeat(Math.max(1, column - row.cells.length + 1));
      spans.set(edit, { from: row.to, to: row.to, text: `${blanks}${cell}` });
    }
  }
  return { text: replaced(text, [...spans.values()]), written: spans.size };
}

/** Keys and values below headings with other values; undefined where other lines stand among them. */
export function writeKeyedCells(
  shell: Shell,
  edits: readonly CellEdit[],
): { bytes: Uint8Array; written: number } | undefined {
  const table = keyedTable(shell);
  if (!table) return undefined;
  const numbers = new Map(table.lines.map(({ key }, line) => [key, line]));
  const changes = edits.flatMap(({ place, value }) => {
    const name = String(place.at(-1));
    const section = place.slice(0, -1).join('.');
    const line = numbers.get(section === '' ? name : `${section}/${name}`);
    if (line === undefined) return [];
    const isQuoted = table.lines[line]!.texts[0]?.startsWith('"') ?? false;
    return [{ line, tongue: 0, text: isQuoted ? JSON.stringify(plainText(value)) : plainText(value) }];
  });
  return { bytes: table.write(changes), written: changes.length };
}
