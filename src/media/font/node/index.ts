import { FormatError } from '@/core/bytes';
import { typeOfHead } from '@/core/kinds';
import type { MediumNode } from '@/media/medium';
import { fitFont, scriptsOf, type FontSigns } from '../core';
import { signsAsTable } from '../core/signs-table';
import { inMemory } from '@/platform/node/convert/converter';
import { fontOf } from './open-font';

/** Fonts, where there is Node. */
export const fontNode: MediumNode = {
  kind: 'font',
  converters: {
    signs: inMemory('.csv', (bytes, path, { mediaScripts }) => {
      const font = fontOf(bytes, path, mediaScripts);
      if (font) return new TextEncoder().encode(signsAsTable(font));
      throw new FormatError('bad-value', { file: path, expected: 'a font', actual: 'other bytes' });
    }),
  },
  head({ name, held, describedKind, source, first }, scripts) {
    const isDescribed = source && scripts(source, 'font');
    if (!isDescribed && describedKind !== 'font' && typeOfHead(first)?.kind !== 'font')
      return Promise.resolve(undefined);
    const bytes = held();
    if (!bytes) return Promise.resolve({ sort: 'large' });
    const font = fontOf(bytes, name, scripts);
    return Promise.resolve(
      font && {
        ...{ sort: 'font', name: font.name, form: font.form },
        ...{ signs: font.widths.size, scripts: scriptsOf(font) },
      },
    );
  },
  look(head, file, tools) {
    if (head.sort !== 'font') return Promise.resolve(undefined);
    const font = fontOf(file.bytes(), file.name, tools.scripts);
    return Promise.resolve({ ...head, first: [...(font?.widths ?? [])].slice(0, MOST_SHOWN) });
  },
  fit(slot, given, _mends, { scripts }) {
    if (slot.kind !== 'font') return Promise.resolve(undefined);
    const own = fontOf(slot.bytes, slot.name, scripts);
    return Promise.resolve(own && fitFont(own, readable(given.bytes, slot.name, scripts), given.bytes));
  },
};

export { fontOf } from './open-font';

/** So many signs are shown. */
const MOST_SHOWN = 4000;

function readable(...args: Parameters<typeof fontOf>): FontSigns | undefined {
  try {
    return fontOf(...args);
  } catch (error) {
    if (error instanceof FormatError) return undefined;
    throw error;
  }
}
