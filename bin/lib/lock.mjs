// One data folder, one application: held by a process of flock(1), which ends with whoever holds it, however that ends.
import { spawn } from 'node:child_process';
import path from 'node:path';

/** What flock says when somebody else holds the lock. */
const TAKEN = 75;

/** Takes the lock of a data folder; undefined where another start has it. `release` gives it back. */
export function takeLock(data) {
  return new Promise((resolve, reject) => {
    const child = spawn(
      'flock',
      ['-n', '-E', String(TAKEN), path.join(data, 'lock'), 'sh', '-c', 'echo held; exec cat'],
      // A group of its own: a Ctrl-C must not free the data while the database still writes.
      { stdio: ['pipe', 'pipe', 'inherit'], detached: true },
    );
    child.once('error', reject);
    child.stdout.once('data', () => {
      child.removeAllListeners('exit');
      child.unref();
      child.stdin.unref?.();
      child.stdout.unref?.();
      resolve({ release: () => child.stdin.end() });
    });
    child.once('exit', (code) =>
      code === TAKEN
        ? resolve(undefined)
        : reject(new Error(`The lock of ${data} could not be taken (flock: ${code}).`)),
    );
  });
}
