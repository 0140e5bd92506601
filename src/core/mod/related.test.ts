import { expect, test } from '@jest/globals';
import { areHalves, relatedPaths, roleOf } from './related';

test('an end of a name tells the role of a sheet', () => {
  expect(roleOf('places/jetty/boards_near.sheet')).toEqual({
    role: 'near',
    stem: 'places/jetty/boards_',
    ending: '.sheet',
  });
  expect(roleOf('a/cape_rain_Color.dds')?.role).toBe('colour');
  for (const path of ['boards.sheet', 'near.sheet', 'a/near/boards_7.sheet', 'boards_nearly.sheet', 'x_near'])
    expect(roleOf(path)).toBeUndefined();
});

test('other sheets of a set have the same stem and another role', () => {
  const paths = relatedPaths('props/glass_colour.sheet').map(({ path }) => path);
  expect(paths).toContain('props/glass_glow.sheet');
  expect(paths).not.toContain('props/glass_color.sheet');
  expect(relatedPaths('props/glass.sheet')).toEqual([]);
  expect(relatedPaths('boards_near.sheet')).toContainEqual({ path: 'boards_far.sheet', role: 'far' });
});

test('only near and far are halves of one thing', () => {
  expect([areHalves('near', 'far'), areHalves('far', 'near'), areHalves('near', 'glow')]).toEqual([
    true,
    true,
    false,
  ]);
});
