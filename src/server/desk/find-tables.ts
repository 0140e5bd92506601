import { FLAG, tonguePlaces, type TonguePlace } from '@/core/catalogue';
import { codeOfKind } from '@/core/kinds';
import type { HeldPlace } from '@/media/text/core/lines';
import { textNode } from '@/media/text/node';
import { recordOf, type EntryRecord, type GameCatalogue } from '../entries/catalogue';

/** A file of a table, and where its path says its language. */
export interface TableFile {
  readonly record: EntryRecord;
  readonly place: TonguePlace | undefined;
  /** Where its texts lie, where it is a program. */
  readonly held?: readonly HeldPlace[] | undefined;
}

/** A table in all languages that the game has it in; that of no language by an empty one. */
export interface TableGroup {
  /** What it is called in every language. */
  readonly place: string;
  readonly files: ReadonlyMap<string, TableFile>;
}

/** Texts of these endings are tables, also where the game has them once only. */
const TABLES = new Set(['lines', 'csv', 'tsv', 'strings', 'properties', 'lang', 'loc', 'po']);
const endingOf = (path: string): string => /\.([^./]*)$/.exec(path)?.[1]?.toLowerCase() ?? '';

/** So many files are tables of texts at most. */
const MOST_FILES = 50_000;

/**
 * The texts of a game that may be tables: those that it has in several languages, told by their paths, and those whose ending says so or whose script does. Of namesakes the one that the game
 * finds counts, but what is there only because of what is installed: of that the one behind it.
 */
export function findTables(
  game: GameCatalogue,
  isDescribed: (ending: string) => boolean,
  isBrought: (entry: { readonly archive: string; readonly path: string }) => boolean,
  held: ReadonlyMap<string, readonly HeldPlace[]>,
): TableGroup[] {
  const { catalogue, archives } = game;
  const { kinds, archives: positions } = catalogue.columns;
  const text = codeOfKind(textNode.kind);
  const rows: { readonly row: number; readonly path: string; readonly places: readonly TonguePlace[] }[] = [];
  const programs: { readonly row: number; readonly places: readonly HeldPlace[] }[] = [];
  const tongues = new Map<string, Set<string>>();
  const keyOf = ({ key }: TonguePlace, path: string): string => `${key}.${endingOf(path)}`;
  for (let row = 0; row < catalogue.count && rows.length < MOST_FILES; row++) {
    const archive = archives[positions[row]!]!.path;
    if (archive === '') continue;
    if (kinds[row] !== text) {
      if (held.size > 0) heldIn(row, archive);
      continue;
    }
    const path = catalogue.path(row);
    if (!isFound(row, archive, path)) continue;
    const places = tonguePlaces(path);
    rows.push({ row, path, places });
    for (const place of places) {
      const key = keyOf(place, path);
      let own = tongues.get(key);
      if (!own) tongues.set(key, (own = new Set()));
      own.add(place.tongue);
    }
  }
  const groups = new Map<string, Map<string, TableFile>>();
  const put = (place: string, tongue: string, file: TableFile): void => {
    let own = groups.get(place);
    if (!own) groups.set(place, (own = new Map()));
    if (!own.has(tongue)) own.set(tongue, file);
  };
  for (const { row, path, places } of rows) {
    const best = [...places].sort((a, b) => sizeOf(b, path) - sizeOf(a, path))[0];
    if (best && sizeOf(best, path) > 1)
      put(keyOf(best, path), best.tongue, { record: recordOf(game, row), place: best });
    else if (TABLES.has(endingOf(path)) || isScripted(row) || isDescribed(endingOf(path)))
      put(path, '', { record: recordOf(game, row), place: undefined });
  }
  for (const { row, places } of programs)
    groups.set(
      `${catalogue.path(row)}, texts of the program`,
      new Map([['', { record: recordOf(game, row), place: undefined, held: places }]]),
    );
  return [...groups].map(([place, files]) => ({ place, files })).sort((a, b) => (a.place < b.place ? -1 : 1));

  function isFound(row: number, archive: string, path: string): boolean {
    if (isBrought({ archive, path })) return false;
    if (catalogue.wins[row] !== 0) return true;
    // The game finds it but for what is installed.
    const first = catalogue
      .stack(path)
      .find((one) => !isBrought({ archive: archives[positions[one]!]!.path, path }));
    return first === row;
  }

  function isScripted(row: number): boolean {
    return (catalogue.columns.flags[row]! & FLAG.scripted) !== 0;
  }

  function heldIn(row: number, archive: string): void {
    const places = held.get(`${archive}\0${catalogue.path(row)}`);
    if (places) programs.push({ row, places });
  }

  function sizeOf(place: TonguePlace, path: string): number {
    return tongues.get(keyOf(place, path))!.size;
  }
}
