import fs from 'node:fs';
import path from 'node:path';
import { isInside } from '@/platform/node/inside';
import { isOfSystem } from '@/platform/node/system-folders';
import { storageRoot } from '../storage/storage';
import { UserError } from '@/platform/user-error';

const realOf = (folder: string): string =>
  fs.existsSync(folder) ? fs.realpathSync(folder) : path.resolve(folder);

/** The application's own folders: its data with the database, and its source. */
const ownFolders = (): string[] => [path.dirname(storageRoot()), process.cwd()].map(realOf);

/** What lies among them and is the user's: the demo games, and what was taken out of games when no other folder was given. */
const usersFolders = (): string[] =>
  [process.env.ZERO_LATCH_DEMO ?? '', path.join(path.dirname(storageRoot()), 'extracted')]
    .filter(Boolean)
    .map(realOf);

/**
 * Refuses a folder, as its real path, that is the system's, a whole drive, or the application's own: none is a game, and nothing is to be
 * written there. Throws UserError 403.
 */
export function refuseForeign(real: string): void {
  if (isOfSystem(real))
    throw new UserError(
      403,
      `${real} ${real === path.parse(real).root ? 'is a whole drive' : 'belongs to the system'}. Choose a folder of your own.`,
    );
  const own = ownFolders().find((folder) => isInside(folder, real));
  if (own !== undefined && !usersFolders().some((folder) => isInside(folder, real)))
    throw new UserError(403, `${real} is where the application keeps its own files. Choose another place.`);
}
