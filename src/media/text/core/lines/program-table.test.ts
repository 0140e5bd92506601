import { describe, expect, test } from '@jest/globals';
import { programTable } from '.';

const program = new Uint8Array([
  ...Buffer.from('\x01\x02\x03\x04No ferry is due.\0\0\0\0'),
  ...Buffer.from('Halt\0\0\0\0', 'utf16le'),
  9,
]);
const places = [
  { offset: 24, encoding: 'utf-16le', room: 14 },
  { offset: 4, encoding: 'utf-8', room: 19 },
  { offset: 4000, encoding: 'utf-8', room: 8 },
] as const;
const table = programTable(program, places);

describe('texts of a program', () => {
  test('are called by their places, and have their room; what lies there no more is none', () => {
    expect(table.lines.map(({ key, texts, limit }) => [key, texts[0], limit])).toEqual([
      ['0x00000004', 'No ferry is due.', { most: 19, unit: 'bytes' }],
      ['0x00000018', 'Halt', { most: 14, unit: 'bytes' }],
    ]);
    expect(table.bytesOf('Fähre', '0x00000004')).toBe(6);
    expect(table.bytesOf('Fähre', '0x00000018')).toBe(10);
  });

  test('are written in their room, the rest being zeros, and nothing else changes', () => {
    const made = table.write([
      { line: 0, tongue: 0, text: 'Keine Fähre.' },
      { line: 1, tongue: 0, text: 'Stop!' },
    ]);
    expect(programTable(made, places).lines.map(({ texts }) => texts[0])).toEqual(['Keine Fähre.', 'Stop!']);
    expect(made.length).toBe(program.length);
    expect([...made.subarray(0, 4), ...made.subarray(38)]).toEqual([
      ...program.subarray(0, 4),
      ...program.subarray(38),
    ]);
    expect(made.subarray(17, 24).every((byte) => byte === 0)).toBe(true);
    // Put back it is the program that it was.
    const back = programTable(made, places).write([
      { line: 0, tongue: 0, text: 'No ferry is due.' },
      { line: 1, tongue: 0, text: 'Halt' },
    ]);
    expect(Buffer.from(back).equals(Buffer.from(program))).toBe(true);
  });

  test('that do not fit say by how much; a zero and further lines are refused', () => {
    expect(() => table.write([{ line: 0, tongue: 0, text: 'x'.repeat(20) }])).toThrow(/at most 19 bytes/);
    expect(() => table.write([{ line: 1, tongue: 0, text: 'x'.repeat(8) }])).toThrow(/at most 14 bytes/);
    expect(() => table.write([{ line: 0, tongue: 0, text: 'a\0b' }])).toThrow(/a sign of zero/);
    expect(() => table.write([], [{ key: 'new', texts: ['x'] }])).toThrow(/text that the program has/);
  });
});
