import { expect, test } from '@jest/globals';
import { worded } from '@/core/fit';
import { longestRun } from '../node/key-pictures';
import { flowFindings, type Flow } from './flow';
import { filmWording } from './wording';

const found = (made: Flow, old: Flow): string[] =>
  flowFindings(made, old).map((finding) => worded(finding, { film: filmWording }).what);

test('what is harder on a player is told, and nothing else', () => {
  const old = { bitRate: 800_000, keySeconds: 1 };
  expect(found(old, old)).toEqual([]);
  expect(found({ bitRate: 999_000, keySeconds: 1.5 }, old)).toEqual([]);
  expect(found({ bitRate: 100_000, keySeconds: 0.04 }, old)).toEqual([]);
  expect(found({ bitRate: 1_001_000, keySeconds: 1.6 }, old)).toEqual([
    '1001 kbit/s in the place of 800',
    '1.6 s from a picture that one can begin at to the next, in the place of 1',
  ]);
  expect(found({ bitRate: 1, keySeconds: 60 }, { bitRate: 1, keySeconds: undefined })).toEqual([]);
  expect(found({ bitRate: 1, keySeconds: undefined }, old)).toEqual([]);
  // Where each picture is one, a few more between them are nothing that is noticed.
  expect(found({ bitRate: 1, keySeconds: 0.4 }, { bitRate: 1, keySeconds: 0.04 })).toEqual([]);
});

test('the longest way from one such picture to the next, or to the end', () => {
  expect(longestRun([])).toBeUndefined();
  expect(longestRun(['K__'])).toBe(1);
  expect(longestRun(['K__', 'K__', 'K__'])).toBe(1);
  expect(longestRun(['K_,', '__,', '__,', 'K_,', '__,'])).toBe(3);
  expect(longestRun(['K__', '___', 'K__', '___', '___', '___'])).toBe(4);
  // One that begins in the middle has none before.
  expect(longestRun(['___', '___', 'K__'])).toBe(2);
});
