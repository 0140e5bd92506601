import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { nodePrimitives } from '@/platform/node/primitives';
import { fromHex, toHex } from '../bytes';
import { ciphers } from './index';

const plain = fromHex('6bc1bee22e409f96e93d7e117393172aae2d8a571e03ac9c9eb76fac45af8e51')!;

/** NIST SP 800-38A, appendix F; the key length chooses the variant. */
describe('ciphers', () => {
  test.each([
    [
      'aes-ctr',
      '2b7e151628aed2a6abf7158809cf4f3c',
      'f0f1f2f3f4f5f6f7f8f9fafbfcfdfeff',
      '874d6191b620e3261bef6864990db6ce9806f66b7970fdff8617187bb9fffdff',
    ],
    [
      'aes-ctr',
      '603deb1015ca71be2b73aef0857d77811f352c073b6108d72d9810a30914dff4',
      'f0f1f2f3f4f5f6f7f8f9fafbfcfdfeff',
      '601ec313775789a5b7a7f504bbf3d228f443e3ca4d62b59aca84e990cacaf5c5',
    ],
    [
      'aes-cbc',
      '2b7e151628aed2a6abf7158809cf4f3c',
      '000102030405060708090a0b0c0d0e0f',
      '7649abac8119b246cee98e9b12e9197d5086cb9b507219ee95db113a917678b2',
    ],
  ])('%s, %s', (name, key, iv, expected) => {
    const args = { key: fromHex(key)!, iv: fromHex(iv)! };
    const cipher = ciphers.get(name)!;
    expect(toHex(cipher.start(args, false, nodePrimitives).update(plain))).toBe(expected);
    expect(toHex(cipher.start(args, true, nodePrimitives).update(fromHex(expected)!))).toBe(toHex(plain));
  });

  /** Vectors of NIST SP 800-38A, RFC 8439, RFC 6229, Schneier's Blowfish set and the XTEA set of Crypto++. */
  test.each([
    [
      'aes-ecb',
      '2b7e151628aed2a6abf7158809cf4f3c',
      undefined,
      '6bc1bee22e409f96e93d7e117393172a',
      '3ad77bb40d7a3660a89ecaf32466ef97',
    ],
    [
      'aes-ecb',
      '8e73b0f7da0e6452c810f32b809079e562f8ead2522c6b7b',
      undefined,
      '6bc1bee22e409f96e93d7e117393172a',
      'bd334f1d6e45f25ff712a214571fa5cc',
    ],
    ['blowfish-ecb', '0000000000000000', undefined, '0000000000000000', '4ef997456198dd78'],
    ['blowfish-ecb', 'ffffffffffffffff', undefined, 'ffffffffffffffff', '51866fd5b85ecb8a'],
    ['blowfish-ecb', '0123456789abcdef', undefined, '1111111111111111', '61f9c3802281b096'],
    [
      'blowfish-cbc',
      '0123456789abcdeff0e1d2c3b4a59687',
      'fedcba9876543210',
      '37363534333231204e6f77206973207468652074696d6520',
      '6b77b4d63006dee605b156e27403979358deb9e7154616d9',
    ],
    ['xtea-ecb', '000102030405060708090a0b0c0d0e0f', undefined, '4142434445464748', '497df3d072612cb5'],
    ['xtea-ecb', '00000000000000000000000000000000', undefined, '4142434445464748', 'a0390589f8b8efa5'],
    ['rc4', '0102030405', undefined, '00000000000000000000000000000000', 'b2396305f03dc027ccc3524a0a1118a8'],
  ])('%s with the key %s', (name, key, iv, from, to) => {
    const args = { key: fromHex(key)!, iv: iv === undefined ? undefined : fromHex(iv)! };
    const cipher = ciphers.get(name)!;
    expect(toHex(cipher.start(args, false, nodePrimitives).update(fromHex(from)!))).toBe(to);
    expect(toHex(cipher.start(args, true, nodePrimitives).update(fromHex(to)!))).toBe(from);
  });

  test('chacha20, the example of RFC 8439, 2.4.2', () => {
    const key = Uint8Array.from({ length: 32 }, (_, i) => i);
    const text = new TextEncoder().encode(
      "Ladies and Gentlemen of the class of '99: If I could offer you only one tip for the future, sunscreen would be it.",
    );
    const args = { key, iv: fromHex('000000000000004a00000000')!, settings: new Map([['counter', 1]]) };
    const out = ciphers.get('chacha20')!.start(args, false, nodePrimitives).update(text);
    expect(toHex(out.subarray(0, 32))).toBe(
      '6e2e359a2568f98041ba0728dd0d6981e97e7aec1d4360c20a27afccfd9fae0b',
    );
    expect(toHex(out.subarray(-2))).toBe('874d');
  });

  test('the recurrence as it is said', () => {
    const settings = new Map<string, number | string>([
      ['seed', 7],
      ['times', 1103515245],
      ['plus', 12345],
      ['bits', 32],
      ['shift', 16],
    ]);
    let state = 7n;
    const expected = Array.from({ length: 50 }, () => {
      state = (state * 1103515245n + 12345n) & 0xffffffffn;
      return Number((state >> 16n) & 255n);
    });
    const stream = ciphers
      .get('keystream')!
      .start({ key: new Uint8Array(0), settings }, true, nodePrimitives);
    expect([...stream.update(new Uint8Array(50))]).toEqual(expected);
  });

  test('every cipher takes itself off again, in pieces of any length', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...ciphers.names()),
        fc.nat(20),
        fc.array(fc.nat(40), { minLength: 1, maxLength: 5 }),
        (name, blocks, cuts) => {
          const cipher = ciphers.get(name)!;
          const bytes = Uint8Array.from({ length: 16 * blocks }, (_, i) => (i * 37) & 255);
          const key = Uint8Array.from({ length: cipher.keyLengths.at(-1) ?? 5 }, (_, i) => i * 11 + 1);
          const settings = new Map<string, number | string>(
            Object.entries(cipher.settings ?? {}).map(([word, { default: value }]) => [word, value ?? 77]),
          );
          const args = { key, iv: new Uint8Array(cipher.ivLength).fill(9), settings };
          const through = (from: Uint8Array, decrypt: boolean, pieces: number[]): Uint8Array => {
            const stream = cipher.start(args, decrypt, nodePrimitives, from.length);
            const out: Uint8Array[] = [];
            let at = 0;
            for (const piece of [...pieces, from.length]) {
              out.push(stream.update(from.subarray(at, at + piece)).slice());
              at = Math.min(from.length, at + piece);
            }
            return new Uint8Array(Buffer.concat(out));
          };
          const once = through(bytes, false, []);
          expect(once.length).toBe(bytes.length);
          expect(toHex(through(bytes, false, cuts))).toBe(toHex(once));
          expect(toHex(through(once, true, cuts))).toBe(toHex(bytes));
        },
      ),
    );
  });
});
