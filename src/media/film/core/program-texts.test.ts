import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { programFile, withTexts } from '../../../../demo/world/lanternfen/program';
import { FormatError } from '@/core/bytes';
import { textsAround, textsAt, withHeldText } from './program-texts';

const SAID = [
  { from: 600, to: 3400, text: { en: 'The toll is two coins.' } },
  { from: 4600, to: 7400, text: { en: 'Two coins, or one good story.' } },
  { from: 7500, to: 7900, text: { en: 'No.' } },
];
const program = (): Uint8Array => new Uint8Array(withTexts(programFile('x', 1 << 16), SAID));

/** A table of another game: seconds as floats, wide letters, more room. */
function wide(texts: readonly string[], room: number): Uint8Array {
  const bytes = Buffer.alloc(64 + texts.length * (8 + 2 * room));
  texts.forEach((text, i) => {
    const at = 64 + i * (8 + 2 * room);
    bytes.writeFloatLE(i + 0.5, at);
    bytes.writeFloatLE(i + 1.25, at + 4);
    bytes.write(text, at + 8, 'utf16le');
  });
  return new Uint8Array(bytes);
}

describe('texts that a program keeps', () => {
  test('one is known by a part of it, and the others of its table with their times', () => {
    const found = textsAround(program(), 'good story', 8);
    expect(found.map(({ text, from, to, room }) => ({ text, from, to, room }))).toEqual([
      { text: 'The toll is two coins.', from: 0.6, to: 3.4, room: 55 },
      { text: 'Two coins, or one good story.', from: 4.6, to: 7.4, room: 55 },
      { text: 'No.', from: 7.5, to: 7.9, room: 55 },
    ]);
  });

  test('in wide letters, with seconds as floats, of one text or many', () => {
    const texts = ['Grüß den Fluss', 'Bleib trocken', 'Ende'];
    expect(textsAround(wide(texts, 40), 'Fluss', 10)).toMatchObject(
      texts.map((text, i) => ({ text, encoding: 'utf-16le', from: i + 0.5, to: i + 1.25 })),
    );
    expect(textsAround(wide(['alone'], 40), 'alone', 10)).toMatchObject([{ text: 'alone', from: 0.5 }]);
  });

  test('a text without times has the room up to what comes behind its zeros', () => {
    const bytes = Buffer.from('\x01\x02\0A line.\0\0\0\x05rest', 'latin1');
    expect(textsAround(bytes, 'line', 10)).toEqual([
      { offset: 3, text: 'A line.', encoding: 'utf-8', room: 9, from: undefined, to: undefined },
    ]);
    expect(textsAround(bytes, 'absent', 10)).toEqual([]);
    expect(textsAround(bytes, 'xy', 10)).toEqual([]);
  });

  test('another is put in its place, nothing else moves; one too long is missing bytes; an empty one is silence', () => {
    const old = program();
    const [first, second] = textsAround(old, 'good story', 8);
    const made = withHeldText(old, first!, 'Der Zoll: zwei Münzen. Für dich drei.');
    expect(made).toHaveLength(old.length);
    expect(textsAround(made, 'good story', 8).map(({ text }) => text)).toEqual([
      'Der Zoll: zwei Münzen. Für dich drei.',
      second!.text,
      'No.',
    ]);
    expect(
      [...made.keys()].every((i) => made[i] === old[i] || (i >= first!.offset && i < first!.offset + 55)),
    ).toBe(true);
    expect(() => withHeldText(old, first!, 'x'.repeat(60))).toThrow(/5 bytes too long/);
    expect(() => withHeldText(old, first!, 'ü'.repeat(28))).toThrow(FormatError);
    const silent = withHeldText(old, first!, '');
    expect(textsAt(silent, first!.offset, 'utf-8', 8).map(({ text, room }) => [text, room])).toEqual([
      ['', 55],
      [second!.text, 55],
      ['No.', 55],
    ]);
    expect(textsAround(silent, 'good story', 8).map(({ text }) => text)).toEqual(['', second!.text, 'No.']);
    expect(withHeldText(old, first!, 'x'.repeat(55)).at(first!.offset + 55)).toBe(0);
  });

  test('any bytes are looked through without harm', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 600 }), fc.string({ maxLength: 6 }), (bytes, wanted) => {
        for (const held of textsAround(bytes, wanted, 30)) {
          expect(held.offset).toBeGreaterThanOrEqual(0);
          expect(held.offset + held.room).toBeLessThanOrEqual(bytes.length);
        }
      }),
      { numRuns: 300 },
    );
  });
});
