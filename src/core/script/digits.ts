import { FormatError } from '../bytes';
import type { Compiled } from './types';
import { senseless, type KeptNumber } from './values';

/** A number written out in characters, as the heads of several open archive formats have it. */
export interface Digits {
  readonly size: Compiled;
  readonly base: 8 | 10 | 16;
}

const ZERO = 0x30;
const SPACE = 0x20;

const isBlank = (byte: number | undefined): boolean => byte === SPACE || byte === 0;

/** What a digit of at most base 16 stands for; 99 for all else. */
function digitOf(byte: number): number {
  if (byte >= ZERO && byte <= 0x39) return byte - ZERO;
  const letter = byte | 0x20;
  return letter >= 0x61 && letter <= 0x66 ? letter - 0x57 : 99;
}

/**
 * The number that digits spell; blanks and zeros around it are left out. A first byte with its highest bit set
 * means the bytes behind it are the number itself, big endian, as tar has it for sizes beyond its digits.
 */
export function readDigits(bytes: Uint8Array, base: Digits['base']): KeptNumber {
  const raw = bytes.slice();
  if (raw.length > 8 && raw[0]! >= 0x80) {
    let wide = BigInt(raw[0]! & 0x7f);
    for (const byte of raw.subarray(1)) wide = (wide << 8n) | BigInt(byte);
    if (wide > BigInt(Number.MAX_SAFE_INTEGER)) throw senseless('a number of at most 53 bits', 'more');
    return { sort: 'number', value: Number(wide), raw };
  }
  let from = 0;
  let to = raw.length;
  while (from < to && isBlank(raw[from])) from++;
  while (to > from && isBlank(raw[to - 1])) to--;
  let value = 0;
  for (let i = from; i < to; i++) {
    const digit = digitOf(raw[i]!);
    if (!(digit < base))
      throw senseless(`digits of base ${base}`, JSON.stringify(String.fromCharCode(...raw.subarray(0, 40))));
    value = value * base + digit;
  }
  if (!Number.isSafeInteger(value)) throw senseless('a number of at most 53 bits', 'more');
  return { sort: 'number', value, raw };
}

/** Spells a number as the one before it was spelled: its filling on the left and what ended it. */
export function writeDigits(value: number, base: Digits['base'], before: Uint8Array): Uint8Array {
  const digits = value.toString(base);
  const isUpper =
    /[A-F]/.test(String.fromCharCode(...before)) && !/[a-f]/.test(String.fromCharCode(...before));
  const text = isUpper ? digits.toUpperCase() : digits;
  let ending = 0;
  while (ending < before.length && isBlank(before[before.length - 1 - ending])) ending++;
  const out = new Uint8Array(before.length);
  if (before[0]! >= 0x80 && before.length > 8) {
    let rest = BigInt(value);
    for (let i = out.length - 1; i >= 0; i--, rest >>= 8n) out[i] = Number(rest & 0xffn);
    out[0]! |= 0x80;
    return out;
  }
  // Blanks behind a decimal number fill its field; one or two behind the others end it.
  const isLeft = base === 10 ? ending > 0 || before[0] !== ZERO : ending > 2 && ending < before.length;
  const ends = isLeft || ending === before.length ? 0 : ending;
  const room = before.length - ends;
  if (text.length > room)
    throw new FormatError('does-not-fit', {
      expected: `at most ${room} digits of base ${base}`,
      actual: text,
    });
  const lead = before[0] === SPACE && before.length - ending > 0 ? SPACE : ZERO;
  if (isLeft) {
    out.fill(ending > 0 ? before[before.length - 1]! : SPACE);
    for (let i = 0; i < text.length; i++) out[i] = text.charCodeAt(i);
    return out;
  }
  out.fill(lead, 0, room);
  for (let i = 0; i < text.length; i++) out[room - text.length + i] = text.charCodeAt(i);
  out.set(before.subarray(room), room);
  return out;
}
