import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { nodePrimitives } from '@/platform/node/primitives';
import type { NameHashing } from '../script';
import { halvesOf } from './name-hashes';
import { NameList } from './name-list';
import { parseNameList } from './names';

const encode = (text: string): Uint8Array => new TextEncoder().encode(text);

/** Lines as they occur in lists that people keep: clean ones mostly, and all that has to be put right. */
const line = fc.oneof(
  { weight: 8, arbitrary: fc.stringMatching(/^[a-z/_.0-9]{1,12}$/) },
  {
    weight: 1,
    arbitrary: fc.constantFrom(
      '',
      ' ',
      '# a remark',
      ' in/side ',
      'a\\b',
      'straße/ä.txt',
      '\tx',
      'y\u00a0',
      'z\r',
    ),
  },
);
const file = fc
  .tuple(fc.array(line, { maxLength: 12 }), fc.constantFrom('', '\n', '\n\n', '\r\n'))
  .map(([lines, end]) => lines.join('\n') + end);

const hashing: NameHashing = {
  hash: 'fnv1a64',
  seed: undefined,
  spelling: 'lower',
  separator: '/',
  extension: 'kept',
  encoding: 'utf-8',
  before: '',
  behind: '',
  half: undefined,
  bits: 64,
};

describe('a list of names', () => {
  test('has the names of its file, whether it is kept as bytes or put right', () => {
    fc.assert(
      fc.property(file, (text) => {
        const wanted = parseNameList(text);
        for (const list of [NameList.parse(text), NameList.parse(encode(text))]) {
          expect([...list]).toEqual(wanted);
          expect(list).toHaveLength(wanted.length);
          expect(wanted.map((_, i) => list.at(i))).toEqual(wanted);
          expect([list.at(-1), list.at(wanted.length)]).toEqual([undefined, undefined]);
        }
      }),
      { numRuns: 500 },
    );
  });

  test('hashes to the same as its texts', () => {
    fc.assert(
      fc.property(file, fc.constantFrom('fnv1a64', 'crc32'), (text, hash) => {
        const how = { ...hashing, hash, bits: hash === 'crc32' ? 32 : 64 };
        const list = NameList.parse(encode(text));
        expect(halvesOf(list, how, nodePrimitives)).toEqual(halvesOf([...list], how, nodePrimitives));
      }),
    );
  });

  test('keeps the bytes of a clean file as they are', () => {
    const bytes = encode('one/two.txt\nthree.bin\n');
    const { lines } = NameList.parse(bytes);
    expect(lines.buffer).toBe(bytes.buffer);
    expect(lines).toHaveLength(bytes.length - 1);
  });
});
