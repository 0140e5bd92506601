import type { FitShown, Mend } from '@/core/fit';
import { matchFile } from '@/core/mod';
import { typeOfHead } from '@/core/kinds';
import { findStack, gameCatalogue } from '../entries/catalogue';
import { matchByLook } from '../looking/looks';
import { openedEntry } from '../opening/opened';
import { replaceEntry, type Given } from './mods';
import { pixelsOf } from '../looking/preview';
import { readBlob } from '../storage/storage';
import { UserError } from '@/platform/user-error';

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

/** The path of the entry that a file from outside is meant for: by its name, or for a picture by what it looks like below a folder. */
export async function meantByNameOrLook(
  gameId: number,
  folder: string,
  name: string,
  blob: string,
): Promise<{ path: string; by: 'name' | 'look' }> {
  try {
    return { path: await meantBy(gameId, `${folder}${name}`), by: 'name' };
  } catch (error) {
    if (!(error instanceof UserError) || error.status !== 404) throw error;
    const bytes = readBlob(blob);
    const isPicture = typeOfHead(bytes)?.kind === 'picture' || /\.tga$/i.test(name);
    const path = isPicture ? await matchByLook(gameId, folder, await pixelsOf(bytes, name)) : undefined;
    if (path === undefined) throw error;
    return { path, by: 'look' };
  }
}

/** Puts something in the place of the entry that the game sees under a path. */
export async function replacePath(
  gameId: number,
  modId: number,
  path: string,
  given: Given,
  mends: readonly Mend[] = [],
): Promise<FitShown> {
  const winner = (await findStack(gameId, path)).find(({ wins }) => wins);
  if (!winner) throw new UserError(404, `${path} is in no open archive.`);
  return replaceEntry(await openedEntry(gameId, winner.archiveId, winner.index), modId, given, mends);
}
