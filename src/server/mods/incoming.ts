import type { FitShown, Mend } from '@/core/fit';
import { matchFile } from '@/core/mod';
import { typeOfHead } from '@/core/kinds';
import { findStack, gameCatalogue } from '../entries/catalogue';
import { marksOf } from '../entries/marks';
import { labelsOf, readableNames } from '../entries/readable-names';
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

declare global {
  var zeroLatchLabels:
    { readonly stamp: string; readonly paths: ReadonlyMap<string, string | null> } | undefined;
}

/** Paths by what their user or an id table calls them, in small letters; null where several are called so. Those of the game that was asked for last are kept. */
async function pathsByLabel(gameId: number): Promise<ReadonlyMap<string, string | null>> {
  const game = await gameCatalogue(gameId);
  const [marks, names] = await Promise.all([marksOf(gameId), readableNames(gameId)]);
  const stamp = JSON.stringify([gameId, game?.stamp, marks.stamp, names.stamp]);
  if (globalThis.zeroLatchLabels?.stamp === stamp) return globalThis.zeroLatchLabels.paths;
  const paths = new Map<string, string | null>();
  const { catalogue } = game ?? {};
  for (let row = 0; row < (catalogue?.count ?? 0); row++) {
    if (catalogue!.wins[row] !== 1) continue;
    const path = catalogue!.path(row);
    const called = [marks.byPath.get(path)?.alias ?? '', ...labelsOf(names, path)];
    for (const label of new Set(called.map((one) => one.trim().toLowerCase())))
      if (label !== '') paths.set(label, paths.has(label) ? null : path);
  }
  globalThis.zeroLatchLabels = { stamp, paths };
  return paths;
}

/** How a file found its entry. */
export type FoundBy = 'name' | 'label' | 'look';

/**
 * The path of the entry that a file from outside is meant for: by its name, by what one entry alone below a folder is called, or for a picture
 * by what it looks like there.
 */
export async function meantByNameOrLook(
  gameId: number,
  folder: string,
  name: string,
  blob: string,
): Promise<{ path: string; by: FoundBy }> {
  try {
    return { path: await meantBy(gameId, `${folder}${name}`), by: 'name' };
  } catch (error) {
    if (!(error instanceof UserError) || error.status !== 404) throw error;
    const called = (await pathsByLabel(gameId)).get(
      name
        .replace(/\.[^.]*$/, '')
        .trim()
        .toLowerCase(),
    );
    if (called?.startsWith(folder)) return { path: called, by: 'label' };
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
