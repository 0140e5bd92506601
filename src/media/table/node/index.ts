import { FormatError } from '@/core/bytes';
import { kindOfEnding, typeOfHead } from '@/core/kinds';
import type { MediumNode } from '@/media/medium';
import type { TableHead } from '@/media/head';
import { inMemory } from '@/platform/node/convert/converter';
import { fitTable, tableAsCsv, tableAsJson, tableAsRows, type DataTable } from '../core';
import { tablesOf, type TablesRead } from './read-tables';

export {
  knowTables,
  mergeTableFiles,
  tablesOf,
  writeTableItem,
  writeTableRow,
  writeTables,
  type TablesRead,
} from './read-tables';

const kind = 'table';
/** So many rows are shown where a table is only looked at. */
const MOST_SHOWN = 60;
const MOST_COLUMNS = 24;

const largest = ({ tables }: TablesRead): DataTable | undefined =>
  [...tables].sort((a, b) => b.count - a.count)[0];

const headOf = (read: TablesRead): TableHead => ({
  ...{ sort: kind, form: read.form, tables: read.tables.length },
  rows: read.tables.reduce((sum, { count }) => sum + count, 0),
  columns: (largest(read)?.columns ?? []).slice(0, MOST_COLUMNS).map(({ name }) => name),
});

const written = (make: (read: TablesRead) => string) =>
  inMemory(undefined, (bytes, path, { mediaScripts }) => {
    const read = tablesOf(bytes, path, mediaScripts);
    if (read) return new TextEncoder().encode(make(read));
    throw new FormatError('bad-value', { file: path, expected: 'a table', actual: 'other bytes' });
  });

const asJson = ({ tables }: TablesRead): string =>
  tables.length === 1
    ? `${tableAsJson(tables[0]!)}\n`
    : `{\n${tables.map((table) => `${JSON.stringify(table.name)}: ${tableAsJson(table)}`).join(',\n')}\n}\n`;

/** Tables, where there is Node. */
export const tableNode: MediumNode = {
  kind,
  converters: {
    csv: {
      ...written((read) => {
        const table = largest(read);
        return table ? tableAsCsv(table) : '';
      }),
      ending: '.csv',
    },
    json: { ...written(asJson), ending: '.json' },
  },
  head({ name, held, describedKind, source, first }, scripts) {
    const isDescribed = source && scripts(source, 'table');
    const isTable = describedKind === kind || typeOfHead(first)?.kind === kind || kindOfEnding(name) === kind;
    if (!isDescribed && !isTable) return Promise.resolve(undefined);
    const bytes = held();
    if (!bytes) return Promise.resolve({ sort: 'large' });
    const read = tablesOf(bytes, name, scripts, source);
    return Promise.resolve(read && headOf(read));
  },
  look(head, file, { scripts }) {
    if (head.sort !== kind) return Promise.resolve(undefined);
    const table = largest(tablesOf(file.bytes(), file.name, scripts) ?? { form: '', tables: [] });
    const first: string[][] = [];
    if (table)
      for (const cells of tableAsRows(table)) {
        first.push(cells.slice(0, MOST_COLUMNS).map((cell) => cell.slice(0, 200)));
        if (first.length > MOST_SHOWN) break;
      }
    return Promise.resolve({ ...head, first });
  },
  fit(slot, given, _mends, { scripts }) {
    if (slot.kind !== kind) return Promise.resolve(undefined);
    const own = tablesOf(slot.bytes, slot.name, scripts);
    if (!own || own.tables.length === 0) return Promise.resolve(undefined);
    return Promise.resolve(fitTable(own, given.bytes, () => tablesOf(given.bytes, slot.name, scripts)));
  },
};
