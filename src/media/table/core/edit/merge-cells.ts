import { readOpenTables } from '../read-open';
import { compareTables, sameCell } from './compare-tables';
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

/** The values that a state of a table file has otherwise; undefined where more than values differs. */
function editsOf(base: Uint8Array, changed: Uint8Array, name: string): TableEdit[] | undefined {
  const before = readOpenTables(base, name);
  const after = readOpenTables(changed, name);
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
      edits.push({ table: table.name, row, column, within, value });
    }
  }
  // What differs besides values of tables would be lost.
  const again = readOpenTables(edits.length > 0 ? writeCells(base, name, edits) : base, name);
  return again && sameCell(again.document, after.document) ? edits : undefined;
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
  name: string,
): MergedCells | undefined {
  const said = new Map<string, { edit: TableEdit; by: number[]; isClash: boolean }>();
  for (const [number, changed] of changes.entries()) {
    const edits = editsOf(base, changed, name);
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
      : writeCells(
          base,
          name,
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
