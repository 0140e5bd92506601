import { equalBytes } from '@/core/bytes';
import type { Primitives } from '@/core/primitives';
import type { Script } from '@/core/script';
import type { DataTable } from '../data-table';
import { describedData } from '../described-table';
import { readOpenTables } from '../read-open';
import { compareTables, sameCell } from './compare-tables';
import { writeDescribedCells } from './described-cells';
import { writeCells, type TableEdit } from './write-cells';

/** A value that two changes of one table say differently. */
export interface CellClash {
  readonly table: string;
  readonly row: number;
  readonly column: string;
  readonly within: TableEdit['within'];
  /** Which of the changes say it, by their numbers. */
  readonly by: readonly number[];
}

export interface MergedCells {
  readonly bytes: Uint8Array;
  /** Values of each change that are in it. */
  readonly taken: readonly number[];
  readonly clashes: readonly CellClash[];
}

/** How files of one form are read and written, and told to say the same. */
export interface TableForms {
  read(bytes: Uint8Array): { readonly form: string; readonly tables: readonly DataTable[] } | undefined;
  write(bytes: Uint8Array, edits: readonly TableEdit[]): Uint8Array;
  isSame(one: Uint8Array, other: Uint8Array): boolean;
}

/** Forms that need no script: two files say the same where their documents do, however they are spelled. */
export const openForms = (name: string): TableForms => ({
  read: (bytes) => readOpenTables(bytes, name),
  write: (bytes, edits) => writeCells(bytes, name, edits),
  isSame: (one, other) =>
    sameCell(readOpenTables(one, name)?.document, readOpenTables(other, name)?.document),
});

/** The form that a script describes, in which files say the same where their bytes do. */
export const describedForms = (script: Script, name: string, primitives: Primitives): TableForms => ({
  read: (bytes) => ({ form: script.title, tables: [describedData(script, bytes, name, primitives)] }),
  write: (bytes, edits) => writeDescribedCells(script, bytes, name, primitives, edits),
  isSame: equalBytes,
});

/** The values that a state of a table file has otherwise; undefined where more than values differs. */
function editsOf(base: Uint8Array, changed: Uint8Array, forms: TableForms): TableEdit[] | undefined {
  const before = forms.read(base);
  const after = forms.read(changed);
  if (!before || after?.form !== before.form || after.tables.length !== before.tables.length)
    return undefined;
  const edits: TableEdit[] = [];
  for (const [i, table] of before.tables.entries()) {
    const other = after.tables[i]!;
    const { cells, added, removed, columnsAdded, columnsRemoved } = compareTables(table, other);
    if (other.name !== table.name) return undefined;
    if (added.length + removed.length + columnsAdded.length + columnsRemoved.length > 0) return undefined;
    for (const { row, column, within, after: value, before: was } of cells) {
      if (value === undefined || was === undefined) return undefined;
      // What is worked out from others follows them.
      if (!table.writable || table.writable.has(column))
        edits.push({ table: table.name, row, column, within, value });
    }
  }
  // What differs besides values of tables would be lost.
  return forms.isSame(edits.length > 0 ? forms.write(base, edits) : base, changed) ? edits : undefined;
}

const idOf = ({ table, row, column, within }: TableEdit): string =>
  JSON.stringify([table, row, column, within]);

/**
 * Several changes of one table file put together, value by value: where two say one value differently, the later has its way, and that is told. Undefined where one of them changes more
 * than values (rows or columns that come or go, another form), or where what differs is not seen in the tables (notes between rows): then whole files stand against each other.
 */
export function mergeCells(
  base: Uint8Array,
  changes: readonly Uint8Array[],
  forms: TableForms,
): MergedCells | undefined {
  const said = new Map<string, { edit: TableEdit; by: number[]; isClash: boolean }>();
  for (const [number, changed] of changes.entries()) {
    const edits = editsOf(base, changed, forms);
    if (!edits) return undefined;
    for (const edit of edits) {
      const id = idOf(edit);
      const before = said.get(id);
      if (before)
        said.set(id, {
          edit,
          by: [...before.by, number],
          isClash: before.isClash || !sameCell(before.edit.value, edit.value),
        });
      else said.set(id, { edit, by: [number], isClash: false });
    }
  }
  const all = [...said.values()];
  const bytes =
    all.length === 0
      ? base
      : forms.write(
          base,
          all.map(({ edit }) => edit),
        );
  return {
    bytes,
    taken: changes.map((_, number) => all.filter(({ by }) => by.at(-1) === number).length),
    clashes: all.flatMap(({ edit: { table, row, column, within }, by, isClash }) =>
      isClash ? [{ table, row, column, within, by }] : [],
    ),
  };
}
