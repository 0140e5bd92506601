import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { heldStringAt, heldStrings } from './held-strings';

const bytesOf = (...parts: (string | number[])[]): Uint8Array =>
  new Uint8Array(
    Buffer.concat(parts.map((part) => (typeof part === 'string' ? Buffer.from(part) : Buffer.from(part)))),
  );
const wide = (text: string): number[] => [...Buffer.from(text, 'utf16le')];

describe('texts of a program', () => {
  test('are found with their places and rooms, up to a multiple of four', () => {
    const program = bytesOf([1, 2, 3, 0], 'No ferry is due.\0', [0, 0, 0], 'lamp out\0', [9, 9, 9]);
    expect(heldStrings(program)).toEqual([
      { offset: 4, text: 'No ferry is due.', encoding: 'utf-8', room: 19 },
      { offset: 24, text: 'lamp out', encoding: 'utf-8', room: 8 },
    ]);
  });

  test('in wide letters, at odd places, and behind numbers that look like letters', () => {
    const [found] = heldStrings(bytesOf([0xe8], wide('Ångström due\0')));
    expect(found).toMatchObject({ offset: 1, encoding: 'utf-16le', text: 'Ångström due' });
    const [behind] = heldStrings(bytesOf([0xc3, 0x28, 0xff], 'Hold the rail\0'));
    expect(behind).toMatchObject({ text: 'Hold the rail', offset: 3 });
  });

  test('in rows have the room that all rows have empty', () => {
    const row = (time: number, text: string): Buffer => {
      const bytes = Buffer.alloc(64);
      bytes.writeUInt32LE(time, 0);
      bytes.write(text, 8, 'latin1');
      return bytes;
    };
    const rows = ['Halt.', 'Who rang my bell?', 'Two coins. For you, three.'].map((text, i) =>
      row(1000 + i, text),
    );
    const found = heldStrings(new Uint8Array(Buffer.concat([...rows, Buffer.from([7])])));
    expect(found.map(({ offset, room }) => [offset, room])).toEqual([
      [8, 55],
      [72, 55],
      [136, 55],
    ]);
  });

  test('are no code, paths without words, or noise', () => {
    expect(heldStrings(bytesOf('\x48\x8b\xe8\0', 'x86_64-v3:0\0', `${'aB9$'.repeat(20)}\0`, 'ab\0'))).toEqual(
      [],
    );
    expect(heldStrings(new Uint8Array(0))).toEqual([]);
    // One that no zero ends is none.
    expect(heldStrings(bytesOf('No ferry is due.'))).toEqual([]);
  });

  test('a room holds nothing but the text and zeros, in any bytes', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 400 }), fc.string({ maxLength: 30 }), (noise, text) => {
        const bytes = bytesOf([...noise], `${text}\0`, [...noise.slice(0, 7)]);
        for (const held of heldStrings(bytes)) {
          const own = bytes.subarray(held.offset, held.offset + held.room + 1);
          const coded = Buffer.from(held.text, held.encoding === 'utf-8' ? 'utf8' : 'utf16le');
          expect(Buffer.from(own.subarray(0, coded.length)).equals(coded)).toBe(true);
          expect(own.subarray(coded.length).every((byte) => byte === 0)).toBe(true);
          expect(heldStringAt(bytes, held)).toEqual(held);
        }
      }),
    );
  });

  test('at a place that is no more are not there', () => {
    expect(heldStringAt(bytesOf('Halt.\0'), { offset: 3, encoding: 'utf-8', room: 40 })).toBeUndefined();
    expect(
      heldStringAt(bytesOf([0xff, 0xff], 'x\0'), { offset: 0, encoding: 'utf-8', room: 3 }),
    ).toBeUndefined();
  });
});
