import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import opentype, { type Font } from 'opentype.js';

const require = createRequire(import.meta.url);
let font: Font | undefined;

function load(): Font {
  const file =
    require.resolve('@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-800-normal.woff');
  const bytes = readFileSync(file);
  return opentype.parse(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length));
}

/** Lettering as a path, so that no font of the machine has a say in the picture. Centred on x. */
export function lettering(
  text: string,
  x: number,
  baseline: number,
  size: number,
  fill: string,
  extra = '',
): string {
  font ??= load();
  const width = font.getAdvanceWidth(text, size);
  const shaped = Number.isFinite(width) ? drawnAt(font, text, x - width / 2, baseline, size, true) : '';
  // Some pairs of letters have a kerning that the package cannot read.
  const data =
    shaped === '' || shaped.includes('NaN')
      ? drawnAt(
          font,
          text,
          x - font.getAdvanceWidth(text, size, { kerning: false }) / 2,
          baseline,
          size,
          false,
        )
      : shaped;
  return `<path d="${data}" fill="${fill}" ${extra}/>`;
}

const drawnAt = (own: Font, text: string, x: number, y: number, size: number, kerning: boolean): string =>
  own.getPath(text, x, y, size, { kerning }).toPathData(1);

/** How far what follows a text stands from its beginning, without kerning. */
export const letteringWidth = (text: string, size: number): number =>
  (font ??= load()).getAdvanceWidth(text, size, { kerning: false });
