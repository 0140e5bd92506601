import zlib from 'node:zlib';
import { painted } from '../drawing/painted';
import { lettering, letteringWidth } from '../drawing/lettering';

/** Signs of the font that is talked in: those of the languages that the game has, and no others. */
const SIGNS = [
  ...Array.from({ length: 0x7f - 0x20 }, (_, i) => String.fromCharCode(0x20 + i)),
  ...'ÄÖÜäöüßÆØÅæøåé…’“”„–',
];
/** Each is drawn into a cell of so many spots, a bit for each. */
const CELL = 24;
const SIZE = 18;

/** How wide a text of the talk is drawn; tags and what the game puts in are not counted. */
export const talkWidth = (text: string): number =>
  [...text.replace(/<[^>]*>|\{[^{}]*\}/g, '')].reduce((sum, sign) => sum + widthOf(sign), 0);

const widths = new Map<string, number>();
function widthOf(sign: string): number {
  let width = widths.get(sign);
  if (width === undefined) widths.set(sign, (width = Math.max(1, Math.round(letteringWidth(sign, SIZE)))));
  return width;
}

const BYTES_OF_CELL = (CELL * CELL) / 8;

/**
 * The font of the talk: a head with a sum over its rows, a row for each sign with its code point, its width and the place of its cell, then the cells, 72 bytes each; empty ones where none are given.
 */
export function glyphTable(cells: Buffer = Buffer.alloc(BYTES_OF_CELL * SIGNS.length)): Buffer {
  const rows = Buffer.alloc(12 * SIGNS.length);
  SIGNS.forEach((sign, i) => {
    rows.writeUInt32LE(sign.codePointAt(0)!, 12 * i);
    rows.writeUInt8(widthOf(sign), 12 * i + 4);
    rows.writeUInt32LE(16 + rows.length + BYTES_OF_CELL * i, 12 * i + 8);
  });
  const head = Buffer.alloc(16);
  head.write('GLYPHS\0\0', 'latin1');
  head.writeUInt16LE(SIGNS.length, 8);
  head.writeUInt8(CELL, 10);
  head.writeUInt32LE(zlib.crc32(rows), 12);
  return Buffer.concat([head, rows, cells]);
}

/** The font with its signs drawn. */
export async function talkFont(): Promise<Buffer> {
  const drawn = SIGNS.map((sign, i) => lettering(sign, i * CELL + CELL / 2, 18, SIZE, '#fff')).join('');
  const width = SIGNS.length * CELL;
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${CELL}"><rect width="100%" height="100%"/>${drawn}</svg>`;
  const spots = await painted(svg, (picture) => picture.extractChannel(0).raw().toBuffer());
  const cells = Buffer.alloc(BYTES_OF_CELL * SIGNS.length);
  for (let i = 0; i < SIGNS.length; i++)
    for (let spot = 0; spot < CELL * CELL; spot++) {
      const [x, y] = [spot % CELL, Math.floor(spot / CELL)];
      if (spots[y * width + i * CELL + x]! > 127)
        cells[BYTES_OF_CELL * i + (spot >> 3)]! |= 0x80 >> (spot & 7);
    }
  return glyphTable(cells);
}
