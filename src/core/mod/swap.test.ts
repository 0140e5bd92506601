import { describe, expect, test } from '@jest/globals';
import { planSwap } from './swap';

const paths = [
  'actors/odd/coat_colour.sheet',
  'actors/odd/coat_glow.sheet',
  'actors/odd/coat.form',
  'actors/ibis/coat_colour.sheet',
  'actors/ibis/coat.form',
  'actors/ibis/coat_torn.sheet',
];

describe('a swap', () => {
  test('pairs what has the same end, and lists what has no counterpart on either side', () => {
    expect(planSwap(paths, 'actors/odd/coat', 'actors/ibis/coat')).toEqual({
      pairs: [
        { target: 'actors/odd/coat_colour.sheet', source: 'actors/ibis/coat_colour.sheet' },
        { target: 'actors/odd/coat_glow.sheet', source: undefined },
        { target: 'actors/odd/coat.form', source: 'actors/ibis/coat.form' },
      ],
      left: ['actors/ibis/coat_torn.sheet'],
    });
  });

  test('with a beginning that goes on in the other takes nothing for both', () => {
    const { pairs, left } = planSwap(
      ['a/coat_1', 'a/coat_rain_1', 'a/coat_rain_2'],
      'a/coat_',
      'a/coat_rain_',
    );
    expect(pairs).toEqual([{ target: 'a/coat_1', source: 'a/coat_rain_1' }]);
    expect(left).toEqual(['a/coat_rain_2']);
  });

  test('of beginnings that nothing has is empty', () => {
    expect(planSwap(paths, 'x/', 'y/')).toEqual({ pairs: [], left: [] });
  });
});
