import { kindOfCode, type Kind } from '@/core/kinds';
import { gameCatalogue, recordOf, type EntryRecord, type GameCatalogue } from '../entries/catalogue';

/** An entry that a text of a table names by its path. */
export interface NamedEntry extends Pick<EntryRecord, 'archiveId' | 'index' | 'path'> {
  readonly kind: Kind;
}

const indexes = new WeakMap<object, { readonly scan: string; readonly rows: ReadonlyMap<string, number> }>();
const MOST_LENGTH = 300;
/** Steps from the end of a path that are enough to know it by. */
const STEPS = 2;

const plain = (path: string): string => path.toLowerCase().replaceAll('\\', '/');
const stem = (path: string): string => path.replace(/\.[^./]*$/, '');
const ends = (path: string): string => stem(path).split('/').slice(-STEPS).join('/');

/** Entries that the game finds by the last steps of their paths without an ending; worked out once a scan. */
function rowsByEnd({ catalogue, archives, scan }: GameCatalogue): ReadonlyMap<string, number> {
  const known = indexes.get(catalogue);
  if (known?.scan === scan) return known.rows;
  const rows = new Map<string, number>();
  const { archives: positions } = catalogue.columns;
  for (let row = catalogue.count - 1; row >= 0; row--)
    if (catalogue.wins[row] !== 0 && archives[positions[row]!]!.path !== '')
      rows.set(ends(plain(catalogue.path(row))), row);
  indexes.set(catalogue, { scan, rows });
  return rows;
}

/** Tells the row of the entry that a text names: its whole path, or as much of its end as says it, with an ending or without. */
export function entryNamer(game: GameCatalogue): (text: string) => number | undefined {
  const rows = rowsByEnd(game);
  return (text) => {
    if (text.length > MOST_LENGTH || !/[/\\]/.test(text) || /\s{2}|\n/.test(text)) return undefined;
    const wanted = plain(text).replace(/^\.?\/+/, '');
    const row = rows.get(ends(wanted));
    if (row === undefined) return undefined;
    const path = plain(game.catalogue.path(row));
    const isIt = [path, stem(path)].some(
      (own) =>
        own === wanted ||
        own.endsWith(`/${wanted}`) ||
        own === stem(wanted) ||
        own.endsWith(`/${stem(wanted)}`),
    );
    return isIt ? row : undefined;
  };
}

/** Tells the entry that a text names. */
export async function entriesNamed(gameId: number): Promise<(text: string) => NamedEntry | undefined> {
  const game = await gameCatalogue(gameId);
  if (!game) return () => undefined;
  const namer = entryNamer(game);
  return (text) => {
    const row = namer(text);
    if (row === undefined) return undefined;
    const { archiveId, index, path } = recordOf(game, row);
    return { archiveId, index, path, kind: kindOfCode(game.catalogue.columns.kinds[row]!) };
  };
}
