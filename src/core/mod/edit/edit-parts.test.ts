import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { withoutDropped } from './edit-marks';
import { spellings } from './texts-of';

describe('what a text of a path becomes', () => {
  test.each([
    ['d/a.txt', 'd/b.txt', 'd/a.txt', ['d/b.txt']],
    ['pictures/view.bc1', 'pictures/quay.bc1', 'view', ['quay']],
    // A sign behind the name belongs to the field, not to the path.
    ['a.txt', 'new.txt', 'a.txt/', ['new.txt/']],
    // The text is in the path twice; either may be meant.
    ['aa/aa', 'aa/b', 'aa', ['b']],
    ['pictures/view.bc1', 'sounds/quay.wav', 'view', []],
    ['x', 'y', '', []],
  ])('%s to %s by %s', (path, wanted, text, found) => {
    expect(spellings(path, wanted, text)).toEqual(found);
  });

  test('put where the text stood, each gives the path that is wanted', () => {
    const word = fc.stringMatching(/^[ab]{1,4}$/);
    fc.assert(
      fc.property(word, word, word, word, (before, text, behind, other) => {
        const path = before + text + behind;
        const found = spellings(path, before + other + behind, text);
        expect(found).toContain(other);
      }),
    );
  });
});

describe('what is left of a stretch', () => {
  test.each([
    [{ from: 0, to: 100 }, [], 16, [{ from: 0, to: 100 }]],
    [{ from: 0, to: 100 }, [{ from: 0, to: 100 }], 1, []],
    [
      { from: 0, to: 100 },
      [{ from: 20, to: 40 }],
      16,
      [
        { from: 0, to: 20 },
        { from: 40, to: 100 },
      ],
    ],
    // Bits shorter than the alignment were padding.
    [{ from: 0, to: 50 }, [{ from: 10, to: 40 }], 16, []],
    // Some that lie over each other, and beyond the ends.
    [
      { from: 10, to: 90 },
      [
        { from: 30, to: 60 },
        { from: 0, to: 40 },
      ],
      1,
      [{ from: 60, to: 90 }],
    ],
  ])('%j without %j', (gap, dropped, align, left) => {
    expect(withoutDropped(gap, dropped, align)).toEqual(left);
  });
});
