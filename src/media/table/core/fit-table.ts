import { FormatError } from '@/core/bytes';
import type { Finding, Prepared } from '@/core/fit';
import type { Cell } from './cell';
import type { DataTable } from './data-table';
import { compareTables } from './edit';
import { foundInTables } from './wording';

/** Tables of a file and their form. */
export interface FormedTables {
  readonly form: string;
  readonly tables: readonly DataTable[];
}

/** Sorts of values that something which reads one of them takes. */
function sortsOf(cells: readonly (Cell | undefined)[]): Set<string> {
  const sorts = new Set<string>();
  for (const cell of cells)
    if (cell !== undefined && cell !== null)
      sorts.add(
        typeof cell === 'bigint'
          ? 'number'
          : cell instanceof Uint8Array
            ? 'bytes'
            : Array.isArray(cell)
              ? 'list'
              : typeof cell,
      );
  return sorts;
}

/** A file of tables given for another: whether it is one in the same form, and has the tables, fields, sorts of values and rows that were there. `read` throws FormatError for what is broken. */
export function fitTable(
  slot: FormedTables,
  given: Uint8Array,
  read: () => FormedTables | undefined,
): Prepared {
  let own: FormedTables | undefined;
  let why = '';
  try {
    own = read();
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    why = error.message;
  }
  const { form } = slot;
  if (!own || own.tables.length === 0)
    return { bytes: undefined, findings: [foundInTables('does not fit', 'no-table', { form, why })] };
  if (own.form !== form)
    return {
      bytes: undefined,
      findings: [foundInTables('does not fit', 'other-form', { is: own.form, was: form })],
    };
  const findings: Finding[] = [];
  let [cells, added, removed] = [0, 0, 0];
  const lost: string[] = [];
  const others: string[] = [];
  for (const table of slot.tables) {
    const now = own.tables.find(({ name }) => name === table.name);
    const called = (column: string): string => (table.name === '' ? column : `${table.name}.${column}`);
    if (!now) {
      lost.push(table.name || 'all of it');
      continue;
    }
    const changes = compareTables(table, now);
    cells += changes.cells.length;
    added += changes.added.length;
    removed += changes.removed.length;
    lost.push(...changes.columnsRemoved.map(called));
    for (const { name, cells: was } of table.columns) {
      const is = now.columns.find((one) => one.name === name);
      const known = sortsOf(was);
      if (is && known.size > 0 && [...sortsOf(is.cells)].some((sort) => !known.has(sort)))
        others.push(called(name));
    }
  }
  if (lost.length > 0) findings.push(foundInTables('look', 'lost-columns', { names: lost }));
  if (others.length > 0) findings.push(foundInTables('look', 'other-sort', { names: others }));
  if (removed > 0) findings.push(foundInTables('look', 'lost-rows', { count: removed }));
  if (findings.length === 0) findings.push(foundInTables('fits', 'values', { cells, added }));
  return { bytes: given, findings };
}
