import { expect, test } from '@jest/globals';
import { layouts, piecesTable, writeLayout, type LayoutRow } from '../../world/lanternfen/levels';
import { readLevel } from './layout';

const pieces = Buffer.from(piecesTable());
const row = (id: number, under = 0, piece = 2101): LayoutRow => ({
  id,
  under,
  piece,
  at: [0, 0, 0],
  turn: 0,
});
const stallOf = (layout: Buffer, own = pieces): string => {
  try {
    readLevel(layout, own, 'levels/x.layout');
  } catch (error) {
    return (error as Error).message;
  }
  throw new Error('Nothing stalled.');
};
const flipped = (at: number): Buffer => {
  const bytes = writeLayout([row(1), row(2, 1)]);
  bytes[at] = bytes[at]! ^ 1;
  return bytes;
};

test('levels stand, with all that their pieces are made of', () => {
  for (const [name, layout] of layouts()) expect(readLevel(layout, pieces, name).pieces).toBeGreaterThan(10);
  const { pieces: count, forms } = readLevel(writeLayout([row(1), row(2, 1, 2112)]), pieces, 'x');
  // A rail is two posts with lamps and a plank: 1 + 1 + 2 * 3 + 1.
  expect(count).toBe(9);
  expect([...forms]).toEqual(['jetty/jetty.form', 'props/lantern/lantern.form']);
  expect(readLevel(writeLayout([]), pieces, 'x').pieces).toBe(0);
});

test.each([
  ['its tag', flipped(0), 'layout tag'],
  ['its count', flipped(8), 'layout count'],
  ['its sum', flipped(12), 'layout check'],
  ['a byte of a row', flipped(40), 'layout check'],
  ['a cut end', writeLayout([row(1)]).subarray(0, -1), 'layout count'],
  ['a piece that is not there', writeLayout([row(1, 0, 9)]), 'row 1: there is no piece 9'],
  ['what it hangs on', writeLayout([row(1, 7)]), 'row 1: it hangs on 7, which is not there'],
  ['a circle', writeLayout([row(1, 2), row(2, 1)]), 'row 1: it hangs on itself'],
  ['two of one number', writeLayout([row(1), row(1)]), 'two of them have one number'],
])('a level stalls at %s', (_, layout, said) => {
  expect(stallOf(layout)).toContain(said);
});

test('pieces that are made of themselves, or are no table, stall it', () => {
  const round = [{ id: 2101, form: '', parts: [{ is: 2101 }] }];
  expect(stallOf(writeLayout([row(1)]), Buffer.from(JSON.stringify(round)))).toContain(
    'piece 2101 is made of itself',
  );
  expect(stallOf(writeLayout([row(1)]), Buffer.from('{'))).toContain('levels/pieces.json: form');
});
