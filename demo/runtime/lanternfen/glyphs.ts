import zlib from 'node:zlib';
import { Stall } from '../common/stall';

/** How wide each sign is that the font of the talk has. */
export function readGlyphs(bytes: Buffer, what: string): ReadonlyMap<string, number> {
  if (bytes.length < 16 || bytes.toString('latin1', 0, 8) !== 'GLYPHS\0\0')
    throw new Stall(what, 'glyphs tag', 'this is no font');
  const count = bytes.readUInt16LE(8);
  const end = 16 + 12 * count;
  const cell = bytes.readUInt8(10) ** 2 / 8;
  if (end > bytes.length) throw new Stall(what, 'glyphs count', `${count} signs, but ${bytes.length} bytes`);
  if (zlib.crc32(bytes.subarray(16, end)) !== bytes.readUInt32LE(12))
    throw new Stall(what, 'glyphs check', 'the sum of its rows is another one');
  const widths = new Map<string, number>();
  for (let at = 16; at < end; at += 12) {
    const place = bytes.readUInt32LE(at + 8);
    if (place + cell > bytes.length)
      throw new Stall(what, 'glyphs place', `a cell at ${place} runs over the end`);
    widths.set(String.fromCodePoint(bytes.readUInt32LE(at)), bytes.readUInt8(at + 4));
  }
  return widths;
}

/** Signs of a text that the font has no cell for: the game shows a box for each. */
export const boxesIn = (text: string, widths: ReadonlyMap<string, number>): string[] => [
  ...new Set([...text].filter((sign) => !widths.has(sign))),
];

/** How wide a text stands in its bubble; tags are not drawn, and what is put in is not known yet. */
export const drawnWidth = (text: string, widths: ReadonlyMap<string, number>): number =>
  [...text.replace(/<[^>]*>|\{[^{}]*\}/g, '')].reduce((sum, sign) => sum + (widths.get(sign) ?? 0), 0);
