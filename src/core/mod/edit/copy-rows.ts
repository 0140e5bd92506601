import type { Archive } from '../../archive';
import { bare, HeldRecord, rowBytes, RowTable, type Items, type RecordNode, type Value } from '../../script';
import { refuseBroken } from '../plan';
import { rewriteFields } from './built-texts';
import type { EditedArchive } from './edit-entries';
import { Edits, notEditable, rereadOrigins, type ItemSource } from './list-edits';
import type { ListPlace } from './list-places';
import { behindEntries, orderedPlace } from './new-row';
import type { RowValues } from './recode';
import { RowPlaces } from './row-places';

/** A copy of the row of an entry that says something else. */
export interface CopiedRow {
  /** The number of the entry that it is like. */
  readonly like: number;
  readonly values: RowValues;
  /** The row of its list that it comes before; behind the last entry where nothing is said, and where the script asks for an order. */
  readonly before?: number | undefined;
}

/**
 * Copies rows of an archive that was opened for this alone, and what they lie in. Nothing is asked of names: entries may be called like others. It
 * is changed in memory, and `planArchive` with the marks writes it. Each entry may be copied once.
 */
export class RowCopier {
  private readonly edits: Edits;
  private readonly places: RowPlaces;
  private readonly before: number;

  constructor(private readonly archive: Archive) {
    refuseBroken(archive);
    this.edits = new Edits(archive);
    this.places = new RowPlaces(archive);
    this.before = archive.entries.length;
  }

  /** Puts a copy of an item at the end of a list, with other values in some fields; a list of texts gets the text. Gives its number. */
  growList(place: ListPlace, like: number, values: RowValues, text?: string): number {
    const now = this.edits.now(place);
    const { items } = now;
    if (items instanceof RowTable)
      this.edits.insertRows(now, [
        { before: items.length, bytes: rowBytes(items, like, new Map(values)), like: -1 },
      ]);
    else if (text !== undefined) this.edits.insertText(now, text);
    else this.setFields(this.edits.insertCopy(now, items.length, like), values);
    return this.edits.now(place).items.length - 1;
  }

  /** Copies a record with all that lies in it, behind the last of its list. */
  copyRecord(place: ListPlace, like: number, values: RowValues): void {
    this.setFields(this.edits.insertCopy(this.edits.now(place), place.items.length, like), values);
  }

  /** Copies rows of entries, each list at once, with what has an item for each of its rows. */
  copyRows(rows: readonly CopiedRow[]): void {
    const { entries } = this.archive;
    const byList = new Map<Items, { readonly rows: CopiedRow[]; readonly lists: readonly ListPlace[] }>();
    for (const row of rows) {
      const place = this.places.of(entries[row.like]!);
      const known = byList.get(place.rows.items);
      if (known) known.rows.push(row);
      else byList.set(place.rows.items, { rows: [row], lists: [place.rows, ...place.beside] });
    }
    for (const { rows: own, lists } of byList.values()) {
      const { sorted } = entries[own[0]!.like]!.group;
      const end = behindEntries(lists[0]!.items);
      const from = own.map(({ like }) => entries[like]!.row.position);
      const placed = own
        .map((row, i) => ({ ...row, position: from[i]!, at: sorted ? end : (row.before ?? end) }))
        .sort((a, b) => a.at - b.at);
      for (const [nth, place] of lists.entries()) this.insert(place, placed, nth === 0);
      if (sorted) this.bringInOrder(lists, end, placed.length, entries[own[0]!.like]!.group);
    }
  }

  private insert(
    place: ListPlace,
    rows: readonly (CopiedRow & { readonly position: number; readonly at: number })[],
    isOfRows: boolean,
  ): void {
    const { items } = place;
    const said = ({ values }: CopiedRow): RowValues => (isOfRows ? values : []);
    if (items instanceof RowTable) {
      const fresh = rows.map((row) => ({
        before: row.at,
        bytes: rowBytes(items, row.position, new Map(said(row))),
        like: row.like,
      }));
      this.edits.insertRows(place, fresh);
      return;
    }
    const sources: ItemSource[] = [];
    let next = 0;
    for (let at = 0; at <= items.length; at++) {
      for (; next < rows.length && rows[next]!.at === at; next++) {
        const row = rows[next]!;
        const prepare = (copy: HeldRecord): void => this.setFields(copy, said(row));
        sources.push({ from: row.position, isFresh: true, prepare });
      }
      if (at < items.length) sources.push({ from: at, isFresh: false });
    }
    this.edits.rebuild(place, sources);
  }

  /** Brings rows that were put in behind all others to where the order of their list has them. */
  private bringInOrder(
    lists: readonly ListPlace[],
    end: number,
    count: number,
    group: Parameters<typeof orderedPlace>[1],
  ): void {
    const now = (): Items => this.edits.now(lists[0]!).items;
    if (now() instanceof RowTable) {
      if (lists.length > 1) throw notEditable('its rows are in order, and lists stand beside them');
      return this.orderTable(lists[0]!, end, count, group);
    }
    for (let i = 0; i < count; i++) {
      const to = orderedPlace(this.archive, group, now(), now().at(end + i) as RecordNode, end + i);
      if (to !== end + i) for (const list of lists) this.edits.move(this.edits.now(list), end + i, to);
    }
  }

  private orderTable(
    list: ListPlace,
    end: number,
    count: number,
    group: Parameters<typeof orderedPlace>[1],
  ): void {
    const table = this.edits.now(list).items as RowTable;
    const rows = Array.from({ length: count }, (_, i) => ({
      before: orderedPlace(this.archive, group, table, table.at(end + i)!, end),
      bytes: rowBytes(table, end + i, new Map()),
      like: this.edits.originOf(table.at(end + i)!).entry,
      key: bare(group.sorted!.run(this.archive.context, table.at(end + i)!)) as number,
    }));
    this.edits.remove({ ...list, items: table }, new Set(rows.map((_, i) => end + i)));
    this.edits.insertRows(
      this.edits.now(list),
      rows.sort((a, b) => a.before - b.before || Number(a.key > b.key) - Number(a.key < b.key)),
    );
  }

  /** Has rows of a list say something else: all of them, or those that are entries. */
  rewriteRows(place: ListPlace, values: RowValues, which: 'all' | 'entries'): void {
    const now = this.edits.now(place);
    const { items } = now;
    const isMeant = (at: number): boolean => which === 'all' || (items.at(at) as RecordNode).entry >= 0;
    const [own, none] = [new Map(values), new Map<number, Value>()];
    if (items instanceof RowTable)
      this.edits.rewriteRows(now, (row) => rowBytes(items, row, isMeant(row) ? own : none));
    else
      for (let at = 0; at < items.length; at++) if (isMeant(at)) rewriteFields(this.edits, place, at, values);
  }

  /** Has a record say something else. */
  setFields(record: HeldRecord, values: RowValues): void {
    for (const [field, value] of values) record.values[field] = value;
    this.edits.stretch(record);
  }

  /** What has become of the archive; `copies` has the number of each copy by that of the entry that it is like. */
  finish(): Omit<EditedArchive, 'added'> & { readonly copies: ReadonlyMap<number, number> } {
    const { archive, edits } = this;
    const origins = rereadOrigins(archive, edits);
    const newNumbers = new Int32Array(this.before).fill(-1);
    const copies = new Map<number, number>();
    origins.forEach(({ entry, isFresh }, number) => {
      if (!isFresh) newNumbers[entry] = number;
      else copies.set(entry, number);
    });
    for (const number of copies.values()) edits.added.add(number);
    if (newNumbers.includes(-1) || copies.size + newNumbers.length !== origins.length)
      throw notEditable('other entries would be lost');
    return { archive, marks: edits, newNumbers, copies };
  }
}
