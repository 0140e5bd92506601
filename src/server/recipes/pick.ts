import { parseQuery, findRows, pageOf } from '@/core/catalogue';
import type { Recipe } from '@/core/recipe';
import { gameCatalogue, recordOf, type EntryRecord, type GameCatalogue } from '../entries/catalogue';
import { findRefs } from '../entries/entries';
import { UserError } from '@/platform/user-error';

/** As many as one run takes. */
const MOST = 2_000_000;

/** What a recipe picks now, with what of its list is not there. */
export interface Picked {
  readonly records: readonly EntryRecord[];
  readonly missing: readonly string[];
}

/** The entries that a recipe picks, in the order of its list or of paths; archives that it unpacks with what is in them. */
export async function pickedBy(gameId: number, recipe: Recipe): Promise<Picked> {
  const game = await gameCatalogue(gameId);
  if (!game) throw new UserError(409, 'Scan the folder of the game first.');
  const picked =
    'paths' in recipe.pick ? listed(game, recipe.pick.paths) : await searched(gameId, recipe.pick);
  if (recipe.convert.archive !== 'unpacked') return picked;
  const seen = new Set<string>();
  const records = picked.records
    .flatMap((record) => {
      const inner = record.kind === 'archive' ? below(game, `${record.path}/`) : [];
      return inner.length > 0 ? inner : [record];
    })
    .filter(
      ({ archiveId, index }) => !seen.has(`${archiveId}:${index}`) && seen.add(`${archiveId}:${index}`),
    );
  return { ...picked, records };
}

function listed(game: GameCatalogue, paths: readonly string[]): Picked {
  const records: EntryRecord[] = [];
  const missing: string[] = [];
  const seen = new Set<number>();
  for (const path of paths) {
    const row = game.catalogue.stack(path).find((one) => game.catalogue.wins[one] === 1);
    if (row === undefined) missing.push(path);
    else if (!seen.has(row)) {
      seen.add(row);
      records.push(recordOf(game, row));
    }
  }
  return { records, missing };
}

async function searched(
  gameId: number,
  { search, folder, kind }: { search: string; folder: string; kind: EntryRecord['kind'] | null },
): Promise<Picked> {
  const query = { gameId, search, folder, kind: kind ?? undefined, archiveId: undefined };
  const records = await findRefs(
    { ...query, sort: 'path', isDescending: false, offset: 0, limit: MOST },
    MOST,
  );
  return { records, missing: [] };
}

/** What answers below a folder. */
function below(game: GameCatalogue, folder: string): EntryRecord[] {
  const mask = findRows(
    game.catalogue,
    { folder, terms: parseQuery(''), archive: undefined },
    { archives: game.archives.map(({ path }) => path) },
  );
  return pageOf(game.catalogue, mask, { sort: 'path', isDescending: false, offset: 0, limit: MOST }).map(
    (row) => recordOf(game, row),
  );
}
