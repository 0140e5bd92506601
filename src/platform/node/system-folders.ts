import os from 'node:os';
import path from 'node:path';
import { isInside } from './inside';

/** Folders of the system, in which no game lies and nothing of a user's belongs. */
const SYSTEM = [
  ...['/proc', '/sys', '/dev', '/boot', '/etc', '/run', '/lost+found', '/bin', '/sbin', '/usr'],
  ...['/lib', '/lib32', '/lib64', '/libx32', '/var/lib', '/var/log', '/var/spool', '/var/cache', '/var/run'],
];
/** Among them, those in which games are kept, or drives are mounted. */
const EXCEPT = [
  '/run/media',
  '/usr/local/games',
  '/usr/local/share',
  '/usr/games',
  '/usr/share/games',
  '/dev/shm',
];

/** Whether a folder, as its real path, is one of the system's or a whole drive. */
export const isOfSystem = (real: string): boolean =>
  real === path.parse(real).root ||
  (SYSTEM.some((one) => isInside(one, real)) && !EXCEPT.some((one) => isInside(one, real) && one !== real));

/** Whether a folder, as its real path, is somebody's whole home, or one that holds the homes of all. */
export const isHome = (real: string): boolean =>
  real === os.homedir() ||
  ['/root', '/home', '/Users'].includes(real) ||
  /^\/(home|Users)\/[^/]+$/.test(real);
