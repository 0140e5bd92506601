import Papa from 'papaparse';

/** A row of columns, and where it stands in its text. */
export interface Row {
  readonly cells: readonly string[];
  readonly from: number;
  /** Where it ends, without its line end. */
  readonly to: number;
}

/** Where the cells of a row stand in it, with their quotes. */
export function cellSpans(row: string, sign: string): [from: number, to: number][] {
  const spans: [number, number][] = [];
  for (let at = 0; at <= row.length; at++) {
    const from = at;
    if (row[at] === '"') {
      at++;
      while (at < row.length && (row[at] !== '"' || row[at + 1] === '"')) at += row[at] === '"' ? 2 : 1;
    }
    const end = row.indexOf(sign, at);
    at = end < 0 ? row.length : end;
    spans.push([from, at]);
  }
  return spans;
}

/** More columns than this no table of texts has. */
const MOST_COLUMNS = 400;

/** Rows of columns with where each stands in its text. */
export function rowsOf(text: string, delimiter: string): Row[] {
  const rows: Row[] = [];
  let from = 0;
  Papa.parse<string[]>(text, {
    delimiter,
    step({ data, meta }, parser) {
      let to = meta.cursor;
      if (data.length > MOST_COLUMNS) parser.abort();
      while (to > from && /[\r\n]/.test(text[to - 1]!)) to--;
      rows.push({ cells: data, from, to });
      from = meta.cursor;
    },
  });
  return rows;
}
