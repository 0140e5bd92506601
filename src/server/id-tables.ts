import Papa from 'papaparse';
import { codesOfJson, codesOfRows, wordsOfPath, type Code, type IdTable } from '@/core/catalogue';
import { FormatError } from '@/core/bytes';
import { decodeAnyText } from '@/core/media/text';
import { IdTableRow, models } from '@/db';
import { openedEntry } from './opened';
import { wholeEntry } from './preview';
import { notFound, UserError } from './user-error';

export interface IdTableView {
  readonly id: number;
  readonly title: string;
  readonly origin: string;
  readonly count: number;
  readonly sample: readonly Code[];
}

/** The readable names of all tables of a game; of one code the first table's. */
export interface ReadableNames {
  readonly stamp: string;
  /** By code in lower letters. */
  readonly byCode: ReadonlyMap<string, string>;
}

declare global {
  var zeroLatchReadable: Map<number, ReadableNames> | undefined;
}

export async function readableNames(gameId: number): Promise<ReadableNames> {
  models();
  const ids = await IdTableRow.findAll({
    where: { gameId },
    attributes: ['id'],
    order: [['id', 'ASC']],
    raw: true,
  });
  const stamp = ids.map(({ id }) => id).join();
  const kept = (globalThis.zeroLatchReadable ??= new Map<number, ReadableNames>());
  const known = kept.get(gameId);
  if (known?.stamp === stamp) return known;
  const byCode = new Map<string, string>();
  for (const { codes } of await IdTableRow.findAll({ where: { gameId }, order: [['id', 'ASC']] }))
    for (const [code, name] of codes as Code[]) {
      const key = code.toLowerCase();
      if (!byCode.has(key)) byCode.set(key, name);
    }
  const names: ReadableNames = { stamp, byCode };
  kept.set(gameId, names);
  return names;
}

/** Readable names of the codes in a path. */
export function labelsOf({ byCode }: ReadableNames, path: string): string[] {
  if (byCode.size === 0) return [];
  const labels = wordsOfPath(path).flatMap((word) => byCode.get(word.toLowerCase()) ?? []);
  return [...new Set(labels)];
}

/** A search for more codes than this is one for a word that is in every name. */
const MOST_CODES = 60;

/** Codes whose readable name has a text in it. */
export function codesCalled({ byCode }: ReadableNames, text: string): string[] {
  const wanted = text.toLowerCase();
  const found: string[] = [];
  for (const [code, name] of byCode) {
    if (code.length > 1 && name.toLowerCase().includes(wanted)) found.push(code);
    if (found.length >= MOST_CODES) break;
  }
  return found;
}

export async function listIdTables(gameId: number): Promise<IdTableView[]> {
  models();
  const rows = await IdTableRow.findAll({ where: { gameId }, order: [['id', 'ASC']] });
  return rows.map(({ id, title, origin, codes }) => ({
    id,
    title,
    origin,
    count: (codes as Code[]).length,
    sample: (codes as Code[]).slice(0, 3),
  }));
}

/** Keeps a table of codes that is given as CSV or JSON. */
export async function addIdTable(
  gameId: number,
  input: { title: string; text: string; origin?: string },
): Promise<{ count: number; doubled: readonly string[] }> {
  models();
  const { codes, doubled } = tableIn(input.text);
  await IdTableRow.create({ gameId, title: input.title, origin: input.origin ?? 'a file', codes });
  return { count: codes.length, doubled };
}

/** Keeps a table of codes that is an entry of the game. */
export async function addIdTableFromEntry(
  gameId: number,
  { archiveId, index }: { archiveId: number; index: number },
): Promise<{ count: number; doubled: readonly string[] }> {
  const { row, archive, entry } = await openedEntry(gameId, archiveId, index);
  const text = decodeAnyText(wholeEntry(archive, entry));
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
