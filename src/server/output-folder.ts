import fs from 'node:fs';
import path from 'node:path';
import { portablePath } from '@/core/archive';
import { isAllowed, rootsIn } from '@/platform/node/allowed-roots';
import { isInside } from '@/platform/node/inside';
import { findGame, listGames } from './games';
import { storageRoot } from './storage';
import { UserError } from './user-error';

/** Folders that extractions may write below, where whoever runs the application has said so; else any that is not refused. */
const allowedRoots = (): string[] => rootsIn(process.env.ZERO_LATCH_OUTPUTS ?? '');

/** The folder for an extraction: below an allowed one, and neither in a registered game nor among the application's own files. */
export async function checkOutputFolder(folder: string): Promise<string> {
  if (!path.isAbsolute(folder)) throw new UserError(400, 'Give the whole path of the folder to write to.');
  const parent = path.dirname(path.resolve(folder));
  const stat = fs.statSync(parent, { throwIfNoEntry: false });
  if (!stat?.isDirectory())
    throw new UserError(400, `${parent} is not there. Make it first, or choose another place.`);
  const beside = path.join(fs.realpathSync(parent), path.basename(folder));
  // A link that stands there already counts for what it leads to.
  const real = fs.existsSync(beside) ? fs.realpathSync(beside) : beside;
  const allowed = allowedRoots();
  if (!isAllowed(real, allowed))
    throw new UserError(
      403,
      `${real} is not below a folder that may be written to: ${allowed.join(', ')}. Choose a place there, or have ZERO_LATCH_OUTPUTS changed.`,
    );
  if (isInside(fs.realpathSync(storageRoot()), real))
    throw new UserError(409, `${real} is where the application keeps its own files. Choose another place.`);
  for (const game of await listGames())
    if (isInside(game.folder, real))
      throw new UserError(
        409,
        `${real} lies in the folder of ${game.title}. Only the installer writes there; choose a place outside of it.`,
      );
  return real;
}

/** Where what is taken out of a game goes when nothing else is said: below the first allowed folder, else beside the application's data. */
export async function defaultFolder(gameId: number): Promise<string> {
  const { title } = await findGame(gameId);
  const root = allowedRoots()[0] ?? path.join(path.dirname(storageRoot()), 'extracted');
  fs.mkdirSync(root, { recursive: true });
  return path.join(root, portablePath(title.replace(/[/\\]/g, '_')));
}
