import fs from 'node:fs';
import path from 'node:path';
import { isInside } from './inside';

/** Folders in a text, as PATH has them, as their real paths; those that are not there yet as they are written. */
export const rootsIn = (text: string): string[] =>
  text
    .split(path.delimiter)
    .filter((root) => root !== '')
    .map((root) => (fs.existsSync(root) ? fs.realpathSync(root) : path.resolve(root)));

/** Whether a folder, as its real path, may be written to: below one of the roots, or anywhere where there are none. */
export const isAllowed = (folder: string, roots: readonly string[]): boolean =>
  roots.length === 0 || roots.some((root) => isInside(root, folder));
