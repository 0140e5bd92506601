import { afterAll, describe, expect, test } from '@jest/globals';
import { spawn, type ChildProcess } from 'node:child_process';
import fs from 'node:fs';
import http from 'node:http';
import os from 'node:os';
import path from 'node:path';

interface Lock {
  release(): void;
}
const { takeLock } = (await import('./lock.mjs' as string)) as {
  takeLock(data: string): Promise<Lock | undefined>;
};
const { noteParts, endOrphans } = (await import('./orphans.mjs' as string)) as {
  noteParts(data: string, pids: readonly number[]): void;
  endOrphans(data: string): number;
};
const { watchAnswers, watchPart } = (await import('./watch.mjs' as string)) as {
  watchAnswers(how: {
    address: string;
    restartWeb(): void;
    say(text: string): void;
    isStopping(): boolean;
    lookMs: number;
    silentMs: number;
  }): () => void;
  watchPart(
    name: string,
    first: ChildProcess,
    launch: () => ChildProcess,
    how: { say(text: string): void; isStopping(): boolean },
  ): void;
};
const { enter } = (await import('./enter.mjs' as string)) as {
  enter(printed: string): Promise<{ address: string; headers: Record<string, string> }>;
};

const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-watch-'));
const started: ChildProcess[] = [];
afterAll(() => {
  for (const one of started) one.kill('SIGKILL');
  fs.rmSync(folder, { recursive: true, force: true });
});
const data = (name: string): string => {
  const at = path.join(folder, name);
  fs.mkdirSync(at, { recursive: true });
  return at;
};
/** A process that does nothing until it is ended. */
function sleeper(): ChildProcess {
  const child = spawn(process.execPath, ['-e', 'setInterval(() => undefined, 1000)'], {
    stdio: 'ignore',
    detached: true,
  });
  started.push(child);
  return child;
}
const isAlive = (pid: number): boolean => {
  try {
    process.kill(pid, 0);
    // One that has ended but was not asked for yet is there in name only.
    return !/^State:\s+Z/m.test(fs.readFileSync(`/proc/${pid}/status`, 'utf8'));
  } catch {
    return false;
  }
};
async function until(what: () => boolean): Promise<void> {
  while (!what()) await new Promise((resolve) => setTimeout(resolve, 20));
}

describe('one data folder, one application', () => {
  test('of several who take the lock at once one has it, and the next once it is given back', async () => {
    const at = data('lock');
    const taken = await Promise.all(Array.from({ length: 5 }, () => takeLock(at)));
    expect(taken.filter(Boolean)).toHaveLength(1);
    expect(await takeLock(data('another'))).toBeDefined();
    taken.find(Boolean)!.release();
    let again: Lock | undefined;
    await until(() => {
      void takeLock(at).then((lock) => (again ??= lock));
      return again !== undefined;
    });
    again!.release();
  });

  test('a start that is killed leaves no lock', async () => {
    const at = data('killed');
    const code = `import('${path.resolve('bin/lib/lock.mjs')}').then(({ takeLock }) => takeLock(${JSON.stringify(at)})).then(() => { console.log('has it'); setInterval(() => {}, 1000); });`;
    const child = spawn(process.execPath, ['-e', code], { stdio: ['ignore', 'pipe', 'inherit'] });
    started.push(child);
    await new Promise((resolve) => child.stdout.once('data', resolve));
    expect(await takeLock(at)).toBeUndefined();
    child.kill('SIGKILL');
    let lock: Lock | undefined;
    await until(() => {
      void takeLock(at).then((one) => (lock ??= one));
      return lock !== undefined;
    });
    lock!.release();
  });
});

test('what a killed start left running is ended, and a process that has its number now is not', async () => {
  const at = data('orphans');
  const [left, other] = [sleeper(), sleeper()];
  noteParts(at, [left.pid!, other.pid!]);
  const file = path.join(at, 'parts.json');
  const parts = JSON.parse(fs.readFileSync(file, 'utf8')) as { pid: number; begun: string }[];
  // As if the second had ended and another had come by its number since.
  parts[1]!.begun = '1';
  fs.writeFileSync(file, JSON.stringify(parts));
  expect(endOrphans(at)).toBe(1);
  await until(() => !isAlive(left.pid!));
  expect(isAlive(other.pid!)).toBe(true);
  expect(endOrphans(at)).toBe(0);
});

test('a part that ends is started again, and it is said', async () => {
  const said: string[] = [];
  let isStopping = false;
  const launched: ChildProcess[] = [];
  const launch = (): ChildProcess => {
    const child = sleeper();
    launched.push(child);
    return child;
  };
  watchPart('worker', launch(), launch, { say: (text) => said.push(text), isStopping: () => isStopping });
  for (let i = 0; i < 2; i++) {
    launched[i]!.kill('SIGKILL');
    await until(() => launched.length === i + 2);
  }
  expect(said.filter((text) => text.includes('The worker ended (SIGKILL)'))).toHaveLength(2);
  expect(said.filter((text) => text.includes('was started again')).length).toBeGreaterThanOrEqual(1);
  isStopping = true;
  const ended = new Promise((resolve) => launched[2]!.once('exit', resolve));
  launched[2]!.kill('SIGKILL');
  await ended;
  expect(launched).toHaveLength(3);
}, 30_000);

test('a server that listens and says nothing is ended, and one that answers is let be', async () => {
  const code = `require('http').createServer((_, out) => out.end()).listen(0, '127.0.0.1', function () { console.log(this.address().port); });`;
  const child = spawn(process.execPath, ['-e', code], { stdio: ['ignore', 'pipe', 'inherit'] });
  started.push(child);
  const port = await new Promise<string>((resolve) =>
    child.stdout.once('data', (text) => resolve(String(text).trim())),
  );
  const said: string[] = [];
  let restarts = 0;
  let looks = 0;
  const isStopping = (): boolean => (looks++, false);
  const stop = watchAnswers({
    address: `http://127.0.0.1:${port}`,
    restartWeb: () => restarts++,
    say: (text) => said.push(text),
    isStopping,
    lookMs: 10,
    silentMs: 400,
  });
  // While it answers, what is asked at the end of each look is all that happens.
  await until(() => looks > 20);
  expect(restarts).toBe(0);
  child.kill('SIGSTOP');
  await until(() => restarts > 0);
  stop();
  expect(said).toEqual(['The server has not answered for 0.4 s. It is ended and started again.']);
}, 30_000);

test('commands are let in by the printed address, and told when it is of an earlier start', async () => {
  const server = http.createServer((request, response) => {
    if (request.url === '/?enter=right') response.setHeader('set-cookie', 'zero-latch-1=right; HttpOnly');
    response.statusCode = request.url === '/?enter=right' ? 303 : 401;
    response.end();
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const { port } = server.address() as { port: number };
  try {
    const address = `http://127.0.0.1:${port}`;
    expect(await enter(`${address}/?enter=right`)).toEqual({
      address,
      headers: { origin: address, cookie: 'zero-latch-1=right' },
    });
    await expect(enter(`${address}/?enter=old`)).rejects.toThrow(
      'does not let anybody in with this address (401)',
    );
  } finally {
    server.close();
  }
});
