import { tableAsCsv, tableAsJson, tableAsRows } from '@/media/table/core';
import { MOST_CELL_LENGTH, workbookOf } from '@/platform/node/workbook';
import { openReading } from './open-reading';
import { tableAt } from './reading-view';

export const TABLE_FORMS = ['csv', 'json', 'xlsx'] as const;
export type TableFileForm = (typeof TABLE_FORMS)[number];

const TYPES: Readonly<Record<TableFileForm, string>> = {
  csv: 'text/csv; charset=utf-8',
  json: 'application/json',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
};
const WIDTH = 22;
/** What XML has no sign for. */
const NOT_XML =
  /[\0-\x08\x0b\x0c\x0e-\x1f\ufffe\uffff]|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g;

/** A table of a game as a file of an open form. */
export async function tableFile(
  gameId: number,
  id: string,
  form: TableFileForm,
  modId?: number,
): Promise<{ bytes: Uint8Array; name: string; type: string }> {
  const { table } = tableAt(await openReading(gameId, modId), id).of;
  const stem = id.replace(/[^\p{L}\p{N}._-]+/gu, '_').replace(/\.[^.]*$/, '') || 'table';
  const about = { name: `${stem}.${form}`, type: TYPES[form] };
  if (form === 'csv') return { ...about, bytes: new TextEncoder().encode(tableAsCsv(table)) };
  if (form === 'json') return { ...about, bytes: new TextEncoder().encode(`${tableAsJson(table)}\n`) };
  function* cut(): Generator<string[]> {
    for (const cells of tableAsRows(table))
      yield cells.map((cell) => cell.replace(NOT_XML, '\ufffd').slice(0, MOST_CELL_LENGTH));
  }
  return {
    ...about,
    bytes: await workbookOf(
      'Table',
      table.columns.map(() => WIDTH),
      cut(),
    ),
  };
}
