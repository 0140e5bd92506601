import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { matchMany, type Matchable } from './match-many';

const ENTRIES: Matchable[] = [
  { path: '0417/001.adpcm', called: ['Reed Widow', 'Row on.'] },
  { path: '0417/002.adpcm', called: ['Reed Widow', 'Who is it?'] },
  { path: '0417/010.opus', called: ['Reed Widow'] },
  { path: '0418/001.opus', called: ['Captain Sallow'] },
  { path: 'bell/far_7.adpcm', called: [] },
];
const found = (file: string, entries = ENTRIES): [string | undefined, string[]] => {
  const [match] = matchMany([file], entries);
  return [match!.by, match!.entries.map((i) => entries[i]!.path)];
};

describe('a file is meant for', () => {
  test.each([
    ['0417/001.mp3', 'path', ['0417/001.adpcm']],
    ['new\\0417\\001.MP3', 'path', ['0417/001.adpcm']],
    ['0418\\001.wav', 'path', ['0418/001.opus']],
    ['002.wav', 'name', ['0417/002.adpcm']],
    ['001.wav', 'name', ['0417/001.adpcm', '0418/001.opus']],
    ['row on..wav', 'label', ['0417/001.adpcm']],
    ['take 10.flac', 'number', ['0417/010.opus']],
    ['Bell 007.wav', 'number', ['bell/far_7.adpcm']],
    ['nobody.wav', undefined, []],
    ['', undefined, []],
    ['.wav', undefined, []],
    ['99.wav', undefined, []],
  ])('%s: by its %s', (file, by, paths) => expect(found(file)).toEqual([by, paths]));

  test('what is in the list alone', () => {
    expect(found('001.wav', ENTRIES.slice(0, 3))).toEqual(['name', ['0417/001.adpcm']]);
    expect(found('1.wav', ENTRIES.slice(0, 3))).toEqual(['number', ['0417/001.adpcm']]);
    expect(found('001.wav', [])).toEqual([undefined, []]);
  });

  test('an entry of its own path, whatever that is', () => {
    const step = fc.stringMatching(/^[a-z0-9_ ]{1,6}$/);
    const path = fc.array(step, { minLength: 2, maxLength: 5 }).map((steps) => `${steps.join('/')}.bin`);
    fc.assert(
      fc.property(fc.uniqueArray(path, { minLength: 1, maxLength: 12 }), (paths) => {
        const entries = paths.map((own) => ({ path: own, called: [] }));
        for (const [i, match] of matchMany(paths, entries).entries()) {
          expect(match.by).toBe('path');
          expect(match.entries).toContain(i);
        }
      }),
    );
  });
});
