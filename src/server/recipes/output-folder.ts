import fs from 'node:fs';
import path from 'node:path';
import { portablePath } from '@/core/archive';
import { isAllowed, rootsIn } from '@/platform/node/allowed-roots';
import { isInside } from '@/platform/node/inside';
import { makeFolders } from '@/platform/node/make-folders';
import { refuseForeign } from '../installing/foreign-folders';
import { findGame, listGames } from '../games/games';
import { storageRoot } from '../storage/storage';
import { UserError } from '@/platform/user-error';

/** Folders that extractions may write below, where whoever runs the application has said so; else any that is not refused. */
const allowedRoots = (): string[] => rootsIn(process.env.ZERO_LATCH_OUTPUTS ?? '');

/** The folder for an extraction: below an allowed one, and neither in a registered game nor among the application's own files. */
export async function checkOutputFolder(folder: string): Promise<string> {
  if (!path.isAbsolute(folder)) throw new UserError(400, 'Give the whole path of the folder to write to.');
  const parent = path.dirname(path.resolve(folder));
  const stat = fs.statSync(parent, { throwIfNoEntry: false });
  if (!stat?.isDirectory())
    throw new UserError(400, `${parent} is not there. Make it first, or choose another place.`);
  const standing = fs.statSync(path.resolve(folder), { throwIfNoEntry: false });
  if (standing && !standing.isDirectory())
    throw new UserError(409, `${folder} is a file. Choose a folder, or another name for a new one.`);
  const beside = path.join(fs.realpathSync(parent), path.basename(folder));
  // A link that stands there already counts for what it leads to.
  const real = fs.existsSync(beside) ? fs.realpathSync(beside) : beside;
  const allowed = allowedRoots();
  if (!isAllowed(real, allowed))
    throw new UserError(
      403,
      `${real} is not below a folder that may be written to: ${allowed.join(', ')}. Choose a place there, or have ZERO_LATCH_OUTPUTS changed.`,
    );
  refuseForeign(real);
  for (const game of await listGames())
    if (isInside(game.folder, real))
      throw new UserError(
        409,
        `${real} lies in the folder of ${game.title}. Only the installer writes there; choose a place outside of it.`,
      );
  refuseReadOnly(real);
  return real;
}

/** A folder that is there but may not be written is told as that, before a run has begun. */
function refuseReadOnly(real: string): void {
  const nearest = fs.existsSync(real) ? real : path.dirname(real);
  try {
    fs.accessSync(nearest, fs.constants.W_OK | fs.constants.X_OK);
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    const why =
      code === 'EROFS'
        ? 'lies on a drive that can only be read'
        : 'may not be written by the user who runs the application';
    throw new UserError(403, `${nearest} ${why}. Choose another place, or change who may write there.`);
  }
}

/** Where what is taken out of a game goes when nothing else is said: below the first allowed folder, else beside the application's data. */
export async function defaultFolder(gameId: number): Promise<string> {
  const { title } = await findGame(gameId);
  const root = allowedRoots()[0] ?? path.join(path.dirname(storageRoot()), 'extracted');
  makeFolders(root);
  return path.join(root, portablePath(title.replace(/[/\\]/g, '_')));
}
