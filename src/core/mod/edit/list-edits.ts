import { rereadEntries, type Archive } from '../../archive';
import { FormatError } from '../../bytes';
import {
  copyRecord,
  HeldRecord,
  ReadEvaluation,
  rowBytes,
  RowTable,
  tableOf,
  TableRow,
  type Items,
  type RecordNode,
  type RegionNode,
  type Value,
} from '../../script';
import type { EditMarks, Range } from './edit-marks';
import { listOf, type ListOwner, type ListPlace } from './list-places';

/** A new row of a table: its bytes, the row that it comes before, and the number of the entry that it is like. */
export interface InsertedRow {
  readonly before: number;
  readonly bytes: Uint8Array;
  readonly like: number;
}

/** The entry that a row comes from, and whether it is a new one that is only like it. */
export interface Origin {
  readonly entry: number;
  readonly isFresh: boolean;
}

/** A record that is put in among the pieces of streams. */
export interface NewPiece {
  /** The one that it is like. */
  readonly like: HeldRecord;
  /** When it is shown, in the units of its list; of one time the lower order comes first. */
  readonly time: number;
  readonly order: number;
  /** Makes a copy of `like` what it is to be. */
  prepare(copy: HeldRecord): void;
}

/** Where an item of a list that is built anew comes from: itself, or one of which it is a copy, by its number before. */
export interface ItemSource {
  readonly from: number;
  readonly isFresh: boolean;
  /** Makes a copy what it is to be. */
  prepare?(copy: HeldRecord): void;
}

type Piece = { readonly from: number; readonly to: number } | InsertedRow;

/** What is noted of an archive while it is edited in memory. */
export class Edits implements EditMarks {
  readonly stretched = new Set<RecordNode>();
  readonly lists = new Set<Items>();
  readonly regions = new Set<RegionNode>();
  readonly fresh = new Set<RecordNode>();
  readonly tables = new Map<RowTable, number>();
  readonly added = new Set<number>();
  readonly dropped: (Range & { file: number })[] = [];
  readonly cuts = new Map<number, readonly number[]>();
  /** By row of an edited table: the number that its entry had, or that of the entry it is like as -2 - number; -1 where it is none. */
  private readonly origins = new Map<RowTable, Int32Array>();

  constructor(private readonly archive: Archive) {}

  /** A record may be longer or shorter now, and so all that it lies in. */
  stretch(node: RecordNode): void {
    for (let at: RecordNode | undefined = node; at; at = at.parent) {
      this.stretched.add(at);
      if (at.siblings) this.lists.add(at.siblings);
      const held = at.parent?.get(at.fieldIndex);
      if (typeof held === 'object' && 'sort' in held && held.sort === 'region') this.regions.add(held);
    }
  }

  private stretchOwner(owner: ListOwner): void {
    if ('part' in owner) return;
    this.stretch(owner.record);
    const held = owner.record.get(owner.field);
    if (typeof held === 'object' && 'sort' in held && held.sort === 'region') this.regions.add(held);
  }

  /** Puts a copy of a record of a list into it. */
  insertCopy({ items, owner }: ListPlace, index: number, like: number): HeldRecord {
    const list = changeable(items);
    const model = list[like];
    if (!(model instanceof HeldRecord)) throw notEditable('its rows are no records');
    return this.putCopy({ items, owner }, index, model, model.parent);
  }

  /** Puts a copy of a record of another list of the same kind into one that has none. */
  insertFirst(place: ListPlace, model: RecordNode): void {
    const { items, owner } = place;
    const { siblings, position } = model;
    if (siblings instanceof RowTable)
      this.insertRows(place, [{ before: 0, bytes: rowBytes(siblings, position, new Map()), like: -1 }]);
    else if (model instanceof HeldRecord && items.length === 0 && 'record' in owner)
      this.putCopy(place, 0, model, owner.record);
    else throw notEditable('its rows are no records');
  }

  private putCopy(
    { items, owner }: ListPlace,
    index: number,
    model: HeldRecord,
    parent: RecordNode | undefined,
  ): HeldRecord {
    const list = changeable(items);
    const isPart = 'part' in owner;
    const { space } = model;
    const offset = isPart ? this.freeOffset(list, index, space.file) : model.offset;
    const copy = copyRecord(model, { parent, space, offset, position: index });
    copy.siblings = list;
    list.splice(index, 0, copy);
    renumber(list, index);
    this.fresh.add(copy);
    this.lists.add(list);
    this.stretched.add(copy);
    this.stretchOwner(owner);
    return copy;
  }

  /** Where in its file a new record of a part goes: behind the one before it, or behind the last where they lie in another order. */
  private freeOffset(list: readonly Value[], index: number, file: number): number {
    const old = (list as unknown as readonly HeldRecord[]).filter(
      (node) => node.space.file === file && !this.fresh.has(node),
    );
    if (old.every((node, i) => i === 0 || old[i - 1]!.offset <= node.offset)) {
      const before = (list.slice(0, index) as unknown as readonly HeldRecord[]).findLast(
        (node) => node.space.file === file && !this.fresh.has(node),
      );
      if (before) return before.offset + before.length;
      if (old.length > 0) return old[0]!.offset;
    }
    return old.reduce((end, node) => Math.max(end, node.offset + node.length), 0);
  }

  /** Moves a record that was put in to another number of its list. */
  move({ items, owner }: ListPlace, from: number, to: number): void {
    const list = changeable(items);
    const [node] = list.splice(from, 1) as [HeldRecord];
    list.splice(to, 0, node);
    if ('part' in owner) (node as { offset: number }).offset = this.freeOffset(list, to, node.space.file);
    renumber(list, Math.min(from, to));
  }

  /**
   * Puts records in the place of others of a list, each before the first that stays and has a later time. Those that stay keep their order. All is done on one pass, since there
   * may be one for each picture of a film. Gives where each of the list comes from.
   */
  exchange(
    place: ListPlace,
    gone: ReadonlySet<RecordNode>,
    fresh: readonly NewPiece[],
    timeOf: (node: HeldRecord) => number | undefined,
  ): readonly ItemSource[] {
    const list = changeable(place.items);
    const sorted = [...fresh].sort((a, b) => a.time - b.time || a.order - b.order);
    const sources: ItemSource[] = [];
    let next = 0;
    const putBefore = (time: number, order: number): void => {
      for (; next < sorted.length; next++) {
        const { like, prepare, ...one } = sorted[next]!;
        if (one.time > time || (one.time === time && one.order > order)) return;
        sources.push({ from: like.position, isFresh: true, prepare });
      }
    };
    let latest = 0;
    for (const node of list as unknown as readonly HeldRecord[]) {
      if (gone.has(node)) continue;
      latest = Math.max(latest, timeOf(node) ?? latest);
      putBefore(latest, node.entry);
      sources.push({ from: node.position, isFresh: false });
    }
    putBefore(Infinity, Infinity);
    this.rebuild(place, sources);
    return sources;
  }

  /** Gives a list other items: those that stay, and copies of some of it. What stays of it keeps its order. */
  rebuild({ items, owner }: ListPlace, sources: readonly ItemSource[]): void {
    if (items instanceof RowTable) {
      const pieces: Piece[] = [];
      let run: { from: number; to: number } | undefined;
      for (const { from, isFresh } of sources) {
        if (isFresh) {
          pieces.push({ before: from, bytes: rowBytes(items, from, new Map()), like: -1 });
          run = undefined;
        } else if (run?.to === from) run.to++;
        else pieces.push((run = { from, to: from + 1 }));
      }
      this.replaceTable(items, owner, pieces);
      return;
    }
    const list = changeable(items);
    const old = list.filter((node) => node instanceof HeldRecord);
    if (old.length !== list.length) throw notEditable('its rows are no records');
    const isPart = 'part' in owner;
    const stays = new Set(sources.flatMap(({ from, isFresh }) => (isFresh ? [] : [old[from]!])));
    // What is new in a part lies where the next one lies that stays.
    let behind = old.reduce((most, node) => Math.max(most, node.offset + node.length), 0);
    const made: HeldRecord[] = [];
    for (const { from, isFresh, prepare } of [...sources].reverse()) {
      const node = old[from]!;
      if (!isFresh) {
        behind = node.offset;
        made.push(node);
        continue;
      }
      const { parent, space } = node;
      const copy = copyRecord(node, { parent, space, offset: isPart ? behind : node.offset, position: 0 });
      copy.siblings = list;
      prepare?.(copy);
      this.fresh.add(copy);
      this.stretch(copy);
      made.push(copy);
    }
    list.splice(0, list.length);
    for (const node of made.reverse()) list.push(node);
    renumber(list, 0);
    for (const node of old)
      if (isPart && !stays.has(node))
        this.dropped.push({ file: node.space.file, from: node.offset, to: node.offset + node.length });
    this.lists.add(list);
    this.stretchOwner(owner);
  }

  /** Takes items out of a list, and notes what they leave behind. */
  remove({ items, owner }: ListPlace, numbers: ReadonlySet<number>): void {
    if (items instanceof RowTable) {
      this.replaceTable(items, owner, kept(items.length, numbers));
      return;
    }
    const list = changeable(items);
    const gone = [...numbers].sort((a, b) => b - a);
    for (const number of gone) {
      const [node] = list.splice(number, 1);
      if ('part' in owner && node instanceof HeldRecord && !this.fresh.delete(node))
        this.dropped.push({ file: node.space.file, from: node.offset, to: node.offset + node.length });
    }
    renumber(list, gone.at(-1) ?? 0);
    this.lists.add(list);
    this.stretchOwner(owner);
  }

  /** Puts rows into a table. */
  insertRows({ items, owner }: ListPlace, rows: readonly InsertedRow[]): RowTable {
    const table = items as RowTable;
    const pieces: Piece[] = [];
    let from = 0;
    for (const row of [...rows].sort((a, b) => a.before - b.before)) {
      pieces.push({ from, to: row.before }, row);
      from = row.before;
    }
    pieces.push({ from, to: table.length });
    return this.replaceTable(table, owner, pieces);
  }

  /** Puts another row in the place of one. */
  replaceRow({ items, owner }: ListPlace, row: InsertedRow): RowTable {
    const table = items as RowTable;
    const { before } = row;
    const pieces = [{ from: 0, to: before }, row, { from: before + 1, to: table.length }];
    return this.replaceTable(table, owner, pieces);
  }

  /** Gives a row of a table other bytes; it stays the row that it was. */
  rewriteRow(place: ListPlace, row: number, bytes: Uint8Array): void {
    const { entry, isFresh } = this.originOf(place.items.at(row) as RecordNode);
    const made = this.replaceRow(place, { before: row, bytes, like: entry });
    if (!isFresh) this.origins.get(made)![row] = entry;
  }

  /** Gives all rows of a table other bytes; each stays the row that it was. */
  rewriteRows(place: ListPlace, bytesOf: (row: number) => Uint8Array): void {
    const table = place.items as RowTable;
    const origins = Array.from({ length: table.length }, (_, row) => this.originOf(table.at(row)!));
    const pieces = origins.map(({ entry }, row) => ({ before: row, bytes: bytesOf(row), like: entry }));
    const known = this.origins.get(this.replaceTable(table, place.owner, pieces))!;
    for (const [row, { entry, isFresh }] of origins.entries()) if (!isFresh) known[row] = entry;
  }

  /** The number of the entry that a row comes from, and whether it is a new one that is only like it. */
  originOf(row: RecordNode): Origin {
    const known = row instanceof TableRow ? this.origins.get(row.table)?.[row.position] : undefined;
    if (known !== undefined && known < -1) return { entry: -2 - known, isFresh: true };
    return { entry: known ?? row.entry, isFresh: this.isWithinFresh(row) };
  }

  /** Whether a record or one that it lies in is a copy. */
  private isWithinFresh(row: RecordNode): boolean {
    for (let at: RecordNode | undefined = row; at; at = at.parent) if (this.fresh.has(at)) return true;
    return false;
  }

  private replaceTable(table: RowTable, owner: ListOwner, pieces: readonly Piece[]): RowTable {
    const made = tableOf(
      table,
      pieces.map((piece) => ('bytes' in piece ? piece.bytes : piece)),
    );
    const known = this.origins.get(table);
    const origins = new Int32Array(made.length);
    let at = 0;
    for (const piece of pieces)
      if ('bytes' in piece) origins[at++] = -2 - piece.like;
      else for (let i = piece.from; i < piece.to; i++) origins[at++] = known ? known[i]! : table.at(i)!.entry;
    this.origins.set(made, origins);
    this.origins.delete(table);
    this.tables.set(made, this.tables.get(table) ?? table.parts.byteLength);
    this.tables.delete(table);
    const { context } = this.archive;
    if ('part' in owner) (context as ReadEvaluation).parts.set(owner.part, made);
    else {
      const held = owner.record.values[owner.field];
      if (typeof held === 'object' && 'sort' in held && held.sort === 'region') held.content = made;
      else owner.record.values[owner.field] = made;
    }
    this.stretchOwner(owner);
    return made;
  }

  /** Puts a text into a list of texts. */
  insertText({ items, owner }: ListPlace, text: string): void {
    changeable(items).push(text);
    this.lists.add(items);
    this.stretchOwner(owner);
  }

  /** The list as it stands now in the place of one that was found earlier. */
  now({ owner }: ListPlace): ListPlace {
    const items = listOf(this.archive, owner);
    if (!items) throw notEditable('a list of it is gone');
    return { items, owner };
  }
}

/** Reads the entries of an archive anew after an edit, and gives where each comes from. */
export function rereadOrigins(archive: Archive, edits: Edits): Origin[] {
  const { entries } = archive;
  const origins: Origin[] = [];
  rereadEntries(archive, (row) => {
    const origin = edits.originOf(row);
    const entry = entries[origin.entry];
    if (!entry) throw notEditable(`${row.path} has become an entry`);
    origins.push(origin);
    return entry;
  });
  return origins;
}

export function notEditable(why: string): FormatError {
  return new FormatError('not-writable', {
    expected: 'an archive whose entries can be added and taken out',
    why,
    remedy: 'Replace an entry that is there instead',
  });
}

function changeable(items: Items): Value[] {
  if (Array.isArray(items)) return items as Value[];
  throw notEditable('a list of it has no items of its own');
}

function renumber(list: readonly Value[], from: number): void {
  for (let i = from; i < list.length; i++) {
    const node = list[i];
    if (!(node instanceof HeldRecord)) continue;
    (node as { position: number }).position = i;
  }
}

/** The stretches of rows that stay. */
function kept(length: number, without: ReadonlySet<number>): { from: number; to: number }[] {
  const pieces: { from: number; to: number }[] = [];
  let from = 0;
  for (const number of [...without].sort((a, b) => a - b)) {
    if (number > from) pieces.push({ from, to: number });
    from = number + 1;
  }
  if (from < length) pieces.push({ from, to: length });
  return pieces;
}
