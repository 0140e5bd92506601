import { fieldsOf, type Cell, type Field } from '@/media/table/core';
import type { KeyField } from '@/media/table/core/links';
import type { EntryRecord } from '../entries/catalogue';
import type { GameLink, GameTable } from './reading';

/** What a game's tables name besides each other, as rows, so that it is followed like these. */
export interface NamedRows {
  readonly table: GameTable;
  readonly key: KeyField | undefined;
  readonly links: readonly GameLink[];
}

/** The form of tables that stand in no file, but are made of what others say. */
export const MADE_FORM = 'made of what is named';

const emptyField = (path: string): Field => ({
  path,
  numbers: new Float64Array(0),
  numberRows: new Uint32Array(0),
  texts: [],
  textRows: new Uint32Array(0),
  filled: 0,
  isSingle: true,
});

/** A table of rows that are made here. */
export function madeTable(
  id: string,
  files: readonly EntryRecord[],
  columns: Readonly<Record<string, readonly Cell[]>>,
): GameTable {
  const table = {
    name: '',
    columns: Object.entries(columns).map(([name, cells]) => ({ name, cells })),
    count: files.length,
  };
  const filled = fieldsOf(table);
  // Those of a table without rows are there as well: it is meant by one of them.
  const fields = table.columns.map(
    ({ name }) => filled.find(({ path }) => path === name) ?? emptyField(name),
  );
  return {
    ...{ id, form: MADE_FORM, files, table, fields, count: files.length },
    ...{ titleBy: 0, keyBy: undefined, words: [], meant: new Map<string, string>() },
  };
}
