import { openArchive } from '@/core/archive';
import { FormatError, memorySource, withFacts } from '@/core/bytes';
import { editEntries, type WithinEdit } from '@/core/mod';
import type { Primitives } from '@/core/primitives';
import { isItems, type Script } from '@/core/script';
import { isList } from '../cell';
import { valueWithin } from '../data-table';
import { describedData } from '../described-table';
import { carried, writtenOut } from './described-cells';
import { valueAt } from './described-places';
import { comesOut, itemCalled, withinCell, type ItemEdit } from './write-items';

/**
 * A table of a game's own with an item more or less in a list that a row carries, by its script: counts, sizes and places follow. What was written is read again, and nothing is given back unless exactly
 * that changed in what rows carry. Throws FormatError `not-writable` where it cannot be written so.
 */
export function writeDescribedItem(
  script: Script,
  bytes: Uint8Array,
  name: string,
  primitives: Primitives,
  edit: ItemEdit,
): Uint8Array {
  const refused = (expected: string, actual: string): FormatError =>
    new FormatError('not-writable', { file: name, fieldPath: itemCalled(edit), expected, actual });
  const { row, column: title, within, at, does } = edit;
  const before = describedData(script, bytes, name, primitives);
  const archive = openArchive(script, memorySource(bytes, name), { primitives });
  const column = script.table?.columns.find((one) => one.title === title)?.value;
  const find = (which: number, place: ItemEdit['within']) => {
    const entry = archive.entries[which];
    return entry && column && valueAt(entry, column, place);
  };
  const list = find(row, within);
  if (before.name !== edit.table || !list || !isItems(list.was))
    throw refused('a list that the row carries', 'none');
  const like = does === 'add' && 'row' in edit.item ? edit.item : undefined;
  const cells = before.columns.find((one) => one.name === title)!.cells;
  const own = like ? valueWithin(cells[like.row], like.within) : valueWithin(cells[row], [...within, at]);
  if (own === undefined || (does === 'add' && !like)) throw refused('an item that it would be like', 'none');
  const { steps } = list;
  const to = does === 'copy' ? at + 1 : at;
  const change: WithinEdit =
    does === 'remove'
      ? { steps, does, at }
      : does === 'copy'
        ? { steps, does, like: at, at: to }
        : { steps, does, value: find(like!.row, like!.within)?.was, at };
  const made = withFacts({ file: name, fieldPath: itemCalled(edit) }, () =>
    writtenOut(editEntries(archive, { within: new Map([[archive.entries[row]!.index, [change]]]) })),
  );
  const wanted = withinCell(cells[row]!, within, (items) => {
    if (!isList(items)) throw refused('a list that the row carries', 'another value');
    return does === 'remove' ? items.toSpliced(at, 1) : items.toSpliced(to, 0, own);
  });
  const after = describedData(script, made, name, primitives);
  if (!comesOut([carried(before)], [carried(after)], edit, wanted))
    throw refused(
      does === 'remove' ? 'one item less, and all else as it was' : 'one item more, and all else as it was',
      'it would be read otherwise',
    );
  return made;
}
