import { equalBytes } from '../bytes';
import { senseless, type KeptText } from './values';

export const TEXT_ENCODINGS = [
  'ascii',
  'utf-8',
  'utf-16le',
  'utf-16be',
  'latin1',
  'windows-1252',
  'shift_jis',
] as const;
export type TextEncoding = (typeof TEXT_ENCODINGS)[number];

/** Bytes that one unit of the encoding takes, and so its terminating zero. */
export const unitLength = (encoding: TextEncoding): 1 | 2 => (encoding.startsWith('utf-16') ? 2 : 1);

/** Texts up to this length are put together here, which costs less than asking the platform. */
const SHORT_TEXT = 256;

/**
 * A short text of printable ASCII, which means the same in every encoding of single bytes here and comes out as the same
 * bytes again; undefined for all else. Shift_JIS has signs of its own for two of them.
 */
export function plainAscii(bytes: Uint8Array, encoding: TextEncoding): string | undefined {
  if (bytes.length > SHORT_TEXT || unitLength(encoding) === 2 || encoding === 'shift_jis') return undefined;
  for (let i = 0; i < bytes.length; i++) if ((bytes[i]! - 0x20) >>> 0 > 0x5e) return undefined;
  return String.fromCharCode.apply(undefined, bytes as unknown as number[]);
}

/** All of the bytes as a text. Throws FormatError `bad-value` on broken bytes. */
export function decodeText(bytes: Uint8Array, encoding: TextEncoding): string {
  const simple = plainAscii(bytes, encoding);
  if (simple !== undefined) return simple;
  if (encoding === 'latin1' || encoding === 'ascii') {
    let text = '';
    for (const byte of bytes) {
      if (encoding === 'ascii' && byte > 0x7f) throw senseless('ASCII', `byte 0x${byte.toString(16)}`);
      text += String.fromCharCode(byte);
    }
    return text;
  }
  if (encoding === 'windows-1252') return decode1252(bytes);
  try {
    return decoderOf(encoding).decode(bytes);
  } catch {
    throw senseless(`text in ${encoding}`, 'bytes that are none');
  }
}

/**
 * What the bytes 0x80 to 0x9f stand for in windows-1252 (WHATWG Encoding Standard). Node's own decoder takes them for
 * control characters in some versions, so it is not asked.
 */
const HIGH_1252 =
  '\u20ac\u0081\u201a\u0192\u201e\u2026\u2020\u2021\u02c6\u2030\u0160\u2039\u0152\u008d\u017d\u008f' +
  '\u0090\u2018\u2019\u201c\u201d\u2022\u2013\u2014\u02dc\u2122\u0161\u203a\u0153\u009d\u017e\u0178';

function decode1252(bytes: Uint8Array): string {
  let text = '';
  for (const byte of bytes)
    text += byte >= 0x80 && byte < 0xa0 ? HIGH_1252[byte - 0x80]! : String.fromCharCode(byte);
  return text;
}

const decoders = new Map<string, TextDecoder>();

function decoderOf(encoding: TextEncoding): TextDecoder {
  let decoder = decoders.get(encoding);
  if (!decoder) {
    decoder = new TextDecoder(encoding, { fatal: true, ignoreBOM: true });
    decoders.set(encoding, decoder);
  }
  return decoder;
}

/** The bytes of a text, without a terminating zero. */
export function encodeText(text: string, encoding: TextEncoding): Uint8Array {
  if (encoding === 'utf-8') return encodeUtf8(text);
  if (encoding === 'windows-1252' || encoding === 'shift_jis') return encodeByTable(text, encoding);
  const wide = unitLength(encoding) === 2;
  const bytes = new Uint8Array(text.length * (wide ? 2 : 1));
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    if (!wide && code > (encoding === 'ascii' ? 0x7f : 0xff)) throw notIn(encoding, text[i]!);
    if (!wide) bytes[i] = code;
    else {
      bytes[2 * i + (encoding === 'utf-16le' ? 0 : 1)] = code & 0xff;
      bytes[2 * i + (encoding === 'utf-16le' ? 1 : 0)] = code >> 8;
    }
  }
  return bytes;
}

const utf8 = new TextEncoder();

/** Short ASCII is put together here, which costs less than asking the platform. */
function encodeUtf8(text: string): Uint8Array {
  if (text.length > SHORT_TEXT) return utf8.encode(text);
  const bytes = new Uint8Array(text.length);
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    if (code > 0x7f) return utf8.encode(text);
    bytes[i] = code;
  }
  return bytes;
}

function notIn(encoding: TextEncoding, sign: string): Error {
  return senseless(`characters of ${encoding}`, JSON.stringify(sign));
}

const tables = new Map<string, ReadonlyMap<string, readonly number[]>>();

/** The platform decodes these encodings (WHATWG Encoding Standard) but does not encode them, so the table is turned round. */
function encodeByTable(text: string, encoding: 'windows-1252' | 'shift_jis'): Uint8Array {
  let table = tables.get(encoding);
  if (!table) tables.set(encoding, (table = turnedTable(encoding)));
  const out: number[] = [];
  for (const sign of text) {
    const bytes = table.get(sign);
    if (!bytes) throw notIn(encoding, sign);
    out.push(...bytes);
  }
  return Uint8Array.from(out);
}

function turnedTable(encoding: 'windows-1252' | 'shift_jis'): ReadonlyMap<string, readonly number[]> {
  const table = new Map<string, readonly number[]>();
  const add = (...bytes: number[]): void => {
    try {
      const text = decodeText(Uint8Array.from(bytes), encoding);
      if ([...text].length === 1 && !table.has(text)) table.set(text, bytes);
    } catch {
      // These bytes stand for nothing.
    }
  };
  for (let byte = 0; byte < 256; byte++) add(byte);
  if (encoding === 'shift_jis')
    for (let lead = 0x81; lead <= 0xfc; lead++)
      for (let trail = 0x40; trail <= 0xfc; trail++) add(lead, trail);
  return table;
}

/** The text in a field of fixed size, up to its first `fill` unit, kept with its bytes where spelling would be lost. */
export function readText(bytes: Uint8Array, encoding: TextEncoding, fill = 0): string | KeptText {
  const unit = unitLength(encoding);
  let end = bytes.length - (bytes.length % unit);
  if (fill === 0) {
    for (let at = 0; at < end; at += unit)
      if (bytes[at] === 0 && (unit === 1 || bytes[at + 1] === 0)) {
        end = at;
        break;
      }
  } else while (end > 0 && bytes[end - 1] === fill) end -= unit;
  const simple = plainAscii(bytes.subarray(0, end), encoding);
  if (simple !== undefined && isFilled(bytes, end, fill)) return simple;
  const text = simple ?? decodeText(bytes.subarray(0, end), encoding);
  const plain = encodeText(text, encoding);
  const padded = new Uint8Array(bytes.length).fill(fill);
  padded.set(plain.subarray(0, bytes.length));
  return plain.length <= bytes.length && equalBytes(padded, bytes)
    ? text
    : { sort: 'text', text, raw: bytes.slice() };
}

function isFilled(bytes: Uint8Array, from: number, fill: number): boolean {
  for (let i = from; i < bytes.length; i++) if (bytes[i] !== fill) return false;
  return true;
}
