import { openArchive, type Entry } from '@/core/archive';
import { collect, memorySource, withFacts } from '@/core/bytes';
import { editEntries, emit, planArchive, type EditedArchive, type WithinEdit } from '@/core/mod';
import type { Primitives } from '@/core/primitives';
import { isTextual, type Script, type Value } from '@/core/script';
import type { Cell } from '../cell';
import { valueWithin, type DataTable } from '../data-table';
import { describedData } from '../described-table';
import { valueAt, type ValueAt } from './described-places';
import { calledIn, lastOfEach, notWritten, refuseUnlike, type TableEdit } from './write-cells';

/** A table with what its rows carry; cells that are worked out from others follow them. */
export const carried = (table: DataTable): DataTable => ({
  ...table,
  columns: table.columns.filter(({ name }) => table.writable?.has(name)),
});

const CARRIED = 'a field that the row carries, and a value of its sort';

/** A value of a script like the one before it; undefined for one of another sort. */
export function valueLike(before: Value, cell: Cell): Value | undefined {
  if (isTextual(before)) return typeof cell === 'string' ? cell : undefined;
  if (typeof before === 'bigint')
    return typeof cell === 'bigint'
      ? cell
      : typeof cell === 'number' && Number.isInteger(cell)
        ? BigInt(cell)
        : undefined;
  if (cell instanceof Uint8Array)
    return before instanceof Uint8Array || (typeof before === 'object' && 'chunks' in before)
      ? cell
      : undefined;
  if (typeof before === 'number' || typeof before === 'boolean')
    return typeof cell === typeof before ? (cell as Value) : undefined;
  return undefined;
}

/** The bytes of a file that was edited in memory. */
export function writtenOut({ archive, marks }: Pick<EditedArchive, 'archive' | 'marks'>): Uint8Array {
  const plan = planArchive(archive, new Map(), { edits: marks });
  try {
    const parts: Uint8Array[] = [];
    emit(plan.files[0]!, { write: (part) => void parts.push(part.slice()) });
    return collect({ length: plan.length, chunks: () => parts });
  } finally {
    plan.discard();
  }
}

/**
 * A table of a game's own with other values in cells: fields that its rows carry, written by its script, with all that follows from them (counts, offsets, sums) worked out anew. What was written is read
 * again, as by `writeCells`. Throws FormatError where a cell is worked out from others, or where its field does not take the value.
 */
export function writeDescribedCells(
  script: Script,
  bytes: Uint8Array,
  name: string,
  primitives: Primitives,
  asked: readonly TableEdit[],
): Uint8Array {
  const edits = lastOfEach(asked);
  const before = describedData(script, bytes, name, primitives);
  const archive = openArchive(script, memorySource(bytes, name), { primitives });
  const values = edits.map((edit): SetValue => {
    const entry = archive.entries[edit.row];
    const column = script.table?.columns.find(({ title }) => title === edit.column);
    const found = entry && column && valueAt(entry, column.value, edit.within);
    const value = found?.was === undefined ? undefined : valueLike(found.was, edit.value);
    if (!entry || !found || value === undefined) throw notWritten(name, edit, CARRIED);
    return { ...found, entry, value };
  });
  const made = withFacts(
    { file: name, fieldPath: edits.slice(0, MOST_CALLED).map(calledIn).join('; ') },
    () => writtenOut(editEntries(archive, { within: asWithin(values) })),
  );
  const after = describedData(script, made, name, primitives);
  refuseUnlike([carried(before)], [carried(after)], name, asHeld(after, edits));
  return made;
}

/** Edits with numbers as fields of four bytes hold them. */
function asHeld(after: DataTable, edits: readonly TableEdit[]): readonly TableEdit[] {
  const columns = new Map(after.columns.map(({ name, cells }) => [name, cells]));
  return edits.map((edit) => {
    const { value } = edit;
    if (typeof value !== 'number' || Number.isInteger(value)) return edit;
    const held = Math.fround(value);
    return Object.is(valueWithin(columns.get(edit.column)?.[edit.row], edit.within), held)
      ? { ...edit, value: held }
      : edit;
  });
}

/** So many of the edits of a file are named where it cannot be written. */
const MOST_CALLED = 5;

interface SetValue extends ValueAt {
  readonly entry: Entry;
  readonly value: Value;
}

/** Edits of the rows of entries; items of one list come in as one, so that a whole list is not put together for each. */
function asWithin(all: readonly SetValue[]): Map<number, WithinEdit[]> {
  const made = new Map<number, WithinEdit[]>();
  const lists = new Map<string, Value[]>();
  for (const { entry, steps, list, value } of all) {
    const id = `${entry.index} ${steps.slice(0, -1).join()}`;
    const known = list && lists.get(id);
    if (known) {
      known[steps.at(-1)!] = value;
      continue;
    }
    let own: WithinEdit = { steps, does: 'set', value };
    if (list) {
      const whole = [...list];
      whole[steps.at(-1)!] = value;
      lists.set(id, whole);
      own = { steps: steps.slice(0, -1), does: 'set', value: whole };
    }
    const others = made.get(entry.index);
    if (others) others.push(own);
    else made.set(entry.index, [own]);
  }
  return made;
}
