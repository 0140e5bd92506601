import { FormatError } from '@/core/bytes';
import { codeOfKind } from '@/core/kinds';
import type { FiledTable, FormedTables } from '@/media/table/core';
import { tableNode, tablesOf } from '@/media/table/node';
import { textNode } from '@/media/text/node';
import { UserError } from '@/platform/user-error';
import { tableOf } from '../desk/read-tables';
import { recordOf, type EntryRecord, type GameCatalogue } from '../entries/catalogue';
import { wholeEntry } from '../looking/preview';
import { openedEntry } from '../opening/opened';
import { mediaScriptEndings, mediaScriptFor } from '../opening/scripts';
import { LINES_FORM, lineRows } from './line-rows';

const TEXT = codeOfKind(textNode.kind);
const TABLE = codeOfKind(tableNode.kind);
/** Texts of these endings may be tables; others where they begin as JSON does. */
const WRITTEN = /\.(?:json|ya?ml|csv|tsv|ini|cfg|scene|level|item|quest|data)$/i;
/** Texts of these endings are lines under keys, as the desk has them. */
const LINES = /\.(?:lines|strings|properties|lang|loc|po)$/i;
const MOST_FILES = 4000;
export const MOST_TABLE_BYTES = 64 << 20;
const MOST_TEXT_BYTES = 16 << 20;
/** More cells than these are not held. */
const MOST_CELLS = 20_000_000;

/** Lets others have their turn. */
export const breath = (): Promise<void> => new Promise((resolve) => setImmediate(resolve));

/** The tables of a game, each with the file that it lies in. */
export interface FoundTables {
  readonly found: readonly FiledTable<EntryRecord>[];
  readonly problems: readonly { readonly path: string; readonly why: string }[];
  /** Whether bounds left tables out. */
  readonly isCut: boolean;
}

/** Reads all files of a game that the game finds and that are tables. */
export async function readTables(
  gameId: number,
  { catalogue, archives, ...rest }: GameCatalogue,
): Promise<FoundTables> {
  const { kinds, sizes, archives: positions } = catalogue.columns;
  const found: FiledTable<EntryRecord>[] = [];
  const problems: { path: string; why: string }[] = [];
  const described = new Set(mediaScriptEndings('lines'));
  let [files, cells, isCut] = [0, 0, false];
  for (let row = 0; row < catalogue.count && !isCut; row++) {
    const isTable = kinds[row] === TABLE;
    if (!isTable && kinds[row] !== TEXT) continue;
    if (catalogue.wins[row] === 0 || archives[positions[row]!]!.path === '') continue;
    const path = catalogue.path(row);
    const isLines = !isTable && (LINES.test(path) || described.has(endingOf(path)));
    if (!isTable && !isLines && !WRITTEN.test(path)) continue;
    if (sizes[row]! > (isTable ? MOST_TABLE_BYTES : MOST_TEXT_BYTES)) continue;
    if (++files > MOST_FILES) isCut = true;
    const file = recordOf({ catalogue, archives, ...rest }, row);
    try {
      const opened = await openedEntry(gameId, file.archiveId, file.index);
      const bytes = wholeEntry(opened, MOST_TABLE_BYTES);
      const made = isLines ? linesOf(bytes, path) : tablesOf(bytes, path, mediaScriptFor);
      for (const table of made?.tables ?? []) {
        cells += table.count * table.columns.length;
        if (cells > MOST_CELLS) isCut = true;
        else found.push({ file, path, form: made!.form, table });
      }
    } catch (error) {
      if (!(error instanceof FormatError) && !(error instanceof UserError)) throw error;
      problems.push({ path, why: error.message });
    }
    if (files % 8 === 0) await breath();
  }
  return { found, problems, isCut };
}

const endingOf = (path: string): string => /\.([^./]*)$/.exec(path)?.[1]?.toLowerCase() ?? '';

/** A table of lines as rows; undefined where it is none. */
export function linesOf(bytes: Uint8Array, path: string): Pick<FormedTables, 'form' | 'tables'> | undefined {
  const lines = tableOf(bytes, path);
  return lines && { form: LINES_FORM, tables: lines.lines.length > 0 ? [lineRows(lines)] : [] };
}
