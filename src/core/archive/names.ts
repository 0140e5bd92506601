import { hexOf64, refOfBytes } from '../bytes';
import { hashes, hashOf } from '../hashes';
import type { Primitives } from '../primitives';
import type { NameHashing } from '../script';

/** The number that stands for a path, as 16 hexadecimal digits. */
export function hashOfPath(path: string, hashing: NameHashing, primitives: Primitives): string {
  let text = hashing.separator === '\\' ? path.replaceAll('/', '\\') : path;
  if (hashing.lowerCase) text = text.toLowerCase();
  const value = hashOf(hashes.get(hashing.hash)!, refOfBytes(new TextEncoder().encode(text)), primitives);
  if (value instanceof Uint8Array)
    return hexOf64(new DataView(value.buffer, value.byteOffset).getBigUint64(0));
  return hexOf64(value);
}

/** Reads a list of names: a path a line, empty lines and lines that begin with `#` left out. */
export function parseNameList(text: string): string[] {
  return text
    .split(/\r?\n/)
    .map((line) => line.trim().replaceAll('\\', '/'))
    .filter((line) => line !== '' && !line.startsWith('#'));
}
