import { describe, expect, test } from '@jest/globals';
import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { WrittenFolder } from './written-folder';

const COUNT = 400;
/** The content of a file of the run, different for each, some longer than a piece. */
const content = (number: number): Buffer =>
  Buffer.alloc(200 + ((number * 7919) % 60_000), `entry ${number} `);

/** A run as the worker does it: what is ours already is left alone. Told here, since it runs in a process that is killed. */
const RUN = `
const { WrittenFolder } = await import('./src/platform/node/written-folder.ts');
const { FolderWriter } = await import('./src/platform/node/folder-writer.ts');
const [folder] = process.argv.slice(1);
const out = new WrittenFolder(folder);
const writer = new FolderWriter(out.root, 'of-' + process.pid);
for (let n = 0; n < ${COUNT}; n++) {
  const file = 'd' + (n % 7) + '/f' + n + '.bin';
  const { standing, seen } = out.standing(file);
  if (standing === 'ours') continue;
  const body = Buffer.alloc(200 + ((n * 7919) % 60000), 'entry ' + n + ' ');
  const content = { length: body.length, *chunks() { for (let at = 0; at < body.length; at += 9000) yield body.subarray(at, at + 9000); } };
  const about = { by: '1:1', path: file, archive: 'a', source: '', stated: '', stored: '', settings: 'stored' };
  writer.write({ file, content, about, modified: undefined, seen, old: undefined }, (what) => {
    if (what !== 'written') throw new Error(file + ' ' + what);
  });
  if (n === 40) process.stdout.write('begun');
}
writer.settle();
writer.close();
out.close();
process.stdout.write('done');
`;

/** Runs it and kills it some milliseconds after its first files; true where it came to its end. */
function run(folder: string, killAfter: number | undefined): Promise<boolean> {
  const child = spawn(process.execPath, ['--import', 'tsx', '--input-type=module', '-e', RUN, folder], {
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  let said = '';
  child.stdout.on('data', (text: Buffer) => {
    const isFirst = said === '';
    said += String(text);
    if (isFirst && killAfter !== undefined) setTimeout(() => child.kill('SIGKILL'), killAfter);
  });
  return new Promise((resolve) => child.on('exit', () => resolve(said.endsWith('done'))));
}

describe('a run that is killed', () => {
  test('leaves no half file, and goes on to the same result', async () => {
    const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'killed-'));
    try {
      for (const moment of [0, 2, 5, 11, 27]) {
        await run(folder, moment);
        for (const entry of fs.readdirSync(folder, { recursive: true, withFileTypes: true })) {
          const number = Number(/^f(\d+)\.bin$/.exec(entry.name)?.[1] ?? -1);
          // Every file under its name is whole; parts bear another one.
          if (number >= 0)
            expect(fs.readFileSync(path.join(entry.parentPath, entry.name)).equals(content(number))).toBe(
              true,
            );
        }
      }
      expect(await run(folder, undefined)).toBe(true);
      const hash = createHash('sha256');
      for (let n = 0; n < COUNT; n++)
        hash.update(fs.readFileSync(path.join(folder, `d${n % 7}`, `f${n}.bin`)));
      const wanted = createHash('sha256');
      for (let n = 0; n < COUNT; n++) wanted.update(content(n));
      expect(hash.digest('hex')).toBe(wanted.digest('hex'));
      const parts = fs
        .readdirSync(folder, { recursive: true })
        .filter((name) => String(name).endsWith('-part'));
      expect(parts).toEqual([]);
      const out = new WrittenFolder(folder);
      expect(out.known.size).toBe(COUNT);
      out.close();
    } finally {
      fs.rmSync(folder, { recursive: true });
    }
  }, 60_000);
});
