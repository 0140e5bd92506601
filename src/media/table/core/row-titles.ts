import { spelledCell, type Cell } from './cell';
import { NAME_COLUMN, type DataTable } from './data-table';

const CALLED = ['name', 'title', 'label', NAME_COLUMN, 'what', 'text', 'caption', 'description'];
const MOST = 80;

/** Codes have numbers or low lines in them, and names have not. */
const isWords = (cell: Cell | undefined): boolean => typeof cell === 'string' && !/[\d_/\\]/.test(cell);

/** The column that says what a row is called: one with such a name, else the first whose texts are mostly different, of words before codes; undefined where there is none. */
export function titleColumn({ columns, count }: DataTable): number | undefined {
  const isTexts = (i: number): boolean =>
    columns[i]!.cells.some((cell) => typeof cell === 'string' && cell !== '') &&
    columns[i]!.cells.every((cell) => cell === undefined || cell === null || typeof cell === 'string');
  for (const name of CALLED) {
    const i = columns.findIndex((column) => column.name.toLowerCase() === name);
    if (i >= 0 && isTexts(i)) return i;
  }
  const found = [...columns.keys()].filter((i) => isTexts(i) && new Set(columns[i]!.cells).size * 2 > count);
  return found.find((i) => columns[i]!.cells.filter(isWords).length * 2 > count) ?? found[0];
}

/** What a row is called, in a line: its name, else what its table is called with its key or its number from 1. */
export function titleOf(
  table: DataTable,
  row: number,
  title: number | undefined,
  key: number | undefined,
  file: string,
): string {
  const said = (i: number | undefined): string => {
    const cell: Cell | undefined = i === undefined ? undefined : table.columns[i]?.cells[row];
    return spelledCell(cell).replace(/\s+/g, ' ').trim();
  };
  const sort = file.replace(/^.*[/#]/, '').replace(/\.[^.]*$/, '');
  const called = said(title) || `${sort} ${said(key) || `row ${row + 1}`}`;
  return called.length > MOST ? `${called.slice(0, MOST)} …` : called;
}
