import Papa from 'papaparse';
import { FormatError } from '@/core/bytes';
import { decodeAnyText } from '../../core/encoding';
import { cellsOf, headings, linesOfRows } from './columns';
import type { ExchangeTongues, GivenLine, ReadLines } from './exchange';

/** With a mark, by which table programs know UTF-8. What such a program would take for a formula begins with an apostrophe. */
export function toCsv(lines: readonly GivenLine[], tongues: ExchangeTongues): Uint8Array {
  const rows = [headings(tongues), ...lines.map((line) => cellsOf(line).map(harmless))];
  return new TextEncoder().encode(`\ufeff${Papa.unparse(rows, { newline: '\r\n' })}\r\n`);
}

const FORMULA = /^[=+\-@\t\r]/;
const harmless = (cell: string): string =>
  FORMULA.test(cell) || /^'[=+\-@\t\r']/.test(cell) ? `'${cell}` : cell;
const asMeant = (cell: string): string => (/^'['=+\-@\t\r]/.test(cell) ? cell.slice(1) : cell);

/** Rows of commas, semicolons or tabs, in UTF-8 or UTF-16; another encoding is told. */
export function fromCsv(bytes: Uint8Array, file: string): ReadLines {
  const facts = decodeAnyText(bytes);
  if (!facts) throw new FormatError('bad-value', { file, expected: 'a text', actual: 'data' });
  const warnings =
    facts.encoding === 'windows-1252'
      ? [
          `${file} is not in UTF-8; it was read as Windows-1252, which may not be what it was saved in. Look at signs like ä and ł.`,
        ]
      : [];
  if (facts.text.includes('\ufffd'))
    warnings.push(`${file} has signs that were lost when it was saved (U+FFFD).`);
  const first = facts.text.slice(0, facts.text.search(/\r?\n|$/));
  const delimiter = [',', ';', '\t'].sort((a, b) => first.split(b).length - first.split(a).length)[0]!;
  const rows: string[][] = [];
  Papa.parse<string[]>(facts.text, {
    delimiter,
    step({ data, errors }) {
      const [error] = errors.filter(({ type }) => type === 'Quotes');
      if (error)
        throw new FormatError('bad-value', {
          ...{ file, fieldPath: `row ${rows.length + 1}`, expected: 'quotes that close' },
          actual: error.message,
          remedy: 'Save it again with a table program',
        });
      rows.push(data.map(asMeant));
    },
  });
  return { form: 'csv', lines: linesOfRows(rows, file), warnings };
}
