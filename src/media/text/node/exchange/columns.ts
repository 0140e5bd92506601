import { FormatError } from '@/core/bytes';
import { markOf, type BroughtLine } from '../../core/desk';
import { MOST_LINES, type ExchangeTongues, type GivenLine } from './exchange';

/** Headings of the columns behind the three that are read: key, source and target. */
const BEHIND = ['Note', 'Limit', 'Table', 'Number', 'Mark'] as const;

export const headings = ({ source, target }: ExchangeTongues): string[] => [
  'Key',
  source.name,
  // A language by itself is worked on beside what it was.
  target.name === source.name ? `${target.name} (new)` : target.name,
  ...BEHIND,
];

export const cellsOf = ({ key, source, target, note, limit, place, nth }: GivenLine): string[] => [
  ...[key, source, target, note, limit, place],
  ...[nth === 0 ? '' : String(nth + 1), markOf(target)],
];

/** Rows of cells with their heading as lines. Throws FormatError where the columns are not what they have to be. */
export function linesOfRows(rows: Iterable<readonly string[]>, file: string): BroughtLine[] {
  let head: string[] | undefined;
  let at: Readonly<Record<'key' | 'source' | 'target' | 'table' | 'number' | 'mark', number>> | undefined;
  const lines: BroughtLine[] = [];
  for (const cells of rows) {
    if (cells.every((cell) => cell === '')) continue;
    if (!head || !at) {
      head = cells.map((cell) => cell.trim());
      at = columnsOf(head, file);
      continue;
    }
    const cell = (column: number): string => (column < 0 ? '' : (cells[column] ?? ''));
    if (cell(at.key) === '') continue;
    if (lines.length >= MOST_LINES)
      throw new FormatError('budget', { file, expected: `at most ${MOST_LINES} lines`, actual: 'more' });
    lines.push({
      place: cell(at.table),
      key: cell(at.key),
      nth: Math.max(0, (Number(cell(at.number)) || 1) - 1),
      source: at.source < 0 ? undefined : cell(at.source),
      target: cell(at.target),
      mark: cell(at.mark) || undefined,
    });
  }
  return lines;
}

function columnsOf(head: readonly string[], file: string) {
  const find = (name: string): number => head.findIndex((one) => one.toLowerCase() === name.toLowerCase());
  const key = find('key');
  const known = new Set(['key', ...BEHIND.map((name) => name.toLowerCase())]);
  const texts = head.flatMap((name, i) => (name !== '' && !known.has(name.toLowerCase()) ? [i] : []));
  if (key < 0 || texts.length === 0)
    throw new FormatError('bad-value', {
      ...{ file, fieldPath: 'heading', expected: "a column 'Key', the source and the target" },
      actual: head.slice(0, 8).join(', ') || 'nothing',
      remedy: 'Leave the first row as it came out of the text desk',
    });
  return {
    key,
    // With one column of texts it is the target.
    source: texts.length > 1 ? texts[0]! : -1,
    target: texts.length > 1 ? texts[1]! : texts[0]!,
    table: find('Table'),
    number: find('Number'),
    mark: find('Mark'),
  };
}
