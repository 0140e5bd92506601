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
  const data = font.getPath(text, x - width / 2, baseline, size).toPathData(1);
  return `<path d="${data}" fill="${fill}" ${extra}/>`;
}
