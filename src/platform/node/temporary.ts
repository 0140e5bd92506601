import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';

const PREFIX = 'zero-latch-work-';

/** A folder for files of a moment, whose name says which process it belongs to. Whoever makes it removes it. */
export const makeTemporary = (): string => fs.mkdtempSync(path.join(os.tmpdir(), `${PREFIX}${process.pid}-`));

/** Removes what processes have left that were killed; asked at each start. Gives how many folders there were. */
export function sweepTemporary(): number {
  let count = 0;
  for (const name of fs.readdirSync(os.tmpdir())) {
    const pid = new RegExp(`^${PREFIX}(\\d+)-`).exec(name)?.[1];
    const folder = path.join(os.tmpdir(), name);
    if (pid === undefined || isAlive(Number(pid)) || !isOurs(folder)) continue;
    try {
      fs.rmSync(folder, { recursive: true, force: true });
      count++;
    } catch {
      // Somebody else sweeps, too.
    }
  }
  return count;
}

/** Whether a process of this number runs, whoever's it is. */
export function isAlive(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
}

/** Only a folder of this user's, never what a link of such a name leads to. */
function isOurs(folder: string): boolean {
  const stat = fs.lstatSync(folder, { throwIfNoEntry: false });
  return stat?.isDirectory() === true && stat.uid === (process.getuid?.() ?? stat.uid);
}
