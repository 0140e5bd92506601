import { parseTree, type Node } from 'jsonc-parser';
import Papa from 'papaparse';
import { isSeq, parseDocument, type ParsedNode, type YAMLSeq } from 'yaml';
import { FormatError } from '@/core/bytes';
import { replaced, rowsOf, shellOf, type Span } from '@/media/text/core/lines';
import type { Cell } from '../cell';
import type { DataTable, Place } from '../data-table';
import { hasHeading, readOpenTables, type ReadTables } from '../read-open';
import { cborSpans } from './cbor-cells';
import { sameCell } from './compare-tables';
import { packSpans } from './pack-cells';
import { resizedCbor, resizedPack } from './row-counts';
import { writeCells } from './write-cells';

/** A row more, like another one, or one less. */
export interface RowEdit {
  /** What the table is called within its file. */
  readonly table: string;
  readonly row: number;
  readonly does: 'copy' | 'remove';
  /** What the copy is called by, and in which column. */
  readonly key?: { readonly column: string; readonly value: Cell };
}

export const notWritable = (
  file: string,
  { table, row }: RowEdit,
  expected: string,
  actual: string,
): FormatError =>
  new FormatError('not-writable', {
    ...{ file, fieldPath: `${table === '' ? '' : `${table}, `}row ${row + 1}`, expected, actual },
    remedy: 'Change it in an editor, and put the whole file into the mod',
  });

/**
 * A table file with a copy of a row behind all others, or without a row; all other rows stay byte for byte. Rows have to be records of a list, or lines of columns. What was written is read again, and nothing is given back
 * unless exactly that changed. Throws FormatError `not-writable` where the form has no place for it.
 */
export function writeRow(
  bytes: Uint8Array,
  name: string,
  edit: RowEdit,
  /** Reads tables, or knows them from before. */
  reads: typeof readOpenTables = readOpenTables,
): Uint8Array {
  const read = reads(bytes, name);
  const table = read?.tables.find((one) => one.name === edit.table);
  if (!read || !table || edit.row >= table.count)
    throw notWritable(name, edit, 'a row of CBOR, MessagePack, JSON, YAML or CSV', 'none');
  if (edit.does === 'remove' && table.count < 2)
    throw notWritable(name, edit, 'other rows beside it', 'the only row');
  const made = resized(bytes, name, read, edit, listOf(table, edit, read, name));
  if (!made) throw notWritable(name, edit, 'a list of records, or lines of columns', 'another form');
  const copy = table.count;
  const { key } = edit;
  const whole =
    edit.does === 'copy' && key
      ? writeCells(
          made,
          name,
          [{ table: edit.table, row: copy, column: key.column, within: [], value: key.value }],
          reads,
        )
      : made;
  refuseUnlike(read, reads(whole, name), name, edit);
  return whole;
}

/** The place of the list that rows stand in; undefined for lines of columns. */
function listOf(table: DataTable, edit: RowEdit, { form }: ReadTables, name: string): Place | undefined {
  if (form === 'CSV') return undefined;
  const column = table.columns.findIndex((_, i) => table.placeOf?.(edit.row, i) !== undefined);
  const place = table.placeOf?.(edit.row, column);
  const at = place?.lastIndexOf(edit.row) ?? -1;
  if (!place || at < 0 || at < place.length - 2)
    throw notWritable(name, edit, 'rows in a list', 'rows under names of their own');
  return place.slice(0, at);
}

function resized(
  bytes: Uint8Array,
  name: string,
  { form, tables }: ReadTables,
  { row, does, table }: RowEdit,
  list: Place | undefined,
): Uint8Array | undefined {
  const { count } = tables.find((one) => one.name === table)!;
  if (form === 'CBOR' || form === 'MessagePack') {
    const asked = [list!, [...list!, row], [...list!, count - 1]].map((place) => ({ place, value: null }));
    const find = (own: (typeof asked)[number]) =>
      (form === 'CBOR' ? cborSpans(bytes, [own]) : packSpans(bytes, [own], name))[0];
    const [whole, one, last] = asked.map(find);
    if (!whole || !one || !last) return undefined;
    return (form === 'CBOR' ? resizedCbor : resizedPack)(bytes, { whole, one, last, count, does });
  }
  const shell = shellOf(bytes);
  if (!shell) return undefined;
  const { text, lineEnd } = shell;
  const span =
    form === 'JSON'
      ? inJson(text, list!, row, does)
      : form === 'YAML'
        ? inYaml(text, list!, row, does, lineEnd)
        : form === 'CSV'
          ? inColumns(text, row, does, lineEnd)
          : undefined;
  return span && shell.wrap(replaced(text, [span]));
}

interface Item {
  readonly from: number;
  readonly to: number;
}

/** A copy behind the last of items that have something between them, or one with what is between it and the next taken out. */
function amongItems(
  text: string,
  items: readonly Item[],
  row: number,
  does: RowEdit['does'],
  first: string,
): Span {
  const [own, last, before] = [items[row]!, items.at(-1)!, items.at(-2)];
  if (does === 'copy') {
    const between = before ? text.slice(before.to, last.from) : first;
    return { from: last.to, to: last.to, text: between + text.slice(own.from, own.to) };
  }
  return row > 0
    ? { from: items[row - 1]!.to, to: own.to, text: '' }
    : { from: own.from, to: items[1]!.from, text: '' };
}

function inJson(text: string, list: Place, row: number, does: RowEdit['does']): Span | undefined {
  let node: Node | undefined = parseTree(text);
  for (const step of list)
    node =
      typeof step === 'number'
        ? node?.children?.[step]
        : node?.children?.findLast(({ children }) => children?.[0]?.value === step)?.children?.[1];
  const items = node?.children?.map(({ offset, length }) => ({ from: offset, to: offset + length }));
  if (node?.type !== 'array' || !items?.[row]) return undefined;
  // What stands before the first is what stands between others, behind a comma.
  return amongItems(text, items, row, does, `,${text.slice(node.offset + 1, items[0]!.from)}`);
}

function inYaml(
  text: string,
  list: Place,
  row: number,
  does: RowEdit['does'],
  lineEnd: string,
): Span | undefined {
  const document = parseDocument(text, { logLevel: 'silent', uniqueKeys: false });
  const node = (list.length === 0 ? document.contents : document.getIn(list, true)) as unknown;
  if (!isSeq(node)) return undefined;
  const { items, flow, range } = node as YAMLSeq<ParsedNode> & { range?: readonly number[] | null };
  const ranges = items.map((item) => item?.range);
  if (!range || !ranges[row] || ranges.some((one) => !one)) return undefined;
  if (flow) {
    const own = ranges.map((one) => ({ from: one![0], to: one![1] }));
    return amongItems(text, own, row, does, ', ');
  }
  // An item begins with the line of its dash and goes on to that of the next.
  const dashes = ranges.map((one) => text.lastIndexOf('-', one![0] - 1));
  const starts = dashes.map((dash) => text.lastIndexOf('\n', dash) + 1);
  const isOwnLine = starts.every((start, i) => /^ *$/.test(text.slice(start, dashes[i])));
  if (!isOwnLine) return undefined;
  const end = Math.max(...ranges.map((one) => one![2]!));
  const lines = [...starts, end];
  if (does === 'remove') return { from: lines[row]!, to: lines[row + 1]!, text: '' };
  const own = text.slice(lines[row], lines[row + 1]);
  const isEnded = end === 0 || text[end - 1] === '\n';
  return { from: end, to: end, text: isEnded ? own : `${lineEnd}${own.replace(/\r?\n$/, '')}` };
}

function inColumns(text: string, row: number, does: RowEdit['does'], lineEnd: string): Span | undefined {
  const { data, meta } = Papa.parse<string[]>(text, { skipEmptyLines: 'greedy' });
  const lines = rowsOf(text, meta.delimiter).filter(({ cells }) => cells.join('').trim() !== '');
  const below = lines.slice(hasHeading(data) ? 1 : 0);
  if (!below[row]) return undefined;
  const own = below[row]!;
  if (does === 'copy') {
    const last = below.at(-1)!;
    return { from: last.to, to: last.to, text: lineEnd + text.slice(own.from, own.to) };
  }
  const before = lines[lines.indexOf(own) - 1];
  return before
    ? { from: before.to, to: own.to, text: '' }
    : { from: own.from, to: below[row + 1]!.from, text: '' };
}

/** Refuses a file whose rows are not those before with exactly the one more or less. */
function refuseUnlike(read: ReadTables, again: ReadTables | undefined, name: string, edit: RowEdit): void {
  const refused = notWritable(
    name,
    edit,
    edit.does === 'copy' ? 'one row more, and all else as it was' : 'one row less, and all else as it was',
    'it would be read otherwise',
  );
  if (again?.form !== read.form || again.tables.length !== read.tables.length) throw refused;
  for (const [i, before] of read.tables.entries()) {
    const after = again.tables[i]!;
    const isIt = before.name === edit.table;
    const rows = [...Array(before.count).keys()];
    if (isIt && edit.does === 'remove') rows.splice(edit.row, 1);
    if (isIt && edit.does === 'copy') rows.push(edit.row);
    if (after.count !== rows.length || after.columns.length > before.columns.length) throw refused;
    for (const { name: called, cells } of before.columns) {
      const own = after.columns.find((one) => one.name === called)?.cells;
      const isSame = rows.every((from, to) => {
        const isKey = isIt && to === before.count && edit.key?.column === called;
        return sameCell(own?.[to], isKey ? edit.key!.value : cells[from]);
      });
      if (!isSame) throw refused;
    }
  }
}
