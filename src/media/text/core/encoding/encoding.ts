import { looksLikeText, START_BYTES, wideOrderOf } from '@/core/kinds';
import type { TextHead } from '@/media/head';

/** What the bytes of a text look like. */
export interface TextFacts {
  readonly encoding: 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252';
  readonly mark: boolean;
  readonly lineEnds: 'none' | 'lf' | 'crlf' | 'mixed';
  readonly text: string;
}

/** Decodes a text by its mark, as UTF-16 or UTF-8 where it is that, else as Windows-1252; undefined for what begins as data. */
export function decodeAnyText(bytes: Uint8Array): TextFacts | undefined {
  const start = bytes.subarray(0, START_BYTES);
  if (bytes.length > 0 && !looksLikeText(start, start.length === bytes.length)) return undefined;
  const [a, b, c] = bytes;
  if (a === 0xff && b === 0xfe) return facts(bytes.subarray(2), 'utf-16le', true);
  if (a === 0xfe && b === 0xff) return facts(bytes.subarray(2), 'utf-16be', true);
  if (a === 0xef && b === 0xbb && c === 0xbf) return facts(bytes.subarray(3), 'utf-8', true);
  const order = start.includes(0) ? wideOrderOf(start) : undefined;
  if (order) return facts(bytes, order === 'little' ? 'utf-16le' : 'utf-16be', false);
  if (bytes.includes(0)) return undefined;
  return (
    facts(bytes, 'utf-8', false) ?? (mostlyPrintable(bytes) ? facts(bytes, 'windows-1252', false) : undefined)
  );
}

function facts(bytes: Uint8Array, encoding: TextFacts['encoding'], mark: boolean): TextFacts | undefined {
  try {
    const text = new TextDecoder(encoding, { fatal: true, ignoreBOM: true }).decode(bytes);
    return { encoding, mark, text, lineEnds: lineEndsOf(text) };
  } catch {
    return undefined;
  }
}

function lineEndsOf(text: string): TextFacts['lineEnds'] {
  const all = text.match(/\r?\n/g) ?? [];
  const crlf = all.filter((end) => end === '\r\n').length;
  if (all.length === 0) return 'none';
  if (crlf === 0) return 'lf';
  return crlf === all.length ? 'crlf' : 'mixed';
}

function mostlyPrintable(bytes: Uint8Array): boolean {
  let odd = 0;
  for (const byte of bytes) if (byte < 0x20 && byte !== 9 && byte !== 10 && byte !== 13) odd++;
  return odd * 50 < bytes.length;
}

const MOST_FIRST_LENGTH = 160;

/** What a text tells of itself in a list. */
export function textHead({ encoding, lineEnds, text }: TextFacts): TextHead {
  const first = text
    .slice(0, 4 * MOST_FIRST_LENGTH)
    .replace(/\s+/g, ' ')
    .trim()
    .slice(0, MOST_FIRST_LENGTH);
  return { sort: 'text', encoding, lineEnds, lines: linesOf(text), first };
}

/** Lines as a reader counts them: the end of the last one begins no other. */
function linesOf(text: string): number {
  if (text === '') return 0;
  let lines = text.endsWith('\n') ? 0 : 1;
  for (let at = text.indexOf('\n'); at >= 0; at = text.indexOf('\n', at + 1)) lines++;
  return lines;
}
