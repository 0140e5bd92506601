import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { nodePrimitives } from '@/platform/node/primitives';
import { fnvOfLines } from '../hashes';
import type { NameHashing } from '../script';
import { halvesOf, NameHashes } from './name-hashes';
import { hashOfPath } from './names';

const plain: NameHashing = {
  hash: 'fnv1a64',
  seed: undefined,
  spelling: 'kept',
  separator: '/',
  extension: 'kept',
  encoding: 'utf-8',
  before: '',
  behind: '',
  half: undefined,
  bits: 64,
};

const line = fc.string({ unit: 'grapheme', maxLength: 30 });
/** Some with line ends in them, which only a hostile archive has. */
const names = fc.uniqueArray(
  fc.oneof({ weight: 30, arbitrary: line }, { weight: 1, arbitrary: line.map((text) => `${text}\n`) }),
  { maxLength: 40 },
);
const hashing: fc.Arbitrary<NameHashing> = fc
  .record({
    hash: fc.constantFrom('fnv1a64', 'fnv1a32', 'murmur3'),
    spelling: fc.constantFrom('kept', 'lower', 'upper'),
    separator: fc.constantFrom('/', '\\', '::'),
    extension: fc.constantFrom('kept', 'dropped'),
    before: fc.constantFrom('', 'data/'),
  } as const)
  .map((some) => ({ ...plain, ...some, bits: some.hash === 'fnv1a64' ? 64 : 32 }) as NameHashing);

describe('hashes of many names', () => {
  test('are those of the names one by one, in every spelling', () => {
    fc.assert(
      fc.property(names, hashing, (list, how) => {
        const halves = halvesOf(list, how, nodePrimitives);
        const hex = list.map((_, i) =>
          [halves[2 * i + 1]!, halves[2 * i]!].map((half) => half.toString(16).padStart(8, '0')).join(''),
        );
        expect(hex).toEqual(list.map((name) => hashOfPath(name, how, nodePrimitives)));
      }),
    );
  });

  test('find their names, the first of equal ones', () => {
    fc.assert(
      fc.property(names, hashing, (list, how) => {
        const index = new NameHashes(list, how, nodePrimitives, undefined, false);
        const first = new Map<string, string>();
        for (const name of list) {
          const hash = hashOfPath(name, how, nodePrimitives);
          if (!first.has(hash)) first.set(hash, name);
        }
        for (const [hash, name] of first) expect(index.get(hash)).toBe(name);
        expect(index.get('0123456789abcdef')).toBe(first.get('0123456789abcdef'));
      }),
    );
  });

  test('the published values, by the kernel', () => {
    const identity = Uint8Array.from({ length: 256 }, (_, i) => i);
    const lines = new TextEncoder().encode('\na\nfoobar');
    const halves = fnvOfLines(lines, 3, identity);
    const hex = [...halves].map((half) => half.toString(16));
    expect(hex).toEqual(['84222325', 'cbf29ce4', '8601ec8c', 'af63dc4c', 'f73967e8', '85944171']);
  });

  test('lines longer than what is gone through at a time, among short ones', () => {
    const identity = Uint8Array.from({ length: 256 }, (_, i) => i);
    const long = [70_000, 3, 200_000, 65_535, 65_536, 65_537, 0, 400_000].map((length, i) =>
      String.fromCharCode(97 + i).repeat(length),
    );
    const halves = fnvOfLines(new TextEncoder().encode(long.join('\n')), long.length, identity);
    const hex = long.map((_, i) =>
      [halves[2 * i + 1]!, halves[2 * i]!].map((half) => half.toString(16).padStart(8, '0')).join(''),
    );
    expect(hex).toEqual(long.map((name) => hashOfPath(name, plain, nodePrimitives)));
    expect(() => fnvOfLines(new TextEncoder().encode('a\nb'), 1, identity)).toThrow(RangeError);
    expect(() => fnvOfLines(new TextEncoder().encode('a\nb'), 3, identity)).toThrow(RangeError);
  });

  test('names that an encoding cannot spell are left out of given lists and refused in own ones', () => {
    const how: NameHashing = { ...plain, encoding: 'latin1' };
    const list = ['plain', '島'];
    expect(
      new NameHashes(list, how, nodePrimitives, undefined, false).get(
        hashOfPath('plain', how, nodePrimitives),
      ),
    ).toBe('plain');
    expect(() => new NameHashes(list, how, nodePrimitives, undefined, true)).toThrow();
  });
});
