import { FormatError } from '@/core/bytes';
import { FLAG } from '@/core/catalogue';
import { codeOfKind } from '@/core/kinds';
import type { FiledTable } from '@/media/table/core';
import { tableNode } from '@/media/table/node';
import { textNode } from '@/media/text/node';
import { UserError } from '@/platform/user-error';
import { recordOf, type EntryRecord, type GameCatalogue } from '../entries/catalogue';
import { hasLookThread, lookBeside } from '../looking/look-threads';
import { wholeEntry } from '../looking/preview';
import { openedEntry } from '../opening/opened';
import { mediaScriptEndings } from '../opening/scripts';
import { dropOthers, KeptTables } from './kept-tables';
import { BESIDE_BYTES, layDown, MOST_TABLE_BYTES, readBytes, takeUp } from './laid-tables';

const TEXT = codeOfKind(textNode.kind);
const TABLE = codeOfKind(tableNode.kind);
/** Texts of these endings may be tables; others where they begin as JSON does. */
const WRITTEN = /\.(?:json|ya?ml|csv|tsv|ini|cfg|scene|level|item|quest|data)$/i;
/** Texts of these endings are lines under keys, as the desk has them. */
const LINES = /\.(?:lines|strings|properties|lang|loc|po)$/i;
const MOST_FILES = 4000;
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

/** Reads all files of a game that the game finds and that are tables; those that were read before and are the same still come from what is kept of them. */
export async function readTables(gameId: number, game: GameCatalogue): Promise<FoundTables> {
  const { catalogue, archives } = game;
  const { sizes, numbers, modified, archives: positions } = catalogue.columns;
  const found: FiledTable<EntryRecord>[] = [];
  const problems: { path: string; why: string }[] = [];
  const kept = new Map<number, KeptTables>();
  const keptOf = (position: number): KeptTables => {
    let own = kept.get(position);
    if (!own) kept.set(position, (own = new KeptTables(gameId, archives[position]!)));
    return own;
  };
  const rows = tableRows(game);
  let [cells, isCut] = [0, rows.length > MOST_FILES];
  for (const [done, { row, isLines, path }] of rows.slice(0, MOST_FILES).entries()) {
    const file = recordOf(game, row);
    const place = { number: numbers[row]!, size: sizes[row]!, modified: modified[row]!, path, isLines };
    const own = keptOf(positions[row]!);
    try {
      let made = own.take(place);
      if (!made) {
        const laid = await readLaid(gameId, file, isLines);
        own.note(place, laid);
        made = takeUp(laid);
      }
      for (const table of made.tables) {
        cells += table.count * table.columns.length;
        if (cells > MOST_CELLS) isCut = true;
        else found.push({ file, path, form: made.form, table });
      }
      if (cells > MOST_CELLS) break;
    } catch (error) {
      if (!(error instanceof FormatError) && !(error instanceof UserError)) throw error;
      problems.push({ path, why: error.message });
    }
    if (done % 8 === 0) await breath();
  }
  for (const one of kept.values()) one.keep();
  dropOthers(
    gameId,
    [...kept.keys()].map((position) => archives[position]!),
  );
  return { found, problems, isCut };
}

async function readLaid(
  gameId: number,
  { archiveId, index, path, size }: EntryRecord,
  isLines: boolean,
): Promise<Uint8Array> {
  if (size > BESIDE_BYTES && hasLookThread())
    return lookBeside('tables', { gameId, archiveId, index, path, isLines });
  const opened = await openedEntry(gameId, archiveId, index);
  return layDown(readBytes(wholeEntry(opened, MOST_TABLE_BYTES), path, isLines));
}

/** The rows of a catalogue whose files may be tables, of those that the game finds. */
function tableRows({
  catalogue,
  archives,
}: GameCatalogue): { row: number; path: string; isLines: boolean }[] {
  const { kinds, sizes, flags, archives: positions } = catalogue.columns;
  const described = mediaScriptEndings('lines');
  const rows: { row: number; path: string; isLines: boolean }[] = [];
  for (let row = 0; row < catalogue.count && rows.length <= MOST_FILES; row++) {
    const isTable = kinds[row] === TABLE;
    if (!isTable && kinds[row] !== TEXT) continue;
    if (catalogue.wins[row] === 0 || archives[positions[row]!]!.path === '') continue;
    const path = catalogue.path(row);
    const isScripted = (flags[row]! & FLAG.scripted) !== 0;
    const isLines = !isTable && (LINES.test(path) || isScripted || described.has(`.${endingOf(path)}`));
    if (!isTable && !isLines && !WRITTEN.test(path)) continue;
    if (sizes[row]! <= (isTable ? MOST_TABLE_BYTES : MOST_TEXT_BYTES)) rows.push({ row, path, isLines });
  }
  return rows;
}

const endingOf = (path: string): string => /\.([^./]*)$/.exec(path)?.[1]?.toLowerCase() ?? '';
