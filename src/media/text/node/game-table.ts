import { FormatError, memorySource, type ByteSource } from '@/core/bytes';
import type { TextHead } from '@/media/head';
import type { MediaScripts } from '@/platform/node/media-scripts';
import { nodePrimitives } from '@/platform/node/primitives';
import { describedTable, type LineTable } from '../core/lines';

/** A table of texts of a game's own, where a script with a section for lines knows the bytes and they are as it says. */
export function gameTable(
  bytes: Uint8Array,
  name: string,
  scripts: MediaScripts,
  source: ByteSource = memorySource(bytes, name),
): LineTable | undefined {
  const script = scripts(source, 'lines')?.script;
  if (!script) return undefined;
  try {
    return describedTable(script, bytes, name, nodePrimitives);
  } catch (error) {
    // What is broken is no table; its bytes are shown.
    if (error instanceof FormatError) return undefined;
    throw error;
  }
}

const MOST_FIRST_LENGTH = 160;
/** So many lines of a table are listed where it is only looked at. */
const MOST_LISTED = 2000;

export const tableHead = ({ form, lines }: LineTable): TextHead => ({
  ...{ sort: 'text', encoding: form, lineEnds: 'none', lines: lines.length },
  first: (lines.find(({ texts }) => texts[0])?.texts[0] ?? '')
    .replace(/\s+/g, ' ')
    .slice(0, MOST_FIRST_LENGTH),
});

/** Its lines below each other, each language behind the key. */
export const listed = ({ lines }: LineTable): string =>
  lines
    .slice(0, MOST_LISTED)
    .map(({ key, texts }) => [key, ...texts.map((text) => text ?? '')].join('\t'))
    .join('\n') + (lines.length > MOST_LISTED ? `\n… ${lines.length - MOST_LISTED} more` : '');
