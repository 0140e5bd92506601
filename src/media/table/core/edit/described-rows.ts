import { openArchive } from '@/core/archive';
import { memorySource, withFacts } from '@/core/bytes';
import { editEntries, RowCopier, type RowValues } from '@/core/mod';
import type { Primitives } from '@/core/primitives';
import type { Script } from '@/core/script';
import type { DataTable } from '../data-table';
import { describedData, fieldOfColumn } from '../described-table';
import { sameCell } from './compare-tables';
import { carried, valueLike, writtenOut } from './described-cells';
import { notWritable, type RowEdit } from './write-rows';

/**
 * A table of a game's own with a copy of a row, or without a row, by its script: counts, sizes and places follow. A copy stands behind all others, or where the script keeps the order of rows. What was written is read
 * again, and nothing is given back unless exactly that changed in what rows carry. Throws FormatError where it cannot be written so.
 */
export function writeDescribedRow(
  script: Script,
  bytes: Uint8Array,
  name: string,
  primitives: Primitives,
  edit: RowEdit,
): Uint8Array {
  const before = describedData(script, bytes, name, primitives);
  if (before.name !== edit.table || edit.row >= before.count)
    throw notWritable(name, edit, `a row of ${before.name || name}`, 'none');
  if (edit.does === 'remove' && before.count < 2)
    throw notWritable(name, edit, 'other rows beside it', 'the only row');
  const archive = openArchive(script, memorySource(bytes, name), { primitives });
  const made = withFacts({ file: name, fieldPath: `row ${edit.row + 1}` }, () => {
    if (edit.does === 'remove')
      return writtenOut(editEntries(archive, { removed: new Set([edit.row]), mayRename: true }));
    const copier = new RowCopier(archive);
    copier.copyRows([{ like: edit.row, values: keyOf() }]);
    return writtenOut(copier.finish());
  });
  refuseOthers(carried(before), carried(describedData(script, made, name, primitives)), name, edit);
  return made;

  function keyOf(): RowValues {
    if (!edit.key) return [];
    const { column: title, value: cell } = edit.key;
    const entry = archive.entries[edit.row]!;
    const column = script.table?.columns.find((one) => one.title === title);
    const field = column && fieldOfColumn(entry, column.value);
    const was = field && entry.row.get(field.index);
    const value = was === undefined ? undefined : valueLike(was, cell);
    if (!field || value === undefined)
      throw notWritable(
        name,
        edit,
        `${title} as a field that the row carries`,
        'what is worked out from others',
      );
    return [[field.index, value]];
  }
}

/** Refuses a table whose rows are not those before with exactly the one more or less. */
function refuseOthers(before: DataTable, after: DataTable, name: string, edit: RowEdit): void {
  const isSameRow = (from: number, to: number, isCopy = false): boolean =>
    before.columns.every(({ name: title, cells }, i) =>
      sameCell(
        after.columns[i]?.cells[to],
        isCopy && edit.key?.column === title ? edit.key.value : cells[from],
      ),
    );
  const isCopy = edit.does === 'copy';
  const count = before.count + (isCopy ? 1 : -1);
  let from = 0;
  let copies = 0;
  let isRight = after.count === count && after.columns.length === before.columns.length;
  for (let to = 0; to < count && isRight; to++) {
    if (!isCopy && from === edit.row) from++;
    if (from < before.count && isSameRow(from, to)) from++;
    else if (isCopy && copies === 0 && isSameRow(edit.row, to, true)) copies++;
    else isRight = false;
  }
  if (!isRight)
    throw notWritable(
      name,
      edit,
      isCopy ? 'one row more, and all else as it was' : 'one row less, and all else as it was',
      'it would be read otherwise',
    );
}
