import { UserError } from '@/platform/user-error';
import { findStack, gameCatalogue } from '../entries/catalogue';
import { listGames } from '../games/games';
import { wholeEntry } from '../looking/preview';
import { openedEntry } from '../opening/opened';
import { inWords, type TableWords } from './change-words';
import { openReading } from './open-reading';
import { MOST_TABLE_BYTES } from './laid-tables';
import { tableAt } from './reading-view';

/** One of several files of a path, of which the game finds one. */
export interface LevelView {
  readonly archiveId: number;
  readonly index: number;
  readonly archive: string;
  /** Whether it is the one that the game finds. */
  readonly isFound: boolean;
  /** Another game that it is in, such as another version of this one; null for this one. */
  readonly game: { readonly id: number; readonly title: string } | null;
}

/** All files of the path of a table, the one that the game finds first, those that other games on the shelf find last; none where its rows are files of their own. */
export async function levelsOf(gameId: number, id: string): Promise<LevelView[]> {
  const { files } = tableAt(await openReading(gameId), id).of;
  if (files.length !== 1) return [];
  const [{ path } = { path: '' }] = files;
  const own = [...(await findStack(gameId, path))]
    .sort((a, b) => Number(b.wins) - Number(a.wins))
    .map(({ archiveId, index, archive, wins }) => ({ archiveId, index, archive, isFound: wins, game: null }));
  return [...own, ...(await inOtherGames(gameId, path))];
}

/** So many games are looked into. */
const MOST_GAMES = 50;

async function inOtherGames(gameId: number, path: string): Promise<LevelView[]> {
  const others = (await listGames()).filter(({ id }) => id !== gameId).slice(0, MOST_GAMES);
  const found: LevelView[] = [];
  for (const { id, title } of others) {
    const entry = (await findStack(id, path)).find(({ wins }) => wins);
    if (!entry) continue;
    const { archiveId, index, archive } = entry;
    found.push({ archiveId, index, archive, isFound: false, game: { id, title } });
  }
  return found;
}

/** What a table that the game finds says otherwise than the one of the same path in another archive, or in another game. */
export async function comparedLevel(
  gameId: number,
  id: string,
  archiveId: number,
  index: number,
): Promise<readonly TableWords[]> {
  const reading = await openReading(gameId);
  const levels = await levelsOf(gameId, id);
  const other = levels.find((one) => one.archiveId === archiveId && one.index === index);
  const found = levels.find(({ isFound }) => isFound);
  if (!other || !found) throw new UserError(404, `${id} is not in this archive. Scan the folder again.`);
  const { path } = tableAt(reading, id).of.files[0]!;
  const read = async (level: LevelView): Promise<Uint8Array> =>
    wholeEntry(await openedEntry(level.game?.id ?? gameId, level.archiveId, level.index), MOST_TABLE_BYTES);
  const words = inWords(reading, path, await read(other), await read(found));
  if (!words) throw new UserError(422, `${path} in ${other.archive} is no table that can be read.`);
  return words;
}

/** Tells whether other archives have a file of a path, which the game does not find. */
export async function hidingIn(gameId: number): Promise<(path: string) => boolean> {
  const game = await gameCatalogue(gameId);
  return (path) => (game?.catalogue.stack(path).length ?? 0) > 1;
}

/** Whether there are other games to compare with; what they have is looked up once somebody asks. */
export const hasOtherGames = async (gameId: number): Promise<boolean> =>
  (await listGames()).some(({ id }) => id !== gameId);
