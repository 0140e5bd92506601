import { describe, expect, test } from '@jest/globals';
import { afterChange, afterJob } from './what-changed';

const KEYS = [
  ['games'],
  ['jobs'],
  ['job', 'an id', 'done'],
  ['entries', 5, '', 0],
  ['entries', 6, '', 0],
  ['entry', 5, 1, 2],
  ['tags', 5],
  ['changes', 5, 3],
  ['bytes', '/api/games/5/entries/1/2/bytes', 'x', 0],
  ['bytes', '/api/games/55/entries/1/2/bytes', 'x', 0],
  ['scripts'],
] as const;
const after = (path: string): string[] => {
  const asked = afterChange(path);
  return asked ? KEYS.filter((key) => asked(key)).map((key) => key.slice(0, 2).join(' ')) : [];
};

describe('after a change only what it changed is asked again', () => {
  test.each([
    ['games/5/jobs', ['jobs']],
    ['games/5/marks', ['entries 5', 'entry 5', 'tags 5']],
    ['games/5/entries/heads', []],
    [
      'games/5/mods/3/changes?archive=1',
      [
        'games',
        'job an id',
        'entries 5',
        'entry 5',
        'tags 5',
        'changes 5',
        'bytes /api/games/5/entries/1/2/bytes',
      ],
    ],
    ['games', ['games']],
    ['jobs/an-id', ['jobs', 'job an id']],
  ])('%s', (path, wanted) => expect(after(path)).toEqual(wanted));

  test('what nobody knows asks everything again', () =>
    expect(after('something/new')).toHaveLength(KEYS.length));
});

test('a job that only takes things out leaves the lists as they are; a scan does not', () => {
  const asked = (kind: 'extract' | 'scan' | 'recover'): string[] =>
    KEYS.filter((key) => afterJob({ kind, gameId: 5 })(key)).map((key) => key.slice(0, 2).join(' '));
  expect(asked('extract')).toEqual(['job an id']);
  expect(asked('scan')).toContain('entries 5');
  expect(asked('scan')).not.toContain('entries 6');
  expect(asked('recover')).toContain('changes 5');
});
