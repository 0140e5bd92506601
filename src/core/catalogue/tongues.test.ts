import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { inOtherTongues } from './other-tongues';
import { pathInTongue, TongueIndex, tongueName, tonguePlaces } from './tongues';

const indexOf = (
  ...paths: string[]
): { of(path: string): { rows: Record<string, string>; missing: readonly string[] } } => {
  const index = new TongueIndex(paths.map((path, row) => [row, path] as const));
  return {
    of(path) {
      const { rows, missing } = index.of(path);
      return { rows: Object.fromEntries([...rows].map(([tongue, row]) => [tongue, paths[row]!])), missing };
    },
  };
};

describe('the same thing in another language', () => {
  test.each([
    ['text/en/ferry.lines', 'text/ferry', 'nl', 'text/nl/ferry.lines'],
    ['Text/EN/Ferry.lines', 'text/ferry', 'nl', 'Text/NL/Ferry.lines'],
    ['text/ferry_en.lines', 'text/ferry', 'nl', 'text/ferry_nl.lines'],
    ['text/English/ferry.lines', 'text/ferry', 'nl', 'text/Dutch/ferry.lines'],
    ['text/eng/ferry.lines', 'text/ferry', 'pl', 'text/pol/ferry.lines'],
    ['text/pt-br/ferry.lines', 'text/ferry', 'nl', 'text/nl/ferry.lines'],
    ['en.lines', '', 'nl', 'nl.lines'],
    ['text/en/menu_en.lines', 'text/menu', 'nl', 'text/nl/menu_nl.lines'],
  ])('of %s, which is %s in all of them, in %s', (path, key, tongue, made) => {
    const place = tonguePlaces(path).find((one) => one.key === key)!;
    expect(pathInTongue(path, place, tongue)).toBe(made);
  });
});

describe('the place of a language in a path', () => {
  test.each([
    ['voice/de/odd/greeting.wav', 'voice/odd/greeting', 'de'],
    ['voice/odd/greeting_de.wav', 'voice/odd/greeting', 'de'],
    ['voice/odd/de_greeting.wav', 'voice/odd/greeting', 'de'],
    ['voice/German/greeting.wav', 'voice/greeting', 'de'],
    ['voice/pt-br/greeting.wav', 'voice/greeting', 'pt'],
    ['voice/line.deu.wav', 'voice/line', 'de'],
    ['fr.wav', '', 'fr'],
  ])('of %s leaves %s', (path, key, tongue) => {
    expect(tonguePlaces(path)).toContainEqual(expect.objectContaining({ key, tongue }));
  });

  test.each(['voice/odd/greeting.wav', 'voice/den/model.wav', 'a/x12de/b.wav', 'de'.repeat(9), ''])(
    'is not seen in %p',
    (path) => expect(tonguePlaces(path)).toEqual([]),
  );

  test('has a name', () => {
    expect(tongueName('de')).toBe('German');
    expect(tongueName('xx')).toBe('xx');
  });
});

describe('one thing in several languages', () => {
  test('is found from each of them, whatever they are packed in', () => {
    const all = [
      'songs/en/417/3.adpcm',
      'songs/de/417/3.opus',
      'songs/no/417/3.adpcm',
      'songs/en/417/4.adpcm',
    ];
    const rows = { en: all[0], de: all[1], no: all[2] };
    for (const path of all.slice(0, 3)) expect(indexOf(...all).of(path)).toEqual({ rows, missing: [] });
    // One alone is in no other language, and so is not said to lack any.
    expect(indexOf(...all).of(all[3]!)).toEqual({ rows: {}, missing: [] });
  });

  test('may be the one that a path without a language is', () => {
    const all = ['songs/417/3.adpcm', 'songs/de/417/3.opus', 'songs/no/418/1.opus'];
    for (const path of all.slice(0, 2))
      expect(indexOf(...all).of(path)).toEqual({ rows: { '': all[0], de: all[1] }, missing: ['no'] });
  });

  test('may say its language at several places', () => {
    const all = ['songs/417/3.adpcm', 'songs/de/417/de/3.opus', 'songs/no/417/no/3.opus'];
    for (const path of all)
      expect(indexOf(...all).of(path)).toEqual({ rows: { '': all[0], de: all[1], no: all[2] }, missing: [] });
  });

  test('lacks what others beside it have', () => {
    const all = ['v/en/a.wav', 'v/de/a.wav', 'v/no/a.wav', 'v/en/b.wav', 'v/de/b.wav'];
    expect(indexOf(...all).of('v/en/b.wav').missing).toEqual(['no']);
  });

  test('is not made of words that are codes by chance', () => {
    const all = ['way/to/sea.wav', 'way/up/sea.wav', 'go/it/now.wav'];
    for (const path of all) expect(indexOf(...all).of(path).rows).toEqual({});
  });

  test('is found among any paths that differ by nothing else', () => {
    const step = fc.stringMatching(/^[a-z0-9]{4,8}$/);
    fc.assert(
      fc.property(fc.array(step, { maxLength: 3 }), step, (before, name) => {
        const path = (tongue: string): string => [...before, tongue, `${name}.wav`].join('/');
        const all = ['en', 'de', 'ja'].map(path);
        for (const one of all)
          expect(Object.values(indexOf(...all).of(one).rows).sort()).toEqual([...all].sort());
      }),
    );
  });
});

test('what was changed in a language that a game was not in is told, with what it took', () => {
  const log = ['text/de/ferry.lines', 'text/tongues.lines', 'voice/en/a.wav'].map((what) => ({
    sort: 'took',
    what,
  }));
  const changed = ['text/en/ferry.lines', 'text/tongues.lines', 'text/en/other.lines', 'Voice/en/a.wav'];
  expect(inOtherTongues({ tongue: 'de', log }, changed)).toEqual([
    { path: 'text/en/ferry.lines', tongue: 'English', taken: 'text/de/ferry.lines' },
  ]);
  expect(inOtherTongues({ tongue: 'en', log: [] }, changed)).toEqual([]);
});
