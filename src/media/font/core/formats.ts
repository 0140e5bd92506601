import type { MediumFormats } from '@/core/kinds/formats';

/** Fonts with outlines (OpenType, ISO 14496-22; WOFF and WOFF2 of the W3C) begin with their version or a tag. */
export const fontFormats: MediumFormats = {
  signs: [
    ['otf', { at: 0, text: 'OTTO' }],
    ['ttc', { at: 0, text: 'ttcf' }],
    ['woff', { at: 0, text: 'wOFF' }],
    ['woff2', { at: 0, text: 'wOF2' }],
  ],
  tellers: [{ first: 0, ending: 'ttf', isIt: isTrueType }],
  endings: { signed: 'ttf otf ttc woff woff2' },
  namesOthers: false,
};

/** The version, a count of tables, and numbers for searching them that follow from the count. */
function isTrueType(head: Uint8Array): boolean {
  if (head.length < 28) return false;
  const view = new DataView(head.buffer, head.byteOffset, head.length);
  const tables = view.getUint16(4);
  if (view.getUint32(0) !== 0x00010000 || tables === 0 || tables > 100) return false;
  const power = Math.floor(Math.log2(tables));
  return view.getUint16(6) === 16 << power && view.getUint16(8) === power;
}
