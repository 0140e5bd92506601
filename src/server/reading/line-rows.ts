import type { Cell, DataTable } from '@/media/table/core';
import type { LineTable } from '@/media/text/core/lines';

/** What tables of lines are told as. */
export const LINES_FORM = 'lines of text';

/** Lines of text as rows, called by their keys, so that what names a line leads to it. They are changed on the desk. */
export function lineRows({ lines, tongues }: LineTable): DataTable {
  const column = (name: string, cell: (line: number) => Cell | undefined) => ({
    name,
    cells: lines.map((_, line) => cell(line)),
  });
  const columns = [
    column('key', (line) => lines[line]!.key),
    ...tongues.map((tongue, i) => column(tongue || 'text', (line) => lines[line]!.texts[i])),
    column('speaker', (line) => lines[line]!.speaker),
    column('note', (line) => lines[line]!.note),
  ];
  return {
    name: '',
    columns: columns.filter(({ cells }) => cells.some((cell) => cell !== undefined)),
    count: lines.length,
  };
}
