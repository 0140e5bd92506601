import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { pathProblem } from '../archive';
import {
  checkPattern,
  isOfAnother,
  matchLines,
  nameOf,
  readLedger,
  Recipe,
  unchanged,
  type Written,
} from './index';

const facts = {
  path: 'actors/ibis/portrait_calm.sheet',
  archive: 'holds/h01-sheets.hold',
  number: 17,
  hash: '00afa0',
  alias: 'Ibis, at rest',
};
const by = (pattern: string): Pick<Recipe, 'name'> => ({ name: { how: 'pattern', pattern } });

describe('names', () => {
  test.each([
    ['{folder}/{stem}{ending}', 'actors/ibis/portrait_calm.sheet'],
    ['{archive}/{2}_{stem}{ending}', 'h01-sheets/ibis_portrait_calm.sheet'],
    ['{alias}{ending}', 'Ibis, at rest.sheet'],
    ['{number}-{hash}', '17-00afa0.sheet'],
    ['{alias}', 'Ibis, at rest.sheet'],
    ['{alias}/{alias}', 'Ibis, at rest/Ibis, at rest.sheet'],
    ['{alias}.bin', 'Ibis, at rest.bin'],
    ['{stem}_{ending}', 'portrait_calm_.sheet'],
    ['{-2}/{-1}', 'ibis/portrait_calm.sheet'],
    ['{9}/{name}', 'portrait_calm.sheet'],
    ['../../{name}', 'portrait_calm.sheet'],
    ['/{1}//{name}', 'actors/portrait_calm.sheet'],
    ['{9}', 'portrait_calm.sheet'],
  ])('%s gives %s', (pattern, name) => {
    expect(nameOf(by(pattern), facts)).toBe(name);
  });

  test('a converted entry has another ending', () => {
    expect(nameOf({ name: { how: 'tree', pattern: '' } }, facts, '.png')).toBe(
      'actors/ibis/portrait_calm.png',
    );
    expect(nameOf({ name: { how: 'flat', pattern: '' } }, facts, '.png')).toBe('portrait_calm.png');
    expect(nameOf({ name: { how: 'flat', pattern: '' } }, { ...facts, path: 'a.b/none' }, '.png')).toBe(
      'none.png',
    );
    expect(nameOf(by('{stem}{ending}'), facts, '.png')).toBe('portrait_calm.png');
  });

  test('no entry and no pattern leads out of the folder', () => {
    const text = fc.string({
      unit: fc.constantFrom('.', '/', '\\', 'a', '{name}', '{1}', '{alias}', '{folder}', '..'),
      maxLength: 12,
    });
    fc.assert(
      fc.property(text, text, (pattern, alias) => {
        const name = nameOf(by(pattern), { ...facts, alias });
        expect(pathProblem(name)).toBeUndefined();
      }),
    );
  });

  test.each([
    ['', /0|nothing/],
    ['{stem', /byte 0/],
    ['a}', /byte 1/],
    ['{folder}/{wrong}', /byte 10.*wrong/],
    ['{0}', /from 1 to 9/],
  ])('the pattern %j is refused with its place', (pattern, said) => {
    expect(() => checkPattern(pattern)).toThrow(said);
  });
});

const written: Written = {
  file: 'a.txt',
  by: '1:2',
  path: 'a.txt',
  archive: 'a.hold',
  source: '10 20 0',
  stated: '5 check=7',
  stored: '',
  settings: 'stored',
  content: 'aa',
  size: 5,
  modifiedMs: 1,
};

describe('what a run knows', () => {
  test('the last line of a file counts; lines that a kill has cut do not', () => {
    const text = [
      JSON.stringify(written),
      JSON.stringify({ ...written, size: 6 }),
      JSON.stringify({ ...written, file: 'b.txt' }).slice(0, 30),
      '',
      JSON.stringify({ ...written, file: 'c.txt' }),
      '{"file":1}',
    ].join('\n');
    const known = readLedger(text);
    expect([...known.keys()]).toEqual(['a.txt', 'c.txt']);
    expect(known.get('a.txt')!.size).toBe(6);
  });

  test.each([
    ['the archive as it was', {}, 'same'],
    ['another place, the same checksum', { source: '11 20 0' }, 'same'],
    ['another checksum', { source: '11 20 0', stated: '5 check=8' }, 'changed'],
    ['no checksum is stated', { source: '11 20 0', stated: '' }, 'read'],
    ['other settings', { settings: 'png' }, 'changed'],
    ['another entry under the same name', { path: 'b.txt' }, 'changed'],
  ])('%s', (_what, now, answer) => {
    const { path, source, stated, settings } = { ...written, ...now };
    expect(unchanged(written, { path, source, settings, stated: () => stated })).toBe(answer);
  });
});

describe('two recipes into one folder', () => {
  test.each([
    ['the same recipe', '1:2', 'b.txt', false],
    ['another one, the same entry', '1:3', 'a.txt', false],
    ['another one, another entry under the same name', '1:3', 'b.txt', true],
    ['another game, the same path', '11:2', 'a.txt', true],
  ])('%s', (_what, by, path, isAnother) => {
    expect(isOfAnother(written, { by, path })).toBe(isAnother);
  });
});

describe('lines of a paste', () => {
  const paths = ['ledger/goods.txt', 'ledger/tides.txt', 'a b/with blank.txt', 'tallow.bin'];
  const known = {
    find: (path: string) => paths.find((one) => one.toLowerCase() === path.toLowerCase()),
    candidates: () => paths,
  };
  const match = (text: string) => matchLines(text, known).map(({ path, nearest }) => path ?? `? ${nearest}`);

  test('are found with columns around them, in any case, with either slash', () => {
    expect(
      match(
        '# list\n\nLEDGER\\GOODS.TXT\nc32  131 tallow.bin\r\nledger/tides.txt\t120\n"a b/with blank.txt"\n./tallow.bin,',
      ),
    ).toEqual(['ledger/goods.txt', 'tallow.bin', 'ledger/tides.txt', 'a b/with blank.txt', 'tallow.bin']);
  });

  test('that name an archive say so, an entry of the same name first', () => {
    const archive = (path: string): string | undefined =>
      ['stores.list', 'ledger/goods.txt'].find((one) => one === path.toLowerCase());
    const text = '6bb30bee       588 STORES.LIST\nledger/goods.txt\nstores.lis';
    expect(matchLines(text, { ...known, archive })).toMatchObject([
      { path: undefined, archive: 'stores.list', nearest: undefined },
      { path: 'ledger/goods.txt', archive: undefined },
      { path: undefined, archive: undefined },
    ]);
  });

  test('those that fit nothing say what was likely meant, if anything was', () => {
    expect(match('ledger/tide.txt\nx\nsomething/quite/else/here.wav')).toEqual([
      '? ledger/tides.txt',
      '? undefined',
      '? undefined',
    ]);
    expect(matchLines('\n\nx', known)[0]).toMatchObject({ number: 3, line: 'x' });
  });

  test('a file that is no list at all is gone through in time', () => {
    let asked = 0;
    const counted = { find: () => undefined, candidates: () => (asked++, paths) };
    const lines = matchLines('x/y.txt and, so; on\n'.repeat(20_000) + 'a '.repeat(100_000), counted);
    expect(lines).toHaveLength(20_001);
    expect(asked).toBeLessThanOrEqual(300 * 24);
    expect(lines.at(-1)!.line.length).toBeLessThan(100);
  });

  test('any text is gone through', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 200 }), (text) => {
        for (const { number, line } of matchLines(text, known)) {
          expect(number).toBeGreaterThan(0);
          expect(line).not.toBe('');
        }
      }),
    );
  });
});

describe('recipes', () => {
  test('say in little what they take for granted', () => {
    expect(Recipe.parse({ title: 'x', pick: { search: 'a' }, folder: '/out' })).toEqual({
      title: 'x',
      pick: { search: 'a', folder: '', kind: null },
      convert: {
        ...{ picture: 'stored', sound: 'stored', film: 'stored' },
        ...{ model: 'stored', text: 'stored', font: 'stored', table: 'stored', archive: 'stored' },
      },
      name: { how: 'tree', pattern: '' },
      folder: '/out',
      edited: 'keep',
    });
    expect(Recipe.safeParse({ title: 'x', pick: { paths: [] }, folder: '/out' }).success).toBe(false);
  });
});
