import { expect, test } from '@jest/globals';
import { runsOf } from './runs';

test('paths in order make a run a folder; beyond the last run everything is one', () => {
  const paths = ['a.png', 'b/x.png', 'b/y.png', 'b/z/q.png', 'c/a.png'];
  expect(runsOf(paths, 10)).toEqual([
    { folder: '', count: 1 },
    { folder: 'b/', count: 2 },
    { folder: 'b/z/', count: 1 },
    { folder: 'c/', count: 1 },
  ]);
  expect(runsOf(paths, 2)).toEqual([
    { folder: '', count: 1 },
    { folder: 'b/', count: 4 },
  ]);
  expect(runsOf([], 2)).toEqual([]);
});
