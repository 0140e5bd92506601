import { expect, test } from '@jest/globals';
import { parseScript } from '../script';
import { bare, openWith } from '../testing/round-trip';
import { proveArchive } from '.';

/** More entries than are tried one edit after the other. */
const MANY = 4100;

/** A flat table of numbered entries with one byte more each; `count` is what the script says of the number in the head. */
function many(count: string): { script: string; bytes: Buffer } {
  const script = `
format script: 1
title: Many
recognise: [{ at: 0, text: MANY }]
records:
  head: { tag: text(4), count: ${count}, rows: { type: row, count: count } }
  row: { at: { type: u32, derived: place(payload) }, size: { type: u32, derived: size(payload) }, name: text(8) }
parts: { head: { type: head, at: 0 } }
entries: { each: head.rows, path: name, size: size, payload: { at: at, size: size } }
`;
  const table = 8 + MANY * 16;
  const bytes = Buffer.alloc(table + MANY * 3, 'abc');
  bytes.write('MANY', 'latin1');
  bytes.writeUInt32LE(MANY, 4);
  for (let i = 0; i < MANY; i++) {
    bytes.writeUInt32LE(table + i * 3, 8 + i * 16);
    bytes.writeUInt32LE(3, 12 + i * 16);
    bytes.write(`n${String(i).padStart(7, '0')}`, 16 + i * 16, 'latin1');
  }
  return { script, bytes };
}

const editsOf = (count: string): { holds: boolean; detail: string } => {
  const { script, bytes } = many(count);
  const { claims } = proveArchive(openWith(parseScript(script), bytes), bare);
  return claims.find(({ claim }) => claim.startsWith('Entries changed'))!;
};

test('of many entries changing, adding and taking out are tried in one', () => {
  const { holds, detail } = editsOf('{ type: u32, derived: count(rows) }');
  expect(holds).toBe(true);
  // Changed, added, taken out, and changed in the two other ways.
  expect(detail).toBe('5 trials right');
});

test.each(['u32', `{ type: u32, fixed: ${MANY} }`])(
  'where not all of it can be, each by itself tells which: %s',
  (count) => {
    const { holds, detail } = editsOf(count);
    expect(holds).toBe(true);
    expect(detail).toMatch(
      /^3 trials right; an entry added is refused \(.*\); an entry taken out is refused/,
    );
  },
);
