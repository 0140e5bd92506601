import type { MediumNode } from '@/media/medium';
import { decodeAnyText, MOST_TEXT_BYTES, textHead } from '../core/encoding';
import { fitTable } from '../core/fit-table';
import { fitText } from '../core/fit-text';
import { gameTable, listed, tableHead } from './game-table';
import { toPretty, toUtf8 } from './texts';

/** Texts, where there is Node. */
export const textNode: MediumNode = {
  kind: 'text',
  isLast: true,
  converters: { 'utf-8': toUtf8, pretty: toPretty },
  head({ name, first, held, source }, scripts) {
    const bytes = held();
    const table = bytes && gameTable(bytes, name, scripts, source);
    if (table) return Promise.resolve(tableHead(table));
    const text = decodeAnyText(bytes ?? first);
    return Promise.resolve(text && (bytes ? textHead(text) : { sort: 'large' }));
  },
  look(head, file, tools) {
    if (head.sort !== 'text') return Promise.resolve(undefined);
    const table = gameTable(file.bytes(), file.name, tools.scripts);
    // Read here; its lines are worked on where all of the game's are.
    if (table) return Promise.resolve({ ...head, text: listed(table), whole: false });
    const { text } = decodeAnyText(file.bytes())!;
    const whole = file.size <= MOST_TEXT_BYTES;
    return Promise.resolve({ ...head, text: whole ? text : text.slice(0, MOST_TEXT_BYTES), whole });
  },
  fit(slot, given, mends, { scripts }) {
    if (slot.kind !== 'text') return Promise.resolve(undefined);
    const table = gameTable(slot.bytes, slot.name, scripts);
    return Promise.resolve(
      table
        ? fitTable(table, () => gameTable(given.bytes, slot.name, scripts), given.bytes)
        : fitText(slot.bytes, given.bytes, mends),
    );
  },
};
