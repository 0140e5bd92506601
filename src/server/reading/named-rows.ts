import type { Cell } from '@/media/table/core';
import { fieldsOf } from '@/media/table/core';
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
  return {
    ...{ id, form: MADE_FORM, files, table, fields: fieldsOf(table), count: files.length },
    ...{ titleBy: 0, keyBy: undefined, words: [], meant: new Map<string, string>() },
  };
}
