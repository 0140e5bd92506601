import { hashOfPath, type Archive, type Entry } from '../../archive';
import { FormatError, hexOf64 } from '../../bytes';
import {
  asInteger,
  asText,
  bare,
  canonical,
  encodeText,
  HeldRecord,
  isRest,
  isTextual,
  ReadEvaluation,
  rowBytes,
  RowTable,
  sameValue,
  tableOf,
  TableRow,
  type EntriesType,
  type FieldType,
  type RecordNode,
  type Value,
} from '../../script';
import { notEditable, type Edits, type InsertedRow } from './list-edits';
import type { ListPlace } from './list-places';
import { spellings, textsOf } from './texts-of';

/** Where a new row goes, and what it is like. */
export interface RowPlace {
  readonly rows: ListPlace;
  /** Lists with one item for each row. */
  readonly beside: readonly ListPlace[];
  readonly like: Entry;
}

/** A row of a table that waits to be put in. */
export interface WaitingRow extends InsertedRow {
  readonly rows: ListPlace;
}

/** What is left to do of a new row once all are there: to be put in, or to be brought to its place. */
export type NewRow = WaitingRow | (() => void) | undefined;

/** The number that an archive would keep for a path, as 16 hexadecimal digits. */
export function hashFor(archive: Archive, { hashing }: EntriesType, path: string): string | undefined {
  if (!hashing) return undefined;
  const { context } = archive;
  const seed = hashing.seed && BigInt(asInteger(hashing.seed.run(context, undefined)));
  return hashOfPath(path, hashing, context.primitives, seed);
}

/**
 * Adds a row that is like another one under another path. What carries the path is found by trying: a text that the path of the
 * other row contains becomes what the new path has in its place, and the script has to agree. Throws FormatError where
 * it does not. Rows of tables that ask for nothing beside them are handed back, so that many go in at once.
 */
export function addRow(archive: Archive, edits: Edits, place: RowPlace, wanted: string): NewRow {
  const { group } = place.like;
  const alone = place.beside.length === 0 && !asksBeside(group);
  return place.rows.items instanceof RowTable && alone
    ? addAlone(archive, edits, place, wanted)
    : addAmong(archive, edits, place, wanted);
}

const BESIDE = ['position', 'preceding', 'following', 'self'];

const asksBeside = ({ path, hash, sorted }: EntriesType): boolean =>
  [path, hash, sorted].some((one) => BESIDE.some((name) => one?.mentions.has(name)));

function addAlone(archive: Archive, edits: Edits, { rows, like }: RowPlace, wanted: string): WaitingRow {
  const table = edits.now(rows).items as RowTable;
  const index = like.row.position;
  const values = new Map<number, Value>();
  const made = (): { bytes: Uint8Array; row: RecordNode } => {
    const bytes = rowBytes(table, index, values);
    return { bytes, row: tableOf(table, [bytes]).at(0)! };
  };
  const slots = flatTexts(like.row).map(({ field, text }) => ({
    field: like.row.type.fields[field]!,
    text,
    set: (to: string) => void values.set(field, to),
  }));
  const numbers = numbersOf(like.row).map(({ index: field, value }) => ({
    value,
    set: (to: Value) => void values.set(field, to),
  }));
  spell(archive, like, wanted, slots, numbers, () => made().row);
  const { bytes, row } = made();
  return {
    rows,
    bytes,
    like: like.index,
    before: orderedPlace(archive, like.group, table, row, table.length),
  };
}

function addAmong(archive: Archive, edits: Edits, place: RowPlace, wanted: string): NewRow {
  const { like } = place;
  const { group } = like;
  const model = like.row.position;
  const end = behindEntries(edits.now(place.rows).items);
  const copies: HeldRecord[] = [];
  const tables: ListPlace[] = [];
  const lists = [place.rows, ...place.beside];
  const undo = (): void => lists.forEach((list) => edits.remove(edits.now(list), new Set([end])));
  for (const list of lists) {
    const { items, owner } = edits.now(list);
    if (items instanceof RowTable) {
      tables.push(list);
      edits.insertRows({ items, owner }, [
        { before: end, bytes: rowBytes(items, model, new Map()), like: like.index },
      ]);
    } else copies.push(edits.insertCopy({ items, owner }, end, model));
  }
  const rowNow = (): RecordNode => edits.now(place.rows).items.at(end) as RecordNode;
  const slots = copies.flatMap((copy) =>
    textsOf(copy).map(({ node, field, text }) => ({
      field: node.type.fields[field]!,
      text,
      set: (to: string) => {
        node.values[field] = to;
        edits.stretch(node);
      },
    })),
  );
  const numbers = copies.slice(0, rowNow() instanceof HeldRecord ? 1 : 0).flatMap((copy) =>
    numbersOf(copy).map(({ index, value }) => ({
      value,
      set: (to: Value): void => void (copy.values[index] = to),
    })),
  );
  for (const list of tables) {
    const values = new Map<number, Value>();
    const table = edits.now(list).items as RowTable;
    const write = (field: number, to: Value): void => {
      values.set(field, to);
      const now = edits.now(list);
      const bytes = rowBytes(now.items as RowTable, model, values);
      edits.replaceRow(now, { before: end, bytes, like: like.index });
    };
    const row = table.at(end)!;
    for (const { field, text } of flatTexts(row))
      slots.push({ field: row.type.fields[field]!, text, set: (to) => write(field, to) });
    if (list === place.rows)
      for (const { index, value } of numbersOf(row)) numbers.push({ value, set: (to) => write(index, to) });
  }
  try {
    spell(archive, like, wanted, slots, numbers, rowNow);
  } catch (error) {
    undo();
    throw error;
  }
  const row = rowNow();
  if (!group.sorted || row instanceof TableRow) return undefined;
  return () => {
    const at = row.position;
    const to = orderedPlace(archive, group, edits.now(place.rows).items, row, at);
    if (to !== at) for (const list of lists) edits.move(edits.now(list), at, to);
  };
}

/** Behind the last row that is an entry; what follows, as a member that ends the list, stays behind. */
export function behindEntries(rows: ListPlace['items']): number {
  if (rows instanceof RowTable) return rows.length;
  let end = rows.length;
  while (end > 0 && (rows.at(end - 1) as RecordNode).entry < 0) end--;
  return end;
}

interface TextSlot {
  readonly field: FieldType;
  readonly text: string;
  set(to: string): void;
}

interface NumberSlot {
  readonly value: Value;
  set(to: Value): void;
}

function spell(
  archive: Archive,
  like: Entry,
  wanted: string,
  slots: readonly TextSlot[],
  numbers: readonly NumberSlot[],
  rowNow: () => RecordNode,
): void {
  const context = archive.context as ReadEvaluation;
  const { group } = like;
  const hash = hashFor(archive, group, wanted);
  if (group.hash && hash !== undefined) spellHash(context, like, hash, numbers, rowNow);
  if (group.path) spellPath(context, like, wanted, slots, rowNow);
  if (!group.hash && !group.path) throw notEditable('its entries have no names');
}

function spellHash(
  context: ReadEvaluation,
  { group, row }: Entry,
  hash: string,
  numbers: readonly NumberSlot[],
  rowNow: () => RecordNode,
): void {
  const was = bare(group.hash!.run(context, row));
  const wanted = canonical(BigInt(`0x${hash}`));
  for (const slot of numbers.filter(({ value }) => sameValue(bare(value), was))) {
    slot.set(wanted);
    context.forget();
    if (hexOf64(asInteger(group.hash!.run(context, rowNow()))) === hash) return;
    slot.set(slot.value);
  }
  throw notEditable(`no field of ${row.path} holds the hash of a name as it is`);
}

function spellPath(
  context: ReadEvaluation,
  { group, row, path: likePath }: Entry,
  wanted: string,
  slots: readonly TextSlot[],
  rowNow: () => RecordNode,
): void {
  const pathNow = (): string => {
    context.forget();
    return asText(group.path!.run(context, rowNow()));
  };
  const was = asText(group.path!.run(context, row));
  // Archives have their own sign between folders.
  const target = was.includes('\\') && !was.includes('/') ? wanted.replaceAll('/', '\\') : wanted;
  const texts = [...new Set(slots.map(({ text }) => text))].sort((a, b) => b.length - a.length);
  let tooLong: FormatError | undefined;
  for (const text of texts)
    for (const spelling of spellings(was, target, text)) {
      const own = slots.filter((slot) => slot.text === text);
      const most = Math.min(...own.map(({ field }) => roomOf(field, spelling)));
      if (most < 0) {
        tooLong ??= new FormatError('does-not-fit', {
          fieldPath: `${row.path}.${own[0]!.field.name}`,
          expected: 'a name that fits its field',
          actual: JSON.stringify(spelling),
          remedy: 'Choose a shorter path',
        });
        continue;
      }
      for (const slot of own) slot.set(spelling);
      if (pathNow() === target) return;
      for (const slot of own) slot.set(text);
    }
  throw (
    tooLong ??
    new FormatError('bad-value', {
      fieldPath: row.path,
      expected: `a field that turns ${likePath} into ${wanted}`,
      why: 'the script does not say how this name would be written',
      remedy: 'Store it like another entry, or under a path more like those that are there',
    })
  );
}

/** Bytes that are left in a field of fixed length; negative where a text is too long for it. */
function roomOf({ shape }: FieldType, text: string): number {
  if (shape.sort !== 'text' || isRest(shape.size) || !shape.size.linear) return Infinity;
  const { name, plus } = shape.size.linear;
  return name === undefined ? plus - encodeText(text, shape.encoding).length : Infinity;
}

function flatTexts(row: RecordNode): { field: number; text: string }[] {
  return row.type.fields.flatMap(({ index, role }) => {
    const value = role.sort === 'carried' ? row.get(index) : undefined;
    return value !== undefined && isTextual(value) ? [{ field: index, text: asText(value) }] : [];
  });
}

function numbersOf(row: RecordNode): { index: number; value: Value }[] {
  return row.type.fields.flatMap(({ index, role, shape, repeat }) =>
    role.sort === 'carried' && shape.sort === 'scalar' && !repeat ? [{ index, value: row.get(index) }] : [],
  );
}

/** The number below `end` at which a row keeps its list in the order that the script asks for; `end` where it asks for none. */
export function orderedPlace(
  archive: Archive,
  { sorted }: EntriesType,
  list: ListPlace['items'],
  row: RecordNode,
  end: number,
): number {
  if (!sorted) return end;
  const keyOf = (node: RecordNode): number => bare(sorted.run(archive.context, node)) as number;
  const own = keyOf(row);
  let low = 0;
  let high = end;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (keyOf(list.at(middle) as RecordNode) <= own) low = middle + 1;
    else high = middle;
  }
  return low;
}
