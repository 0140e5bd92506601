import { afterAll, describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { isAllowed, rootsIn } from './allowed-roots';

const root = fs.realpathSync(fs.mkdtempSync(path.join(os.tmpdir(), 'roots-')));
afterAll(() => fs.rmSync(root, { recursive: true }));

describe('folders that may be written to', () => {
  test('are those below the ones that are named, by their real paths', () => {
    fs.mkdirSync(path.join(root, 'real', 'in'), { recursive: true });
    fs.symlinkSync(path.join(root, 'real'), path.join(root, 'link'));
    const roots = rootsIn(`${path.join(root, 'link')}:${path.join(root, 'later')}:`);
    expect(roots).toEqual([path.join(root, 'real'), path.join(root, 'later')]);
    for (const inside of ['real/in', 'real/in/deep', 'later/x'])
      expect(isAllowed(path.join(root, inside), roots)).toBe(true);
    for (const outside of ['other', 'realm', 'laterx', '.'])
      expect(isAllowed(path.join(root, outside), roots)).toBe(false);
  });

  test('are all where none is named', () => {
    expect(isAllowed('/anywhere', rootsIn(''))).toBe(true);
  });
});
