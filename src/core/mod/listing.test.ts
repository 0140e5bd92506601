import { expect, test } from '@jest/globals';
import { listedHash, readListing } from './listing';

const A = 'a'.repeat(64);
const B = 'B'.repeat(64);

test('both common forms of lists of sums are read, and what is neither is told by its line', () => {
  const text = `# originals\n${A}  ./holds/One.hold\r\n${B} *holds\\two.hold\n\nSHA256 (three.hold) = ${A}\nnothing\n${'a'.repeat(63)}  x`;
  const { listing, wrong } = readListing(text);
  expect([...listing]).toEqual([
    ['holds/one.hold', A],
    ['holds/two.hold', B.toLowerCase()],
    ['three.hold', A],
  ]);
  expect(wrong).toEqual([6, 7]);
});

test('a path is found where the listing begins at another folder, if only one can be meant', () => {
  const { listing } = readListing(`${A}  game/holds/one.hold\n${B}  x/same.hold\n${A}  y/same.hold`);
  expect(listedHash(listing, 'holds/one.hold')).toBe(A);
  expect(listedHash(listing, 'HOLDS/ONE.HOLD')).toBe(A);
  expect(listedHash(listing, 'same.hold')).toBeUndefined();
  expect(listedHash(listing, 'zone.hold')).toBeUndefined();
});
