import ExcelJS from 'exceljs';
import { Readable } from 'node:stream';
import { FormatError } from '@/core/bytes';
import { MOST_CELL_LENGTH, workbookOf } from '@/platform/node/workbook';
import { cellsOf, headings, linesOfRows } from './columns';
import { refuseNotXml, type ExchangeTongues, type GivenLine, type ReadLines } from './exchange';

const WIDTHS = [28, 60, 60, 30, 14, 24, 8, 18];

/** Lines as a workbook of one sheet. */
export function toXlsx(lines: readonly GivenLine[], tongues: ExchangeTongues): Promise<Uint8Array> {
  return workbookOf('Lines', WIDTHS, rowsOf(lines, tongues));
}

function* rowsOf(lines: readonly GivenLine[], tongues: ExchangeTongues): Generator<readonly string[]> {
  yield headings(tongues);
  for (const line of lines) {
    refuseNotXml(line);
    const cells = cellsOf(line);
    if (cells.some(({ length }) => length > MOST_CELL_LENGTH))
      throw new FormatError('does-not-fit', {
        ...{
          fieldPath: `${line.place}, ${line.key}`,
          expected: `at most ${MOST_CELL_LENGTH} signs in a cell`,
        },
        remedy: 'Take it out as CSV, PO, XLIFF or JSON',
      });
    yield cells;
  }
}

export async function fromXlsx(bytes: Uint8Array, file: string): Promise<ReadLines> {
  const rows: string[][] = [];
  let formulas = 0;
  try {
    const book = new ExcelJS.stream.xlsx.WorkbookReader(Readable.from([Buffer.from(bytes)]), {
      ...{ worksheets: 'emit', sharedStrings: 'cache', styles: 'ignore', hyperlinks: 'ignore' },
    });
    for await (const sheet of book) {
      for await (const row of sheet) {
        const cells: string[] = [];
        row.eachCell({ includeEmpty: true }, (cell, column) => {
          if (cell.formula) formulas++;
          // A text of several looks comes in runs.
          cells[column - 1] = textOf(cell.value);
        });
        rows.push(Array.from(cells, (cell) => cell ?? ''));
      }
      break;
    }
  } catch (error) {
    if (error instanceof FormatError) throw error;
    throw new FormatError('bad-value', {
      file,
      expected: 'a workbook (XLSX)',
      actual: (error as Error).message.slice(0, 200),
    });
  }
  if (rows.length === 0)
    throw new FormatError('bad-value', { file, expected: 'a workbook with rows', actual: 'none' });
  const warnings =
    formulas > 0 ? [`${formulas} cells hold formulas, of which only what they last gave is taken.`] : [];
  return { form: 'xlsx', lines: linesOfRows(rows, file), warnings };
}

function textOf(value: unknown): string {
  if (value === null || value === undefined) return '';
  if (typeof value === 'string') return value;
  if (typeof value === 'number' || typeof value === 'boolean') return String(value);
  if (value instanceof Date) return value.toISOString();
  const told = value as { richText?: { text: string }[]; text?: unknown; result?: unknown; error?: string };
  if (told.richText) return told.richText.map(({ text }) => text).join('');
  return textOf(told.text ?? told.result ?? told.error);
}
