import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { framesIn, shapeShares } from './shape-shares';

const shapes = ['rest', 'half', 'full'].map((name) => ({ name, places: 0 }));

test('a moment between two frames has some of both; before and behind are the first and the last', () => {
  const frames = { first: 1, count: 2, rate: 10 };
  expect(shapeShares({ shapes }, frames, 0, {})).toEqual([0, 1, 0]);
  expect(shapeShares({ shapes }, frames, 0.025, {})).toEqual([0, 0.75, 0.25]);
  expect(shapeShares({ shapes }, frames, 9, {})).toEqual([0, 0, 1]);
  expect(shapeShares({ shapes }, frames, -9, {})).toEqual([0, 1, 0]);
});

test('without a clip they are as they were set; a part without shapes has none', () => {
  expect(shapeShares({ shapes }, undefined, 3, { half: 0.4, other: 1 })).toEqual([0, 0.4, 0]);
  expect(shapeShares({ shapes: [] }, { first: 0, count: 4, rate: 1 }, 1, {})).toEqual([]);
});

test('a clip without a rate or frames moves bones', () => {
  const clip = { name: 'a', group: '', isLoop: false, seconds: 1, tracks: [] };
  expect(framesIn(undefined)).toBeUndefined();
  expect(framesIn({ ...clip, rate: 10 })).toBeUndefined();
  expect(framesIn({ ...clip, rate: 0, frames: { first: 0, count: 2 } })).toBeUndefined();
  expect(framesIn({ ...clip, rate: 5, frames: { first: 0, count: 2 } })).toEqual({
    first: 0,
    count: 2,
    rate: 5,
  });
});

test('whatever the moment, there is one shape in all', () =>
  fc.assert(
    fc.property(
      fc.double({ noNaN: true, min: -5, max: 50 }),
      fc.integer({ min: 1, max: 3 }),
      (seconds, count) => {
        const shares = shapeShares({ shapes }, { first: 0, count, rate: 3 }, seconds, {});
        expect(shares.reduce((sum, share) => sum + share, 0)).toBeCloseTo(1, 9);
      },
    ),
  ));
