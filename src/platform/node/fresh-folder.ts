import fs from 'node:fs';
import path from 'node:path';
import { isAlive } from './temporary';

/**
 * A folder that is filled under another name and takes its own by one rename, so that no file in it needs a rename of its own and still
 * no half file bears a final name.
 */
export interface FreshFolder {
  /** Where the files are written, under their own names. */
  readonly root: string;
  /** Gives what is there its name, also after a failure: what was written whole is kept. */
  place(): void;
}

const PREFIX = '.zero-latch-fresh-';

/**
 * Begins to fill a folder that is not there yet, or is empty; undefined where it holds anything, and each file has to find its own
 * place. What a killed run has left of the same folder is removed.
 */
export function freshFolder(folder: string): FreshFolder | undefined {
  const target = path.resolve(folder);
  const stat = fs.lstatSync(target, { throwIfNoEntry: false });
  if (stat && (!stat.isDirectory() || fs.readdirSync(target).some((name) => !name.startsWith(PREFIX))))
    return undefined;
  const around = stat ? target : path.dirname(target);
  sweep(around);
  const root = fs.mkdtempSync(path.join(around, `${PREFIX}${process.pid}-`));
  // As a folder is made otherwise; one of a moment is for its owner alone.
  fs.chmodSync(root, 0o777 & ~process.umask());
  return { root, place: () => (stat ? placeWithin(root, target) : placeWhole(root, target)) };
}

function placeWhole(root: string, target: string): void {
  try {
    fs.renameSync(root, target);
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    // Somebody has made the folder meanwhile.
    if (code !== 'ENOTEMPTY' && code !== 'EEXIST' && code !== 'ENOTDIR') throw error;
    placeWithin(root, target);
  }
}

/** Moves what lies on the top level; what somebody has put there meanwhile is never written over. */
function placeWithin(root: string, target: string): void {
  for (const name of fs.readdirSync(root)) {
    const place = path.join(target, name);
    if (fs.lstatSync(place, { throwIfNoEntry: false }))
      throw Object.assign(
        new Error(
          `${place} was made by something else while this was written; what was to be there lies in ${root}`,
        ),
        { code: 'EEXIST' },
      );
    fs.renameSync(path.join(root, name), place);
  }
  fs.rmdirSync(root);
}

/** Removes folders of runs that have ended without placing them. */
function sweep(around: string): void {
  for (const name of fs.readdirSync(around)) {
    const pid = new RegExp(`^\\${PREFIX}(\\d+)-`).exec(name)?.[1];
    if (pid === undefined || isAlive(Number(pid))) continue;
    fs.rmSync(path.join(around, name), { recursive: true, force: true });
  }
}
