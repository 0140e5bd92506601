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

  test('xor undoes itself, piece by piece', () => {
    fc.assert(
      fc.property(
        fc.uint8Array({ maxLength: 100 }),
        fc.uint8Array({ minLength: 1, maxLength: 9 }),
        fc.nat(100),
        (bytes, key, cut) => {
          const xor = ciphers.get('xor')!;
          const once = xor.start({ key }, false, nodePrimitives).update(bytes);
          const back = xor.start({ key }, true, nodePrimitives);
          expect([...back.update(once.subarray(0, cut)), ...back.update(once.subarray(cut))]).toEqual([
            ...bytes,
          ]);
        },
      ),
    );
  });
});
