import { describe, expect, test } from '@jest/globals';
import { sayings, tongueList } from '../../world/lanternfen/talk';
import { sayingOf, tonguesOf } from './sayings';

const table = sayings('en');
const damaged = (at: number, value: number): Buffer => {
  const bytes = Buffer.from(table);
  bytes[at] = value;
  return bytes;
};
const FIRST = 'jetty.odd.01';
const said = (bytes: Buffer): string => sayingOf(bytes, FIRST, 'talk.sayings');

test('sayings are found by their names, in every language', () => {
  expect(said(table)).toBe('Have you brought the oil for Jetty?');
  expect(said(sayings('de'))).toBe('Hast du Öl für Jetty dabei?');
  expect(sayingOf(table, 'jetty.ibis.04', 'x')).toContain('{coins}');
  expect(() => sayingOf(table, 'nobody', 'x')).toThrow(/there is no such saying/);
  expect(() => sayingOf(table, '', 'x')).toThrow(/there is no such saying/);
});

test('every saying of the game fits its bubble', () => {
  for (const tongue of ['en', 'de', 'no']) {
    const bytes = sayings(tongue);
    const count = bytes.readUInt32LE(8);
    expect(count).toBe(2160);
    const names = bytes
      .toString('utf8', 20 + 12 * count, 20 + 12 * count + bytes.readUInt32LE(12))
      .split('\0');
    for (const name of names.slice(0, count)) expect(() => sayingOf(bytes, name, name)).not.toThrow();
  }
});

describe('a table that was harmed stalls the game where it is', () => {
  const row = 20;
  test.each<[string, Buffer, RegExp]>([
    ['another tag', damaged(0, 0x58), /sayings tag/],
    ['a count beyond its end', damaged(10, 0xff), /sayings count/],
    ['another sum', damaged(16, table[16]! ^ 1), /sayings check/],
    ['a row that was changed', damaged(row + 4, 1), /sayings check/],
    [
      'a text without its end',
      damaged(table.readUInt32LE(row) + table.readUInt16LE(row + 4) - 1, 0x41),
      /has no end/,
    ],
    ['a text that is no UTF-8', damaged(table.readUInt32LE(row), 0xff), /must be UTF-8/],
    ['nothing', Buffer.alloc(0), /sayings tag/],
  ])('%s', (_, bytes, stall) => {
    expect(() => said(bytes)).toThrow(stall);
  });
});

test('the menu lists the languages', () => {
  expect(
    tonguesOf(Buffer.from(`${tongueList()}nl\tNederlands\r\n`)).map(({ code, name }) => [code, name]),
  ).toEqual([
    ['en', 'English'],
    ['de', 'Deutsch'],
    ['no', 'Norsk'],
    ['nl', 'Nederlands'],
  ]);
});
