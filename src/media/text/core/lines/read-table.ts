import { poTable } from './po-table';
import { columnTable } from './column-table';
import { keyedTable } from './keyed-table';
import { shellOf } from './shell';
import { tabbedTable } from './tabbed-table';
import type { LineTable } from './table';
import { jsonTable } from './tree-table';
import { yamlTable } from './yaml-table';

/** The forms that are tried, the strictest first. */
const FORMS = [jsonTable, poTable, columnTable, tabbedTable, keyedTable];
/** What could be read as another form as well is told by its ending. */
const YAML = /\.ya?ml$/i;

/** A table of texts in an open form; undefined where the bytes are none. */
export function readOpenTable(bytes: Uint8Array, name = ''): LineTable | undefined {
  const shell = shellOf(bytes);
  if (!shell) return undefined;
  for (const form of YAML.test(name) ? [yamlTable] : FORMS) {
    const table = form(shell);
    if (table) return table;
  }
  return undefined;
}
