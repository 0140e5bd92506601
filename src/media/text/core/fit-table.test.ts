import { expect, test } from '@jest/globals';
import { fitTable } from './fit-table';
import { readOpenTable } from './lines';

const encode = (text: string): Uint8Array => new TextEncoder().encode(text);
const slot = readOpenTable(encode('fare\tFare: {coins}\nfog\tFog.\n'))!;
const fit = (text: string): readonly string[] => {
  const bytes = encode(text);
  return fitTable(slot, () => readOpenTable(bytes), bytes).findings.map(
    ({ code, state }) => `${code}, ${state}`,
  );
};

test.each<[string, string, readonly string[]]>([
  ['the same', 'fare\tFare: {coins}\nfog\tFog.\n', ['text.changed-lines, fits']],
  ['another text', 'fare\tPreis: {coins}\nfog\tFog.\n', ['text.changed-lines, fits']],
  ['a line more', 'fare\tFare: {coins}\nfog\tFog.\nreed\tReed\n', ['text.changed-lines, fits']],
  ['a value less', 'fare\tPreis\nfog\tFog.\n', ['text.failing-lines, look', 'text.changed-lines, fits']],
  ['a line less', 'fog\tFog.\n', ['text.missing-lines, does not fit', 'text.changed-lines, look']],
  ['no table', 'prose', ['text.no-table, does not fit']],
])('a table given for another: %s', (_, text, found) => {
  expect(fit(text)).toEqual(found);
});
