import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { scalars } from './scalars';
import { decodeText, encodeText, readText, TEXT_ENCODINGS } from './texts';
import { canonical } from './values';

describe('scalars', () => {
  test('known bytes', () => {
    const view = new DataView(
      new Uint8Array([0xff, 0x01, 0x02, 0x83, 0x04, 0x05, 0x06, 0x87, 0x99]).buffer,
      1,
    );
    expect(scalars.get('u24')!.read(view, 0, true)).toBe(0x830201);
    expect(scalars.get('i24')!.read(view, 0, true)).toBe(0x830201 - 0x1000000);
    expect(scalars.get('u24')!.read(view, 0, false)).toBe(0x010283);
    expect(scalars.get('u64')!.read(view, 0, true)).toBe(0x9987060504830201n & 0xffffffffffffffffn);
    expect(scalars.get('i64')!.read(view, 0, true)).toBe(BigInt.asIntN(64, 0x9987060504830201n));
    expect(scalars.get('u16')!.read(view, 0, false)).toBe(0x0102);
  });

  test('what is written reads back, at any offset and in both orders', () => {
    for (const name of scalars.names().filter((one) => !one.startsWith('f'))) {
      const scalar = scalars.get(name)!;
      const bits = BigInt(8 * scalar.size);
      const range = name.startsWith('u')
        ? fc.bigInt(0n, (1n << bits) - 1n)
        : fc.bigInt(-(1n << (bits - 1n)), (1n << (bits - 1n)) - 1n);
      fc.assert(
        fc.property(range, fc.boolean(), fc.integer({ min: 0, max: 5 }), (number, little, at) => {
          const view = new DataView(new ArrayBuffer(24), 3);
          scalar.write(view, at, canonical(number), little);
          expect(scalar.read(view, at, little)).toEqual(canonical(number));
        }),
      );
    }
  });

  test.each([
    ['u8', 256],
    ['u8', -1],
    ['i8', 128],
    ['u16', 65536],
    ['u32', 2 ** 32],
    ['u64', 1n << 64n],
    ['u16', 1.5],
  ])('%s refuses %p instead of wrapping it', (name, value) => {
    expect(() => scalars.get(name)!.write(new DataView(new ArrayBuffer(8)), 0, value, true)).toThrow();
  });
});

describe('texts', () => {
  test('texts of every encoding come back', () => {
    for (const encoding of TEXT_ENCODINGS.filter((name) => name !== 'windows-1252' && name !== 'shift_jis')) {
      const top = encoding === 'ascii' ? 0x7f : encoding === 'latin1' ? 0xff : 0xd7ff;
      const sign = fc.integer({ min: 1, max: top }).map((code) => String.fromCharCode(code));
      fc.assert(
        fc.property(fc.string({ unit: sign, maxLength: 30 }), (text) => {
          expect(decodeText(encodeText(text, encoding), encoding)).toBe(text);
        }),
      );
    }
  });

  test.each([
    ['windows-1252', 'Zoë – 5 € ÿ', '5a6feb209620352080 20ff'],
    ['shift_jis', 'テスト a', '8365835883672061'],
  ] as const)('%s', (encoding, text, digits) => {
    const bytes = new Uint8Array(Buffer.from(digits.replace(' ', ''), 'hex'));
    expect(decodeText(bytes, encoding)).toBe(text);
    expect(encodeText(text, encoding)).toEqual(bytes);
    expect(() => encodeText('ж\u{1f600}', encoding)).toThrow(encoding);
  });

  test('junk behind the terminating zero is kept', () => {
    const bytes = new Uint8Array([0x61, 0, 0x62, 0]);
    expect(readText(bytes, 'utf-8')).toEqual({ sort: 'text', text: 'a', raw: bytes });
    expect(readText(new Uint8Array([0x61, 0, 0, 0]), 'utf-8')).toBe('a');
  });

  test('broken bytes are an error', () => {
    expect(() => decodeText(new Uint8Array([0xc3, 0x28]), 'utf-8')).toThrow('text in utf-8');
    expect(() => decodeText(new Uint8Array([0x80]), 'ascii')).toThrow('ASCII');
  });
});
