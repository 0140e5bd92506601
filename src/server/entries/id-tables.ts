import Papa from 'papaparse';
import { codesOfJson, codesOfRows, type Code, type IdTable, type MoreColumns } from '@/core/catalogue';
import { FormatError } from '@/core/bytes';
import { decodeAnyText } from '@/media/text/core/encoding';
import { IdTableRow, models } from '@/db';
import { openedEntry } from '../opening/opened';
import { wholeEntry } from '../looking/preview';
import { notFound, UserError } from '@/platform/user-error';

export interface IdTableView {
  readonly id: number;
  readonly title: string;
  readonly origin: string;
  readonly count: number;
  readonly sample: readonly Code[];
  /** Titles of what else it says of its codes, by which lists are narrowed. */
  readonly more: readonly string[];
}

export async function listIdTables(gameId: number): Promise<IdTableView[]> {
  models();
  const rows = await IdTableRow.findAll({ where: { gameId }, order: [['id', 'ASC']] });
  return rows.map(({ id, title, origin, codes, more }) => ({
    id,
    title,
    origin,
    count: (codes as Code[]).length,
    sample: (codes as Code[]).slice(0, 3),
    more: (more as MoreColumns | null)?.titles ?? [],
  }));
}

/** Keeps a table of codes that is given as CSV or JSON. */
export async function addIdTable(
  gameId: number,
  input: { title: string; text: string; origin?: string },
): Promise<{ count: number; doubled: readonly string[] }> {
  models();
  const { codes, doubled, more } = tableIn(input.text);
  const { title, origin = 'a file' } = input;
  await IdTableRow.create({ gameId, title, origin, codes, more: more ?? null });
  return { count: codes.length, doubled };
}

/** Keeps a table of codes that is an entry of the game. */
export async function addIdTableFromEntry(
  gameId: number,
  { archiveId, index }: { archiveId: number; index: number },
): Promise<{ count: number; doubled: readonly string[] }> {
  const opened = await openedEntry(gameId, archiveId, index);
  const { row, entry } = opened;
  const text = decodeAnyText(wholeEntry(opened));
  if (!text) throw new UserError(422, `${entry.path} is no text, so it cannot be read as CSV or JSON.`);
  return addIdTable(gameId, {
    title: entry.path.split('/').pop()!,
    text: text.text,
    origin: `${entry.path} in ${row.path}`,
  });
}

function tableIn(text: string): IdTable {
  try {
    const start = text.trimStart();
    if (start.startsWith('{') || start.startsWith('[')) return codesOfJson(JSON.parse(text));
    const { data } = Papa.parse<string[]>(text, { skipEmptyLines: 'greedy' });
    return codesOfRows(data);
  } catch (error) {
    if (error instanceof FormatError) throw new UserError(422, error.message);
    if (error instanceof SyntaxError) throw new UserError(422, `This is no JSON: ${error.message}.`);
    throw error;
  }
}

export async function removeIdTable(gameId: number, id: number): Promise<void> {
  models();
  if ((await IdTableRow.destroy({ where: { id, gameId } })) === 0) throw notFound('The table');
}
