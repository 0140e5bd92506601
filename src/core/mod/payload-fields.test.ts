import { describe, expect, test } from '@jest/globals';
import { openArchive, type Archive } from '../archive';
import { collect, memorySource, refOfBytes } from '../bytes';
import { nodePrimitives } from '@/platform/node/primitives';
import { parseScript } from '../script';
import { emit, planArchive } from '.';
import { failure } from '@/core/testing/failure';

/** Entries whose bytes lie in a field of their row, of each shape that a field may have; made without the script. */
const script = (field: string): ReturnType<typeof parseScript> =>
  parseScript(`format script: 1
title: Notes
recognise: [{ at: 0, text: NOTE }]
records:
  head: { tag: { type: text(4), fixed: NOTE }, count: { type: u8, derived: count(rows) } }
  row: { id: u8, ${field} }
  pair: { a: u8, b: u8 }
parts:
  head: { type: head, at: 0 }
  rows: { type: row, at: end(head), count: head.count }
entries: { each: rows, path: text(id), payload: { field: body } }
`);
const file = (...rows: readonly string[]): Uint8Array =>
  new Uint8Array(
    Buffer.from(
      `NOTE${String.fromCharCode(rows.length)}${rows.map((row, i) => String.fromCharCode(i + 1) + row).join('')}`,
      'latin1',
    ),
  );
const open = (field: string, bytes: Uint8Array): Archive =>
  openArchive(script(field), memorySource(bytes, 'a.note'), { primitives: nodePrimitives });
function changed(field: string, bytes: Uint8Array, entry: number, text: string): string {
  const plan = planArchive(
    open(field, bytes),
    new Map([[entry, refOfBytes(new Uint8Array(Buffer.from(text, 'latin1')))]]),
  );
  const parts: Uint8Array[] = [];
  emit(plan.files[0]!, { write: (part) => void parts.push(part.slice()) });
  plan.discard();
  return Buffer.from(collect({ length: plan.length, chunks: () => parts })).toString('latin1');
}
describe('the bytes of an entry in a field', () => {
  test.each([
    [
      'bytes of a length before them',
      'size: { type: u8, derived: size(body) }, body: bytes(size)',
      ['\x02ab', '\x01c'],
      'longer',
      '\x06longer',
    ],
    [
      'a text of such a length',
      'size: { type: u8, derived: size(body) }, body: text(size)',
      ['\x02ab', '\x01c'],
      'longer',
      '\x06longer',
    ],
    [
      'a text whose length is told in bytes of it',
      'size: { type: u8, derived: length(body) }, body: text(size)',
      ['\x02ab', '\x01c'],
      'longer',
      '\x06longer',
    ],
    ['a text that a zero ends', 'body: ztext(utf-8)', ['ab\0', 'c\0'], 'longer\0', 'longer\0'],
    ['the same, empty', 'body: ztext(utf-8)', ['ab\0', 'c\0'], '\0', '\0'],
    ['a text that a line end ends', 'body: { type: ztext(utf-8), end: 10 }', ['ab\n', 'c\n'], 'x\n', 'x\n'],
    ['a text of one length', 'body: text(3)', ['ab\0', 'c  '], 'xyz', 'xyz'],
  ] as const)('as %s', (_, field, rows, given, written) => {
    const bytes = file(...rows);
    const made = changed(field, bytes, 0, given);
    expect(made).toBe(Buffer.from(file(written, rows[1])).toString('latin1'));
    const again = open(field, new Uint8Array(Buffer.from(made, 'latin1')));
    expect(Buffer.from(collect(again.plain(again.entries[0]!))).toString('latin1')).toBe(given);
    expect(Buffer.from(collect(again.plain(again.entries[1]!))).toString('latin1')).toBe(
      Buffer.from(collect(open(field, bytes).plain(open(field, bytes).entries[1]!))).toString('latin1'),
    );
  });

  test.each([
    [
      'a text without its end',
      'body: ztext(utf-8)',
      ['ab\0', 'c\0'],
      'no end',
      /one byte 0 that ends it.*none/s,
    ],
    ['a text with an end within', 'body: ztext(utf-8)', ['ab\0', 'c\0'], 'a\0b\0', /one at 1 of 4/],
    ['a text of another length than its field', 'body: text(3)', ['abc', 'def'], 'four', /3 bytes/],
    ['a list', 'body: { type: u8, count: 2 }', ['ab', 'cd'], 'xy', /body as bytes or as a text.*a list/s],
    ['a record', 'body: pair', ['ab', 'cd'], 'xy', /body as bytes or as a text.*record/s],
    [
      'a region with something in it',
      'size: { type: u8, derived: size(body) }, body: { type: pair, size: size }',
      ['\x02ab', '\x02cd'],
      'xy',
      /a region/,
    ],
  ] as const)('is refused, and never left as it was, for %s', (_, field, rows, given, said) => {
    const bytes = file(...rows);
    const error = failure(() => changed(field, bytes, 0, given));
    expect(error.message).toMatch(said);
    expect(error.message).toMatch(/^a\.note, /);
    // What is given as it is asks for nothing.
    const own = Buffer.from(collect(open(field, bytes).plain(open(field, bytes).entries[0]!))).toString(
      'latin1',
    );
    expect(changed(field, bytes, 0, own)).toBe(Buffer.from(bytes).toString('latin1'));
  });
});
