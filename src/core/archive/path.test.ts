import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { parseNameList, pathProblem, portablePath, shownName } from './index';

const anyPath = fc.string({
  unit: fc.constantFrom(...'ab/\\.: <>|?*"\u0000\u001f\u007fäö終~', 'con', 'nul.', 'aux'),
  maxLength: 30,
});

describe('paths', () => {
  test.each(['a', 'a/b.txt', 'a b/c', 'ä/終.txt', '.hidden', 'a..b/c', 'con/nul.txt'])(
    '%j may be used',
    (path) => {
      expect(pathProblem(path)).toBeUndefined();
    },
  );

  test.each([
    ['', 'empty'],
    ['/a', 'absolute'],
    ['c:/a', 'drive'],
    ['a\\b', 'backslash'],
    ['..', 'climbs'],
    ['a/../b', 'climbs'],
    ['a//b', 'empty step'],
    ['a/', 'empty step'],
    ['./a', 'empty step'],
    ['a\u0000', 'control'],
    ['x'.repeat(1025), 'longer'],
  ])('%j may not: %s', (path, why) => {
    expect(pathProblem(path)).toContain(why);
  });

  test.each([
    ['a/con.txt', 'a/_con.txt'],
    ['NUL', '_NUL'],
    ['com1', '_com1'],
    ['what?.txt', 'what_.txt'],
    ['dots...', 'dots___'],
    ['space ', 'space_'],
    ['fine/name.txt', 'fine/name.txt'],
  ])('%j is written as %j', (path, written) => {
    expect(portablePath(path)).toBe(written);
  });

  test('what is written is safe, short enough, and stays when it is written again', () => {
    fc.assert(
      fc.property(anyPath, (path) => {
        const written = portablePath(path);
        expect(pathProblem(written)).toBeUndefined();
        expect(written).not.toMatch(/[<>:"|?*]/);
        expect(portablePath(written)).toBe(written);
      }),
    );
    const long = portablePath(`${'終'.repeat(300)}.wav`);
    expect(Buffer.byteLength(long)).toBeLessThanOrEqual(200);
    expect(long).toMatch(/\.wav$/);
  });

  test.each([
    ['../../a', '__/__/a'],
    ['/etc/passwd', '_/etc/passwd'],
    ['c:\\a', 'c__a'],
    ['a\\b', 'a_b'],
    ['a//b', 'a/_/b'],
    ['a/', 'a/_'],
    ['', '_'],
  ])('%j, which could not be used, is written as %j', (path, written) => {
    expect(portablePath(path)).toBe(written);
  });

  test('thousands of steps are written as one folder, told apart', () => {
    const deep = 'a/'.repeat(5000);
    expect(portablePath(`${deep}b.txt`)).toMatch(/^long-paths\/[0-9a-f]{8}\/b\.txt$/);
    expect(portablePath(`${deep}b.txt`)).not.toBe(portablePath(`a/${deep}b.txt`));
  });

  test('signs that control a terminal are shown by their pictures', () => {
    expect(shownName('a\u0000b\u001b[31m\u007f')).toBe('a\u2400b\u241b[31m\u2421');
    expect(shownName('ä/終.txt')).toBe('ä/終.txt');
  });
});

test('name lists: a path a line, comments and empty lines left out, either separator', () => {
  expect(parseNameList('# list\r\na/b.txt\r\n\n  c\\d.txt  \n')).toEqual(['a/b.txt', 'c/d.txt']);
});
