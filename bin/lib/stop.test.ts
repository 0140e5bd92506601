import { afterAll, expect, test } from '@jest/globals';
import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';

const data = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-stop-'));
afterAll(() => fs.rmSync(data, { recursive: true, force: true }));
/** The database of root lies elsewhere, under a name that follows from the folder. */
const marks = [data, createHash('sha256').update(data).digest('hex').slice(0, 12)];

/** Processes that were told of the data folder, or hold it. */
function leftOver(): string[] {
  return fs
    .readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name) && name !== String(process.pid))
    .flatMap((pid) => {
      try {
        const told = ['cmdline', 'environ'].map((file) => fs.readFileSync(`/proc/${pid}/${file}`, 'latin1'));
        return marks.some((mark) => told.join('\0').includes(mark)) ? [told[0]!.replaceAll('\0', ' ')] : [];
      } catch {
        return [];
      }
    });
}

/** Starts the application with data of its own, and tells it to stop when it says a word. */
function stoppedAt(word: string, signal: NodeJS.Signals): Promise<number | null> {
  const child = spawn(process.execPath, ['bin/lib/start.mjs'], {
    env: { ...process.env, ZERO_LATCH_DATA: data, PORT: '4900' },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let said = '';
  return new Promise((resolve, reject) => {
    child.stderr.on('data', (piece: Buffer) => {
      const before = said.includes(word);
      said += piece.toString();
      if (!before && said.includes(word)) child.kill(signal);
    });
    child.once('error', reject);
    child.once('close', (code) => (said.includes(word) ? resolve(code) : reject(new Error(said))));
  });
}

test.each(['SIGINT', 'SIGTERM'] as const)(
  'a start that is ended by %s while it builds leaves nothing running',
  async (signal) => {
    fs.rmSync(path.join(data, 'demo'), { recursive: true, force: true });
    expect(await stoppedAt('Building the demo game', signal)).toBe(0);
    expect(leftOver()).toEqual([]);
  },
  120_000,
);
