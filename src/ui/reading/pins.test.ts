import { expect, test } from '@jest/globals';
import { pinnedFirst } from './pins';

test('pinned columns come first, in their order; those that are gone or stand twice do no harm', () => {
  const names = (pins: string[], columns = ['id', 'name', 'home', 'name']): string[] =>
    pinnedFirst(columns, pins).map(({ name, i, isPinned }) => `${name}${i}${isPinned ? '!' : ''}`);
  expect(names([])).toEqual(['id0', 'name1', 'home2', 'name3']);
  expect(names(['home', 'gone', 'name'])).toEqual(['home2!', 'name1!', 'id0', 'name3']);
});
