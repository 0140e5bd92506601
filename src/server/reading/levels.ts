import { UserError } from '@/platform/user-error';
import { findStack, gameCatalogue } from '../entries/catalogue';
import { wholeEntry } from '../looking/preview';
import { openedEntry } from '../opening/opened';
import { inWords, type TableWords } from './change-words';
import { openReading } from './open-reading';
import { MOST_TABLE_BYTES } from './read-tables';
import { tableAt } from './reading-view';

/** One of several files of a path, of which the game finds one. */
export interface LevelView {
  readonly archiveId: number;
  readonly index: number;
  readonly archive: string;
  /** Whether it is the one that the game finds. */
  readonly isFound: boolean;
}

/** All files of the path of a table, the one that the game finds first; one only where no other archive has it, none where its rows are files of their own. */
export async function levelsOf(gameId: number, id: string): Promise<LevelView[]> {
  const { files } = tableAt(await openReading(gameId), id).of;
  if (files.length !== 1) return [];
  const stack = await findStack(gameId, files[0]!.path);
  return [...stack]
    .sort((a, b) => Number(b.wins) - Number(a.wins))
    .map(({ archiveId, index, archive, wins }) => ({ archiveId, index, archive, isFound: wins }));
}

/** What a table that the game finds says otherwise than the one of the same path in another archive. */
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
    wholeEntry(await openedEntry(gameId, level.archiveId, level.index), MOST_TABLE_BYTES);
  const words = inWords(reading, path, await read(other), await read(found));
  if (!words) throw new UserError(422, `${path} in ${other.archive} is no table that can be read.`);
  return words;
}

/** Tells whether other archives have a file of a path, which the game does not find. */
export async function hidingIn(gameId: number): Promise<(path: string) => boolean> {
  const game = await gameCatalogue(gameId);
  return (path) => (game?.catalogue.stack(path).length ?? 0) > 1;
}
