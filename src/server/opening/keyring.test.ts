import { describe, expect, test } from '@jest/globals';
import { keysInText } from './keyring';

const a = '00112233445566778899aabbccddeeff00112233445566778899aabbccddeeff';
const b = 'ff'.repeat(16);
const found = (text: string): (readonly [string | undefined, string])[] =>
  keysInText(text).map(({ label, bytes }) => [label, Buffer.from(bytes).toString('hex')]);

describe('keys in a pasted text', () => {
  test.each([
    ['a key alone', a, [[undefined, a]]],
    [
      'one a line',
      `${a}\n${b}\n`,
      [
        [undefined, a],
        [undefined, b],
      ],
    ],
    [
      'with labels',
      `game = ${a}\nexpansion: ${b}`,
      [
        ['game', a],
        ['expansion', b],
      ],
    ],
    [
      'as JSON',
      JSON.stringify({ keys: { game: a, other: [b] } }),
      [
        ['game', a],
        ['other', b],
      ],
    ],
    [
      'on a card with words around it',
      `Help card\n\nKey of the holds (32 bytes):\n${a.match(/.{8}/g)!.join(' ')}\n`,
      [[undefined, a]],
    ],
    ['with 0x and colons', `0x${b.match(/../g)!.join(':')}`, [[undefined, b]]],
    ['with a label of hexadecimal letters', `fade: ${a}`, [['fade', a]]],
    ['the same twice', `${b}\n${b.toUpperCase()}`, [[undefined, b]]],
    ['as base64', Buffer.from(b, 'hex').toString('base64'), [[undefined, b]]],
  ])('%s', (_what, text, expected) => {
    expect(found(text)).toEqual(expected);
  });

  test.each(['', 'no key in here', '12 34', '{"a": 5}', 'x'.repeat(5000)])('none in %j', (text) => {
    expect(found(text)).toEqual([]);
  });
});
