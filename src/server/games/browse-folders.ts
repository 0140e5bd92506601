import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { isAllowed, rootsIn } from '@/platform/node/allowed-roots';
import { makeFolders } from '@/platform/node/make-folders';
import { isOfSystem } from '@/platform/node/system-folders';
import { refuseForeign } from '../installing/foreign-folders';
import { listGames } from './games';
import { storageRoot } from '../storage/storage';
import { UserError } from '@/platform/user-error';

export interface FolderPlace {
  readonly title: string;
  readonly path: string;
}

/** A folder as the chooser shows it. */
export interface BrowsedFolder {
  readonly path: string;
  /** The folder above, where it may be looked at as well. */
  readonly parent: string | null;
  readonly folders: readonly { readonly name: string; readonly path: string }[];
  /** How many files lie in it, so that one can tell whether it is the right one. */
  readonly files: number;
  /** Whether there are more folders than are listed. */
  readonly isCut: boolean;
  /** Where to begin. */
  readonly places: readonly FolderPlace[];
}

const MOST_FOLDERS = 2000;
/** Of the system, but folders of users lie below. */
const LOOKED_THROUGH = ['/', '/run', '/run/media', '/usr', '/usr/local', '/usr/share', '/dev', '/dev/shm'];
const USUAL = ['/mnt', '/media', '/run/media', '/srv', '/opt', '/home', '/data', '/games', os.tmpdir()];

/** Folders below which one may look around, where whoever runs the application has said so. */
const allowed = (): string[] => rootsIn(process.env.ZERO_LATCH_FOLDERS ?? '');

const isFolder = (at: string): boolean => fs.statSync(at, { throwIfNoEntry: false })?.isDirectory() ?? false;

/** Looking around above a system folder is no harm; looking into one is no use. */
function refuseToLook(real: string): void {
  const roots = allowed();
  if (!isAllowed(real, roots))
    throw new UserError(403, `${real} is not below a folder that may be looked at: ${roots.join(', ')}.`);
  if (isOfSystem(real) && !LOOKED_THROUGH.includes(real))
    throw new UserError(403, `${real} belongs to the system. Choose a folder of your own.`);
}

async function placesToBegin(): Promise<FolderPlace[]> {
  const roots = allowed();
  if (roots.length > 0) return roots.map((root) => ({ title: path.basename(root) || root, path: root }));
  const home = os.homedir();
  const games = await listGames();
  const beside = [...new Set(games.map(({ folder }) => path.dirname(folder)))];
  const places = [
    { title: 'Home', path: home },
    ...beside.map((folder) => ({
      title: `Beside ${games.find((one) => path.dirname(one.folder) === folder)!.title}`,
      path: folder,
    })),
    { title: 'Extracted', path: path.join(path.dirname(storageRoot()), 'extracted') },
    ...USUAL.map((folder) => ({ title: folder, path: folder })),
  ];
  const known = new Set<string>();
  return places.filter((place) => {
    if (known.has(place.path) || !isFolder(place.path)) return false;
    known.add(place.path);
    return true;
  });
}

/** Lists the folders of one; without a path, of the first place. A path that is not there gives the nearest folder above it. */
export async function browseFolder(wanted: string | undefined): Promise<BrowsedFolder> {
  const places = await placesToBegin();
  let at = wanted && path.isAbsolute(wanted) ? path.resolve(wanted) : (places[0]?.path ?? '/');
  while (!isFolder(at) && path.dirname(at) !== at) at = path.dirname(at);
  const real = fs.realpathSync(at);
  refuseToLook(real);
  let items: fs.Dirent[];
  try {
    items = fs.readdirSync(real, { withFileTypes: true });
  } catch {
    throw new UserError(403, `${real} may not be read by this user.`);
  }
  const isListed = (item: fs.Dirent): boolean =>
    !item.name.startsWith('.') &&
    (item.isDirectory() || (item.isSymbolicLink() && isFolder(path.join(real, item.name))));
  const found = items
    .filter(isListed)
    .map(({ name }) => ({ name, path: path.join(real, name) }))
    .filter((one) => !isOfSystem(one.path) || LOOKED_THROUGH.includes(one.path))
    .sort((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }));
  const parent = path.dirname(real);
  return {
    path: real,
    parent: parent !== real && isAllowed(parent, allowed()) ? parent : null,
    folders: found.slice(0, MOST_FOLDERS),
    isCut: found.length > MOST_FOLDERS,
    files: items.filter((item) => item.isFile()).length,
    places,
  };
}

/** Makes a folder, with those above it that are missing, and gives its real path. */
export async function makeFolder(wanted: string): Promise<{ path: string }> {
  if (!path.isAbsolute(wanted)) throw new UserError(400, 'Give the whole path of the folder.');
  const target = path.resolve(wanted);
  let above = target;
  while (!fs.existsSync(above) && path.dirname(above) !== above) above = path.dirname(above);
  if (!isFolder(above))
    throw new UserError(409, `${above} is a file, so that no folder can be made below it.`);
  const real = path.join(fs.realpathSync(above), path.relative(above, target));
  refuseToLook(real);
  refuseForeign(real);
  for (const game of await listGames())
    if (real === game.folder || real.startsWith(`${game.folder}/`))
      throw new UserError(
        409,
        `${real} lies in the folder of ${game.title}. Only the installer writes there.`,
      );
  try {
    makeFolders(real);
  } catch (error) {
    throw new UserError(
      403,
      `${real} cannot be made (${(error as NodeJS.ErrnoException).code}). Choose another place.`,
    );
  }
  return { path: real };
}
