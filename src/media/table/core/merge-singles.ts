import { NAME_COLUMN, type DataTable } from './data-table';

/** A table and the file that it is in. */
export interface FiledTable<F> {
  readonly file: F;
  readonly path: string;
  readonly form: string;
  readonly table: DataTable;
}

/** Tables of one row each that lie in one folder, end alike and say alike are one table, each file a row; `files` are those of its rows. */
export interface GroupedTable<F> extends Omit<FiledTable<F>, 'file'> {
  readonly files: readonly F[];
}

const stemOf = (path: string): string => path.slice(path.lastIndexOf('/') + 1).replace(/\.[^.]*$/, '');
const groupOf = (path: string): string =>
  `${path.slice(0, path.lastIndexOf('/') + 1)}*${/\.[^./]*$/.exec(path)?.[0] ?? ''}`;

export function mergeSingles<F>(all: readonly FiledTable<F>[]): GroupedTable<F>[] {
  const singles = new Map<string, FiledTable<F>[]>();
  const made: GroupedTable<F>[] = [];
  for (const one of all) {
    const { file, path, form, table } = one;
    if (table.count !== 1) {
      made.push({ path: idOf(path, table), form, table, files: [file] });
      continue;
    }
    const group = idOf(groupOf(path), table);
    const own = singles.get(group);
    if (own) own.push(one);
    else singles.set(group, [one]);
  }
  for (const [group, own] of singles) {
    if (own.length === 1) {
      const { path, form, table, file } = own[0]!;
      made.push({ path: idOf(path, table), form, table, files: [file] });
      continue;
    }
    const names = new Set(own.flatMap(({ table }) => table.columns.map(({ name }) => name)));
    const cells = own.map(({ table }) => new Map(table.columns.map(({ name, cells: of }) => [name, of[0]])));
    made.push({
      path: group,
      form: own[0]!.form,
      files: own.map(({ file }) => file),
      table: {
        name: own[0]!.table.name,
        columns: [
          { name: NAME_COLUMN, cells: own.map(({ path }) => stemOf(path)) },
          ...[...names].map((name) => ({ name, cells: cells.map((row) => row.get(name)) })),
        ],
        count: own.length,
      },
    });
  }
  return made.sort((a, b) => (a.path < b.path ? -1 : 1));
}

const idOf = (path: string, { name }: DataTable): string => (name === '' ? path : `${path}#${name}`);
