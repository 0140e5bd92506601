import { encodeText, type TextEncoding } from '@/core/script';
import { decodeAnyText } from '../encoding';

/** A text file taken apart from its encoding. */
export interface Shell {
  readonly text: string;
  readonly lineEnd: '\n' | '\r\n';
  bytesOf(text: string): number;
  /** The file with another text, in the encoding and with the mark that it had. */
  wrap(text: string): Uint8Array;
}

const MARK = '\ufeff';

/** Undefined for what is no text. */
export function shellOf(bytes: Uint8Array): Shell | undefined {
  const facts = decodeAnyText(bytes);
  if (!facts) return undefined;
  const encoding: TextEncoding = facts.encoding;
  return {
    text: facts.text,
    lineEnd: facts.lineEnds === 'crlf' ? '\r\n' : '\n',
    bytesOf: (text) => encodeText(text, encoding).length,
    wrap: (text) => encodeText(facts.mark ? MARK + text : text, encoding),
  };
}
