import Papa from 'papaparse';
import type { FontSigns } from './font-signs';

/** The signs of a font as CSV: each with its code point as Unicode writes it, and its width. */
export const signsAsTable = ({ widths }: FontSigns): string =>
  `${Papa.unparse(
    [...widths].map(([code, width]) => ({
      code: `U+${code.toString(16).toUpperCase().padStart(4, '0')}`,
      sign: code >= 0x20 && !(code >= 0xd800 && code <= 0xdfff) ? String.fromCodePoint(code) : '',
      width,
    })),
    { escapeFormulae: true, newline: '\n' },
  )}\n`;
