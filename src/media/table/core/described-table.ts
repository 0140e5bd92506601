import { openArchive, type Entry } from '@/core/archive';
import { FormatError, memorySource } from '@/core/bytes';
import type { Primitives } from '@/core/primitives';
import { asText, type Compiled, type FieldType, type Script } from '@/core/script';
import type { Cell } from './cell';
import { CellMaker } from './cell-of-value';
import type { DataTable } from './data-table';

/** The field that a column is, where it is one that the row carries and nothing else, be it a list or a record; undefined where its cells are worked out. */
export function fieldOfColumn({ row }: Entry, { text }: Compiled): FieldType | undefined {
  const field = row.type.fields.find(({ name }) => name === text.trim());
  return field?.role.sort === 'carried' ? field : undefined;
}

/** A table of a game's own, which a script with a section for tables describes: each entry is a row. Throws FormatError where its bytes are not as the script says. */
export function describedData(
  script: Script,
  bytes: Uint8Array,
  file: string,
  primitives: Primitives,
): DataTable {
  const of = script.table;
  if (!of) throw new FormatError('script-wrong', { expected: "a section 'table'", actual: 'none' });
  const archive = openArchive(script, memorySource(bytes, file), { primitives });
  const columns = of.columns.map(({ title }) => ({ name: title, cells: [] as Cell[] }));
  const cells = new CellMaker(file);
  for (const entry of archive.entries) {
    if (entry.problem) throw entry.problem;
    of.columns.forEach(({ value }, i) =>
      columns[i]!.cells.push(cells.of(value.run(archive.context, entry.row))),
    );
  }
  const name =
    of.name && archive.entries[0] ? asText(of.name.run(archive.context, archive.entries[0].row)) : '';
  const first = archive.entries[0];
  const writable = new Set<string>();
  for (const { title, value } of first ? of.columns : []) {
    const field = fieldOfColumn(first!, value);
    if (field) addPaths(script, field, title, writable);
  }
  const said = new Map(
    of.columns.flatMap(({ title, means, called }) =>
      means !== undefined || called ? [[title, { means, called }] as const] : [],
    ),
  );
  return { name, columns, count: archive.entries.length, writable, said };
}

const MOST_WRITTEN_DEPTH = 8;
/** Records may hold others of their own kind. */
const MOST_WRITTEN_PATHS = 2000;

/** The paths of what can be changed within a field: itself, items of lists (`beside[]`), and what records carry (`parts[].name`). */
function addPaths(
  script: Script,
  { shape, repeat }: FieldType,
  path: string,
  into: Set<string>,
  depth = 0,
): void {
  if (depth > MOST_WRITTEN_DEPTH || into.size > MOST_WRITTEN_PATHS) return;
  into.add(path);
  const inner = repeat ? `${path}[]` : path;
  into.add(inner);
  // Of one of several sorts there is what that sort carries; where a row has another, nothing stands there.
  const shapes = shape.sort === 'choice' ? [...shape.cases.values(), shape.otherwise] : [shape];
  for (const own of shapes) {
    const type = own?.sort === 'record' ? script.records.get(own.name) : undefined;
    for (const field of type?.fields ?? [])
      if (field.role.sort === 'carried') addPaths(script, field, `${inner}.${field.name}`, into, depth + 1);
  }
}
