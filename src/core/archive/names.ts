import { hexOf64, refOfBytes } from '../bytes';
import { hashes, hashOf } from '../hashes';
import type { Primitives } from '../primitives';
import { encodeText, type NameHashing } from '../script';

/** The number that stands for a path, as 16 hexadecimal digits. Throws FormatError where the encoding lacks a character. */
export function hashOfPath(
  path: string,
  hashing: NameHashing,
  primitives: Primitives,
  seed?: bigint,
): string {
  let text = hashing.extension === 'dropped' ? path.replace(/\.[^./]*$/, '') : path;
  if (hashing.separator !== '/') text = text.replaceAll('/', hashing.separator);
  if (hashing.spelling === 'lower') text = text.toLowerCase();
  if (hashing.spelling === 'upper') text = text.toUpperCase();
  const bytes = encodeText(`${hashing.before}${text}${hashing.behind}`, hashing.encoding);
  const value = hashOf(hashes.get(hashing.hash)!, refOfBytes(bytes), primitives, seed);
  const width = hashing.bits / 8;
  if (value instanceof Uint8Array) {
    const kept = hashing.half === 'last' ? value.subarray(value.length - width) : value.subarray(0, width);
    let number = 0n;
    for (const byte of kept) number = (number << 8n) | BigInt(byte);
    return hexOf64(number);
  }
  const wide = BigInt(value);
  return hexOf64(
    hashing.half === 'first' ? wide >> BigInt(64 - hashing.bits) : BigInt.asUintN(hashing.bits, wide),
  );
}

/** Reads a list of names: a path a line, empty lines and lines that begin with `#` left out. */
export function parseNameList(text: string): string[] {
  return text
    .split(/\r?\n/)
    .map((line) => line.trim().replaceAll('\\', '/'))
    .filter((line) => line !== '' && !line.startsWith('#'));
}
