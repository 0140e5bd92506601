import { create, type Font } from 'fontkit';
import { FormatError, memorySource } from '@/core/bytes';
import { typeOfHead } from '@/core/kinds';
import type { MediaScripts } from '@/platform/node/media-scripts';
import { nodePrimitives } from '@/platform/node/primitives';
import { describedFont, type FontSigns } from '../core';

/** An open font by its package. Throws FormatError where the package cannot read it. */
function openFont(bytes: Uint8Array, name: string, form: string): FontSigns {
  try {
    const made = create(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.length));
    // Of a collection the first one counts.
    const font = 'fonts' in made ? made.fonts[0]! : made;
    return { form: form.toUpperCase(), name: nameOf(font), widths: widthsOf(font) };
  } catch (error) {
    throw new FormatError('bad-value', {
      ...{ file: name, expected: 'a font', actual: error instanceof Error ? error.message : String(error) },
      remedy: 'Open it in a program for fonts, which tells more',
    });
  }
}

function nameOf(font: Font): string {
  try {
    return font.fullName || font.familyName || '';
  } catch {
    return '';
  }
}

function widthsOf(font: Font): Map<number, number> {
  const widths = new Map<number, number>();
  for (const code of font.characterSet) {
    // A sign that is drawn as the box for what is missing is none.
    const glyph = font.glyphForCodePoint(code);
    if (glyph.id !== 0) widths.set(code, Math.round(glyph.advanceWidth));
  }
  return widths;
}

/** A font, by its script or as an open form; undefined where the bytes are none. Throws FormatError where they say that they are one and are broken. */
export function fontOf(bytes: Uint8Array, name: string, scripts: MediaScripts): FontSigns | undefined {
  const script = scripts(memorySource(bytes, name), 'font')?.script;
  if (script) return describedFont(script, bytes, name, nodePrimitives);
  const told = typeOfHead(bytes);
  return told?.kind === 'font' ? openFont(bytes, name, told.ending) : undefined;
}
