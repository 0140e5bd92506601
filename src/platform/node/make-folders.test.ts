import { afterAll, describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { makeFolders } from './make-folders';
import { SafeFolders } from './safe-folders';
import { isHome, isOfSystem } from './system-folders';

const root = fs.realpathSync(fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-folders-')));
afterAll(() => fs.rmSync(root, { recursive: true, force: true }));
const at = (...names: string[]): string => path.join(root, ...names);

describe('making folders', () => {
  test('makes those that are missing and says which', () => {
    expect(makeFolders(at('a/b/c'))).toEqual([at('a'), at('a/b'), at('a/b/c')]);
    expect(makeFolders(at('a/b/c'))).toEqual([]);
    expect(makeFolders(at('a/b/d'))).toEqual([at('a/b/d')]);
  });

  test('comes to an end in folders of the system', () => {
    for (const folder of ['/proc/zero/latch', '/proc/self/nothing/here', '/sys/zero/latch'])
      expect(() => makeFolders(folder)).toThrow();
  });

  test('a file in the way, and a link that leads nowhere, are told', () => {
    fs.writeFileSync(at('file'), '');
    fs.symlinkSync(at('nowhere'), at('dangling'));
    for (const folder of [at('file'), at('file/below'), at('dangling'), at('dangling/below')])
      expect(() => makeFolders(folder)).toThrow(/ENOTDIR|EEXIST|ENOENT/);
    expect(fs.existsSync(at('nowhere'))).toBe(false);
  });

  test('no folder is made through a link that leads out, not even an empty one', () => {
    fs.mkdirSync(at('out'));
    fs.mkdirSync(at('within'));
    fs.symlinkSync(at('out'), at('within/link'));
    const folders = new SafeFolders(at('within'));
    expect(() => folders.make(at('within/link/new/deep'))).toThrow('a link in the target leads out of it');
    expect(() => folders.make(at('within/link'))).toThrow('a link in the target leads out of it');
    expect(fs.readdirSync(at('out'))).toEqual([]);
    folders.make(at('within/fine/deep'));
    expect(fs.statSync(at('within/fine/deep')).isDirectory()).toBe(true);
  });
});

describe('folders that are no game', () => {
  test.each(['/', '/etc', '/proc/1', '/usr/bin', '/usr/share/games', '/var/lib/x', '/run', '/dev/shm'])(
    '%s is the system’s',
    (folder) => expect(isOfSystem(folder)).toBe(true),
  );
  test.each([
    '/usr/share/games/one',
    '/run/media/me/disk',
    '/home/me/games',
    '/srv/etc',
    '/etcetera',
    '/mnt/x',
    '/var/games/x',
  ])('%s may be one', (folder) => expect(isOfSystem(folder)).toBe(false));
  test.each([os.homedir(), '/home', '/home/me', '/Users/me'])('%s is a home', (folder) =>
    expect(isHome(folder)).toBe(true),
  );
  test.each(['/home/me/games', '/homes/me', '/srv/home/me'])('%s is none', (folder) =>
    expect(isHome(folder)).toBe(false),
  );
});
