// Programs that are run to their end, and ended when the one who runs them is told to stop.
import { spawn } from 'node:child_process';

const running = new Set();
let isEnding = false;

/** Runs a program in a process group of its own and gives what it said. */
export function runChild(command, args, options = {}) {
  if (isEnding) return Promise.reject(new Error('Stopped.'));
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, { ...options, detached: true });
    running.add(child);
    const said = { stdout: '', stderr: '' };
    child.stdout?.on('data', (piece) => (said.stdout += piece));
    child.stderr?.on('data', (piece) => (said.stderr += piece));
    child.once('error', (error) => {
      running.delete(child);
      reject(error);
    });
    child.once('close', (status, signal) => {
      running.delete(child);
      if (isEnding) reject(new Error('Stopped.'));
      else resolve({ status, signal, ...said });
    });
  });
}

/** Lets programs be run again, after what was started whole was ended. */
export const allowChildren = () => void (isEnding = false);

/** Ends everything that runs, with all that it started, and begins nothing more. */
export async function endChildren() {
  isEnding = true;
  const ends = [...running].map(
    (child) =>
      new Promise((resolve) => {
        const kill = (signal) => {
          try {
            process.kill(-child.pid, signal);
          } catch {
            // It is gone already.
          }
        };
        const last = setTimeout(() => kill('SIGKILL'), 5000);
        child.once('close', () => {
          clearTimeout(last);
          // What it has left behind in its group goes too.
          kill('SIGKILL');
          resolve();
        });
        kill('SIGTERM');
      }),
  );
  await Promise.all(ends);
}
