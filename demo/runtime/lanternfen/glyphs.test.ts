import { expect, test } from '@jest/globals';
import { glyphTable, talkWidth } from '../../world/lanternfen/glyphs';
import { sayings } from '../../world/lanternfen/talk';
import { boxesIn, drawnWidth, readGlyphs } from './glyphs';
import { sayingOf } from './sayings';

const font = glyphTable();
const widths = readGlyphs(font, 'talk.glyphs');

test('the font has the signs of the languages of the game, and no others', () => {
  expect(boxesIn('Fährgeld: {coins} „Ø“ …', widths)).toEqual([]);
  expect(boxesIn('Żółw', widths)).toEqual(['Ż', 'ó', 'ł']);
  expect(drawnWidth('<b>Careful.</b> {name}', widths)).toBe(talkWidth('Careful. '));
  expect(widths.get('W')!).toBeGreaterThan(widths.get('i')!);
});

test('every saying is as narrow as its bubble, and has no boxes', () => {
  for (const tongue of ['en', 'de', 'no']) {
    const bytes = sayings(tongue);
    const count = bytes.readUInt32LE(8);
    const start = 20 + 12 * count;
    const names = bytes
      .toString('utf8', start, start + bytes.readUInt32LE(12))
      .split('\0')
      .slice(0, count);
    for (const name of names) expect(boxesIn(sayingOf(bytes, name, name, widths), widths)).toEqual([]);
  }
});

test.each<[string, number, number, RegExp]>([
  ['another tag', 0, 0x58, /glyphs tag/],
  ['a count beyond its end', 9, 0xff, /glyphs count/],
  ['another sum', 12, font[12]! ^ 1, /glyphs check/],
])('%s stalls the game', (_, at, value, stall) => {
  const bytes = Buffer.from(font);
  bytes[at] = value;
  expect(() => readGlyphs(bytes, 'talk.glyphs')).toThrow(stall);
});
