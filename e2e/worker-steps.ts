import { spawn, type ChildProcess } from 'node:child_process';
import path from 'node:path';
import { expect, type Server } from './fixtures';

export interface Worker {
  readonly id: string;
  readonly title: string;
  readonly batches: number;
  readonly blind: readonly string[];
}
export const listWorkers = async (server: Server): Promise<Worker[]> =>
  (await (await server.api.get('/api/workers')).json()) as Worker[];
export const pidOf = ({ title }: Worker): number => Number(/process (\d+)$/.exec(title)![1]);

/** Another worker of the application that is tested; `within` runs it inside another command. */
export async function addWorker(server: Server, within: readonly string[] = []): Promise<ChildProcess> {
  const known = new Set((await listWorkers(server)).map(({ id }) => id));
  const command = [...within, process.execPath, path.join(process.env.ZERO_LATCH_THREADS!, 'worker.mjs')];
  const child = spawn(command[0]!, command.slice(1), { stdio: 'ignore', detached: true });
  await expect
    .poll(async () => (await listWorkers(server)).filter(({ id }) => !known.has(id)).length, {
      timeout: 60_000,
    })
    .toBe(1);
  return child;
}

/** Ends it as a power cut would, with all that it has started. */
export async function kill(child: ChildProcess): Promise<void> {
  const ended = new Promise((resolve) => child.once('exit', resolve));
  process.kill(-child.pid!, 'SIGKILL');
  await ended;
}
