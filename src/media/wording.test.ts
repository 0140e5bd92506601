import { expect, test } from '@jest/globals';
import { FormatError } from '@/core/bytes';
import { errorSaid, findingsOf, keptError, worded, type Words } from '@/core/fit';
import { foundInPicture } from './picture/core/wording';
import { foundInSound } from './sound/core/wording';
import { foundInText } from './text/core/wording';
import { WORDINGS } from './wording';

const kept = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

test('a finding that was kept says what it said when it was found', () => {
  const sizes = { given: { width: 20, height: 32 }, slot: { width: 32, height: 32 } };
  const found = foundInPicture('does not fit', 'other-size', sizes, { mend: 'resize', also: 'own size' });
  expect(worded(kept(found), WORDINGS)).toEqual(worded(found, WORDINGS));
  expect(worded(found, WORDINGS)).toMatchObject({
    what: '20 x 32 given, the slot is 32 x 32, of another shape',
    mends: [
      { name: 'resize', label: 'Resize to 32 x 32' },
      { name: 'own size', label: 'Keep 20 x 32' },
    ],
  });
});

test('only the ways that are offered are shown, whatever the wording has words for', () => {
  const sizes = { given: { width: 2, height: 2 }, slot: { width: 4, height: 4 } };
  expect(worded(foundInPicture('does not fit', 'other-size', sizes), WORDINGS)).toMatchObject({
    what: '2 x 2 given, the slot is 4 x 4',
    mends: [],
  });
});

test('one and many are said as they are', () => {
  const said = (given: number) =>
    worded(foundInPicture('look', 'fewer-levels', { given, slot: 6 }), WORDINGS).what;
  expect([said(1), said(3)]).toEqual(['1 level given, the slot has 6', '3 levels given, the slot has 6']);
  const cues = (count: number) =>
    worded(foundInSound('fits', 'own-marks', { marks: { cues: count } }), WORDINGS).what;
  expect([cues(1), cues(2)]).toEqual(['with marks of its own: 1 cue', 'with marks of its own: 2 cues']);
  const lines = (count: number, first: string[]) =>
    worded(foundInText('does not fit', 'missing-lines', { count, first }), WORDINGS).what;
  expect(lines(1, ['a'])).toBe('the line a is missing');
  expect(lines(9, ['a', 'b'])).toBe('9 lines are missing: a, b …');
});

test('ratios where nothing is lost outlive being kept', () => {
  const form = { layout: 'BC3', width: 4, height: 4, levels: 1 };
  const some = foundInPicture('fits', 'coded', { form, ratios: { red: 31.25, green: null, blue: 40 } });
  expect(worded(kept(some), WORDINGS).what).toBe(
    'BC3, 4 x 4, 1 level, red 31.3 dB, green exact, blue 40.0 dB',
  );
  const all = foundInPicture('fits', 'coded', { form, ratios: { red: null, alpha: null } });
  expect(worded(kept(all), WORDINGS).what).toBe('BC3, 4 x 4, 1 level, nothing lost');
});

test('an error is kept by its code and its facts', () => {
  const error = new FormatError('truncated', { file: 'a.wav', byteOffset: 4, expected: '9 bytes' });
  expect(errorSaid(kept(keptError(error)))).toBe(error.message);
});

test('what another version found is shown with its code', () => {
  const later = { state: 'look', code: 'sound.from-later', facts: {} } as const;
  expect(worded(later, WORDINGS)).toMatchObject({ state: 'look', what: 'sound.from-later', mends: [] });
  expect(worded({ ...later, code: 'nothing' }, WORDINGS).what).toBe('nothing');
});

test('a wording gives only findings that it has words for', () => {
  const lampWording = { lit: ({ hours }: { hours: number }): Words => ({ what: `${hours} h`, why: '' }) };
  const found = findingsOf<typeof lampWording>('lamp');
  const lit = found('fits', 'lit', { hours: 2 });
  expect(lit).toEqual({ state: 'fits', code: 'lamp.lit', facts: { hours: 2 } });
  expect(worded(lit, { lamp: lampWording }).what).toBe('2 h');
  // @ts-expect-error: no such code.
  found('fits', 'dark', {});
  // @ts-expect-error: no such fact.
  found('fits', 'lit', { days: 2 });
});
