import { afterAll, describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { logText, readLogText, summaryOf } from '@/platform/node/run-log';
import { markFolder, stateOfFile, unmarkFolder, unseenOf, type BatchBody } from './batch';

const root = fs.mkdtempSync(path.join(os.tmpdir(), 'seen-'));
afterAll(() => fs.rmSync(root, { recursive: true }));

describe('what a worker sees', () => {
  const body: BatchBody = {
    ...{ gameId: 1, archiveId: 1, gameFolder: path.join(root, 'game'), root: path.join(root, 'out') },
    ...{ state: '', by: '1:1', archive: 'a', isLoose: false, tasks: [] },
  };

  test('a game folder and an output folder that are those of the run', () => {
    expect(unseenOf(body, 'a job')).toContain(`${body.gameFolder} is not there`);
    fs.mkdirSync(body.gameFolder);
    expect(unseenOf(body, 'a job')).toContain(body.root);
    fs.mkdirSync(body.root);
    // A folder of this name that is another one.
    expect(unseenOf(body, 'a job')).toContain('not the folder that the run writes to');
    markFolder(body.root, 'a job');
    expect(unseenOf(body, 'a job')).toBeUndefined();
    expect(unseenOf(body, 'another')).toContain(body.root);
    unmarkFolder(body.root);
    expect(unseenOf(body, 'a job')).toContain(body.root);
  });

  test('the state of a file changes with it, and nothing outside is asked for', () => {
    const file = path.join(body.gameFolder, 'a.bin');
    expect(stateOfFile(body.gameFolder, 'a.bin')).toBe('gone');
    fs.writeFileSync(file, 'abc');
    fs.utimesSync(file, 5, 5);
    expect(stateOfFile(body.gameFolder, 'a.bin')).toBe('3 5000');
    fs.appendFileSync(file, 'd');
    fs.utimesSync(file, 5, 5);
    expect(stateOfFile(body.gameFolder, 'a.bin')).toBe('4 5000');
    expect(() => stateOfFile(body.gameFolder, '../out')).toThrow();
  });
});

test('a log is read as it was written, whatever is in the names', () => {
  const items = ['a\tb', 'line\nend', 'ねこ/Ünïcode', '', '"quoted"'].map((name, i) => ({
    ...{ state: i % 2 ? 'failed' : 'written', path: name, archive: 'h', file: name, reason: `why ${i}` },
  })) as Parameters<typeof logText>[0] extends Iterable<infer T> ? T[] : never;
  const back = readLogText([...logText(items)].join(''));
  expect(back.map(({ path: name }) => name)).toEqual(['a b', 'line end', 'ねこ/Ünïcode', '', '"quoted"']);
  expect(back.map(({ state, reason }) => `${state} ${reason}`)).toEqual(
    items.map(({ state, reason }) => `${state} ${reason}`),
  );
  expect(readLogText('state\tpath\nnonsense\n\n')).toEqual([]);
  expect(summaryOf({ written: 1, skipped: 2, kept: 0, failed: 3, missing: 0 })).toBe(
    '1 written, 2 as they were, 3 failed.',
  );
});
