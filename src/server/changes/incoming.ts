import type { FitState, Mend } from '@/core/fit';
import { matchFile } from '@/core/mod';
import { findStack, gameCatalogue } from '../catalogue';
import { replaceEntry, type Given } from '../mods';
import { UserError } from '../user-error';

/** The path of the entry that a file from outside is meant for. */
export async function meantBy(gameId: number, file: string): Promise<string> {
  const game = await gameCatalogue(gameId);
  if (!game) throw new UserError(409, 'The folder is not scanned yet. Scan it first.');
  const { catalogue } = game;
  function* paths(): Generator<string> {
    for (let row = 0; row < catalogue.count; row++) if (catalogue.at(row).wins) yield catalogue.path(row);
  }
  const path = matchFile(file, paths());
  if (path === undefined)
    throw new UserError(
      404,
      'No entry, or more than one, has this name. Put it into the folders that the entry has.',
    );
  return path;
}

/** Puts something in the place of the entry that the game sees under a path. */
export async function replacePath(
  gameId: number,
  modId: number,
  path: string,
  given: Given,
  mends: readonly Mend[] = [],
): Promise<FitState> {
  const winner = (await findStack(gameId, path)).find(({ wins }) => wins);
  if (!winner) throw new UserError(404, `${path} is in no open archive.`);
  return replaceEntry(gameId, modId, { archiveId: winner.archiveId, index: winner.index }, given, mends);
}
