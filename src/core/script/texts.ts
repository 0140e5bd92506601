import { equalBytes } from '../bytes';
import { senseless, type KeptText } from './values';

export type TextEncoding = 'ascii' | 'utf-8' | 'utf-16le' | 'utf-16be' | 'latin1';
export const TEXT_ENCODINGS: readonly TextEncoding[] = ['ascii', 'utf-8', 'utf-16le', 'utf-16be', 'latin1'];

/** Bytes that one unit of the encoding takes, and so its terminating zero. */
export const unitLength = (encoding: TextEncoding): 1 | 2 => (encoding.startsWith('utf-16') ? 2 : 1);

/** A text up to its terminating zero, if it has one. Throws FormatError `bad-value` on broken bytes. */
export function decodeText(bytes: Uint8Array, encoding: TextEncoding): string {
  if (encoding === 'latin1' || encoding === 'ascii') {
    let text = '';
    for (const byte of bytes) {
      if (byte === 0) break;
      if (encoding === 'ascii' && byte > 0x7f) throw senseless('ASCII', `byte 0x${byte.toString(16)}`);
      text += String.fromCharCode(byte);
    }
    return text;
  }
  try {
    const text = new TextDecoder(encoding, { fatal: true, ignoreBOM: true }).decode(bytes);
    const end = text.indexOf('\0');
    return end < 0 ? text : text.slice(0, end);
  } catch {
    throw senseless(`text in ${encoding}`, 'bytes that are none');
  }
}

/** The bytes of a text, without a terminating zero. */
export function encodeText(text: string, encoding: TextEncoding): Uint8Array {
  if (encoding === 'utf-8') return new TextEncoder().encode(text);
  const wide = unitLength(encoding) === 2;
  const bytes = new Uint8Array(text.length * (wide ? 2 : 1));
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    if (!wide && code > (encoding === 'ascii' ? 0x7f : 0xff))
      throw senseless(`characters of ${encoding}`, JSON.stringify(text[i]));
    if (!wide) bytes[i] = code;
    else {
      bytes[2 * i + (encoding === 'utf-16le' ? 0 : 1)] = code & 0xff;
      bytes[2 * i + (encoding === 'utf-16le' ? 1 : 0)] = code >> 8;
    }
  }
  return bytes;
}

/** The text in a field, kept with its bytes where padding or spelling would be lost otherwise. */
export function readText(bytes: Uint8Array, encoding: TextEncoding): string | KeptText {
  const text = decodeText(bytes, encoding);
  const plain = encodeText(text, encoding);
  const padded = new Uint8Array(bytes.length);
  padded.set(plain.subarray(0, bytes.length));
  return plain.length <= bytes.length && equalBytes(padded, bytes)
    ? text
    : { sort: 'text', text, raw: bytes.slice() };
}
