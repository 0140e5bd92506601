import { afterAll, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { freshFolder } from './fresh-folder';

const root = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-fresh-'));
afterAll(() => fs.rmSync(root, { recursive: true, force: true }));
const at = (...names: string[]): string => path.join(root, ...names);

test('a folder that is not there takes its name at once, with the rights of any other', () => {
  const fresh = freshFolder(at('new'))!;
  fs.writeFileSync(path.join(fresh.root, 'a'), 'a');
  expect(fs.existsSync(at('new'))).toBe(false);
  fresh.place();
  fs.mkdirSync(at('other'));
  expect(fs.readdirSync(at('new'))).toEqual(['a']);
  expect(fs.statSync(at('new')).mode).toBe(fs.statSync(at('other')).mode);
});

test('an empty one stays the same folder', () => {
  fs.mkdirSync(at('empty'));
  const { ino } = fs.statSync(at('empty'));
  const fresh = freshFolder(at('empty'))!;
  fs.mkdirSync(path.join(fresh.root, 'inner'));
  fresh.place();
  expect(fs.readdirSync(at('empty'))).toEqual(['inner']);
  expect(fs.statSync(at('empty')).ino).toBe(ino);
});

test('where anything lies already, or a file or a link has the name, each file finds its own place', () => {
  fs.writeFileSync(at('file'), '');
  fs.symlinkSync(at('new'), at('link'));
  for (const name of ['new', 'file', 'link']) expect(freshFolder(at(name))).toBeUndefined();
});

test('what somebody makes meanwhile is never written over', () => {
  const fresh = freshFolder(at('raced'))!;
  for (const name of ['a', 'b']) fs.writeFileSync(path.join(fresh.root, name), 'ours');
  fs.mkdirSync(at('raced'));
  fs.writeFileSync(at('raced/b'), 'theirs');
  expect(() => fresh.place()).toThrow('was made by something else');
  expect(fs.readFileSync(at('raced/b'), 'utf8')).toBe('theirs');
  expect(fs.readFileSync(path.join(fresh.root, 'b'), 'utf8')).toBe('ours');
});

test('what a killed run has left goes with the next one', () => {
  const { pid } = spawnSync(process.execPath, ['-e', '']);
  fs.mkdirSync(at(`.zero-latch-fresh-${pid}-abc`, 'half'), { recursive: true });
  const fresh = freshFolder(at('again'))!;
  expect(fs.existsSync(at(`.zero-latch-fresh-${pid}-abc`))).toBe(false);
  fresh.place();
  expect(fs.readdirSync(at('again'))).toEqual([]);
});
