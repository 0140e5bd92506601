import { expect, test } from '@jest/globals';
import { matchFile } from './match-file';

const paths = ['actors/odd/cape.sheet', 'actors/ibis/cape.sheet', 'props/lantern/glass.sheet', 'credits.txt'];

test.each([
  ['actors/odd/cape.png', 'actors/odd/cape.sheet'],
  ['Actors\\Odd\\Cape.PNG', 'actors/odd/cape.sheet'],
  ['glass.tga', 'props/lantern/glass.sheet'],
  ['lantern/glass.dds', 'props/lantern/glass.sheet'],
  ['ibis/cape.png', 'actors/ibis/cape.sheet'],
  ['credits.txt', 'credits.txt'],
])('%s is meant for %s', (file, path) => expect(matchFile(file, paths)).toBe(path));

test.each(['cape.png', 'other.png', '.png', 'lass.png', 'actors/odd/cape.sheet.png'])(
  '%s is meant for none',
  (file) => expect(matchFile(file, paths)).toBeUndefined(),
);
