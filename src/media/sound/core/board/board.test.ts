import { describe, expect, test } from '@jest/globals';
import { contentOf, freeKey, PAD_KEYS, shared, SharedBoard, unshared, type PadContent } from './board';

const clip = { game: 7, archive: 'songs/0417.songbook', path: '0417/003.adpcm' };
const pad: PadContent = {
  clips: [
    { ...clip, gain: -3, key: '1', label: 'Not tonight' },
    { ...clip, game: 9, from: 0.5, to: 1, gain: 0, key: 'q', label: '' },
  ],
};

describe('what a board holds', () => {
  test('has what is not said filled in', () => {
    expect(contentOf('strip', { clips: [clip] })).toEqual({
      clips: [{ ...clip, gain: 0, gap: 0, fadeIn: 0, fadeOut: 0 }],
    });
    expect(contentOf('pad', { clips: [{ ...clip, key: 'a' }] })).toEqual({
      clips: [{ ...clip, gain: 0, key: 'a', label: '' }],
    });
  });

  test.each([
    ['a clip without a path', 'strip', { clips: [{ game: 1, archive: 'a' }] }],
    ['a gap beyond an hour', 'strip', { clips: [{ ...clip, gap: 4000 }] }],
    ['a level beyond all', 'strip', { clips: [{ ...clip, gain: 1000 }] }],
    ['a place before the beginning', 'strip', { clips: [{ ...clip, from: -1 }] }],
    ['no number', 'strip', { clips: [{ ...clip, gain: Number.NaN }] }],
    [
      'a key with two clips',
      'pad',
      {
        clips: [
          { ...clip, key: 'a' },
          { ...clip, key: 'a' },
        ],
      },
    ],
    ['a key that no pad has', 'pad', { clips: [{ ...clip, key: 'Ä' }] }],
    ['nothing', 'strip', undefined],
    ['too many', 'strip', { clips: new Array<object>(501).fill(clip) }],
  ] as const)('is not %s', (_what, sort, content) => expect(() => contentOf(sort, content)).toThrow());

  test('has room on its keys until all are taken', () => {
    expect(freeKey([])).toBe('1');
    expect(freeKey(pad.clips)).toBe('2');
    expect(freeKey(PAD_KEYS.map((key) => ({ ...clip, key, gain: 0, label: '' })))).toBeUndefined();
  });
});

describe('a board that is shared', () => {
  const titles: Record<number, string> = { 7: 'Lanternfen', 9: 'Tallow & Tide' };
  const board = shared({ sort: 'pad', title: 'Widow', content: pad }, (game) => titles[game]!);

  test('names games by their titles, and holds nothing of them but places', () => {
    expect(board.games).toEqual(['Lanternfen', 'Tallow & Tide']);
    expect(board.clips.map(({ game }) => game)).toEqual([1, 2]);
    expect(SharedBoard.parse(JSON.parse(JSON.stringify(board)))).toEqual(board);
  });

  test('is the same where the games have other numbers', () => {
    const back = unshared(board, (title) => (title === 'Lanternfen' ? 70 : 90));
    expect(back.clips).toEqual(
      pad.clips
        .map((one) => ({ ...one, game: one.game * 10 }))
        .map((one) => ({ ...one, game: one.game === 70 ? 70 : 90 })),
    );
  });

  test.each([
    ['one of another kind', { 'zero latch board': 2 }],
    ['a list', []],
    ['a clip that is none', { ...board, clips: [{ key: '1' }] }],
    ['two clips on a key', { ...board, clips: [board.clips[0], board.clips[0]] }],
  ])('is refused where it is %s', (_what, given) => {
    expect(() => unshared(SharedBoard.parse(given), () => 1)).toThrow();
  });
});
