import fs from 'node:fs';
import path from 'node:path';

/**
 * Makes a folder and those above it that are missing, one after the other: Node 20 goes round for ever in some folders of the system
 * when it is told to make many at once. Gives those that were made, from the outermost on.
 *
 * `isAllowed` is asked with the real path of the nearest folder that is there, before anything is made below it. Throws the error of the
 * system where one cannot be made, ENOTDIR where a file stands in the way, ENOENT where it is taken away meanwhile.
 */
export function makeFolders(
  folder: string,
  isAllowed: (real: string) => boolean = () => true,
  refuse: () => never = () => {
    throw new Error(`${folder} may not be made`);
  },
): readonly string[] {
  const missing: string[] = [];
  let at = path.resolve(folder);
  while (!fs.lstatSync(at, { throwIfNoEntry: false })) {
    missing.unshift(at);
    at = path.dirname(at);
  }
  if (!isAllowed(fs.realpathSync(at))) refuse();
  for (const one of missing)
    try {
      fs.mkdirSync(one);
    } catch (error) {
      // Somebody else makes the same.
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
    }
  const made = fs.statSync(folder, { throwIfNoEntry: false });
  // Somebody took it away meanwhile.
  if (!made)
    throw Object.assign(new Error(`ENOENT: ${folder} is not there any more`), {
      code: 'ENOENT',
      path: folder,
    });
  if (!made.isDirectory())
    throw Object.assign(new Error(`ENOTDIR: ${at} is not a folder`), { code: 'ENOTDIR', path: at });
  return missing;
}
