import { isList, isRecord, type Cell } from '../cell';
import type { DataTable } from '../data-table';
import type { KeyField } from '../links';
import type { MapSource, RowAt } from '../places';
import type { PartsWords } from './parts-words';

/** What parts belong to: a row, or a whole table, whose row is -1. */
export type Holder = RowAt;

/** Why what is within a part is not told. */
export type PartStop = 'goes in a circle' | 'too deep' | 'hangs on itself';

/** A part where it stands in a level. */
export interface LevelPart extends RowAt {
  /** Its number in the list of its row; undefined where the row is the part. */
  readonly item: number | undefined;
  /** The part that it hangs on or is within, by its place in the list of all; -1 for none. It stands before. */
  readonly parent: number;
  readonly is: readonly RowAt[];
  /** Where it stands, in the order of across, along and up. */
  readonly at: readonly [across: number, along: number, up: number];
  /** Degrees about what leads up, from 0 to 360. */
  readonly turn: number;
  readonly stop: PartStop | undefined;
}

/** A level out of its parts. */
export interface Level {
  /** How the fields of across, along and up are called. */
  readonly axes: readonly string[];
  readonly parts: readonly LevelPart[];
  /** Whether there are more than are held. */
  readonly isCut: boolean;
}

const MOST_PARTS = 20_000;
const MOST_DEPTH = 32;
/** Tables with more rows are no levels. */
const MOST_ROWS = 200_000;

interface RawPart extends RowAt {
  readonly item: number | undefined;
  readonly is: readonly RowAt[];
  readonly local: readonly [number, number, number];
  readonly turn: number;
  /** The row that it hangs on. */
  readonly under: number | undefined;
}

interface Stand {
  readonly at: readonly [number, number, number];
  readonly turn: number;
}

export type LevelSource = MapSource & { readonly keys: readonly KeyField[] };

const within = (cell: Cell | undefined, path: string): Cell | undefined => {
  let at = cell;
  for (const step of path.split('.')) at = isRecord(at) ? at.get(step) : undefined;
  return at;
};

function cellAt({ columns }: DataTable, row: number, path: string): Cell | undefined {
  const whole = columns.find(({ name }) => name === path);
  if (whole) return whole.cells[row];
  const [first, ...rest] = path.split('.');
  const cell = columns.find(({ name }) => name === first)?.cells[row];
  return rest.length === 0 ? cell : within(cell, rest.join('.'));
}

const asNumber = (cell: Cell | undefined): number =>
  typeof cell === 'number' && Number.isFinite(cell) ? cell : 0;

/** The order of coordinates: what leads up comes last. */
function axesOf({ at, up }: PartsWords): readonly string[] {
  const rest = at.filter((one) => one !== up);
  return up === undefined ? at : [...rest, up];
}

/** Parts by what they belong to, gone through once. */
class Parts {
  private readonly byHolder = new Map<string, RawPart[]>();
  readonly axes = new Map<number, readonly string[]>();

  constructor(
    private readonly source: LevelSource,
    words: readonly PartsWords[],
    isTable: (id: string, said: string) => boolean,
  ) {
    for (const one of words)
      for (const [table, { id }] of source.tables.entries())
        if (isTable(id, one.table)) {
          this.axes.set(table, axesOf(one));
          this.gather(table, one);
        }
  }

  of({ table, row }: Holder): readonly RawPart[] {
    return this.byHolder.get(`${table} ${row}`) ?? [];
  }

  private put(holder: Holder, part: RawPart): void {
    const key = `${holder.table} ${holder.row}`;
    const own = this.byHolder.get(key);
    if (own) own.push(part);
    else this.byHolder.set(key, [part]);
  }

  private gather(table: number, words: PartsWords): void {
    const { table: data } = this.source.tables[table]!;
    if (data.count > MOST_ROWS) return;
    const start = words.list === undefined ? '' : `${words.list}[].`;
    const means = (path: string) => this.meaning(table, `${start}${path}`);
    const [is, holders, under] = [
      words.is.map((path) => [path, means(path)] as const),
      words.in === undefined ? undefined : means(words.in),
      words.under === undefined ? undefined : means(words.under),
    ];
    const axes = axesOf(words);
    const raw = (
      row: number,
      item: number | undefined,
      read: (path: string) => Cell | undefined,
    ): RawPart => ({
      ...{ table, row, item },
      is: is.flatMap(([path, toRow]) => toRow?.(read(path)) ?? []),
      local: [0, 1, 2].map((i) => (axes[i] === undefined ? 0 : asNumber(read(axes[i])))) as [
        number,
        number,
        number,
      ],
      turn: words.turn === undefined ? 0 : asNumber(read(words.turn)),
      under: words.under === undefined ? undefined : under?.(read(words.under))?.row,
    });
    for (let row = 0; row < data.count; row++) {
      if (words.list === undefined) {
        const read = (path: string): Cell | undefined => cellAt(data, row, path);
        const holder = words.in === undefined ? { table, row: -1 } : holders?.(read(words.in));
        if (holder) this.put(holder, raw(row, undefined, read));
        continue;
      }
      const list = cellAt(data, row, words.list);
      if (!isList(list)) continue;
      for (const [item, one] of list.entries())
        if (isRecord(one))
          this.put(
            { table, row },
            raw(row, item, (path) => within(one, path)),
          );
    }
  }

  /** Tells the row that a value of a field means. */
  private meaning(table: number, path: string): ((cell: Cell | undefined) => RowAt | undefined) | undefined {
    const { tables, followed, keys } = this.source;
    const field = tables[table]!.fields.findIndex((one) => one.path === path);
    const link = followed.find((one) => one.from === table && one.field === field);
    const key = link && keys.find((one) => one.table === link.to && one.field === link.by);
    if (!link || !key) return undefined;
    return (cell) => {
      const value = typeof cell === 'bigint' ? String(cell) : cell;
      const row = typeof value === 'number' || typeof value === 'string' ? key.rows.get(value) : undefined;
      return row === undefined ? undefined : { table: link.to, row };
    };
  }
}

/** A place within another: turned about what leads up (counterclockwise from above), then moved. */
function standIn(outer: Stand, { local, turn }: RawPart): Stand {
  const angle = (outer.turn * Math.PI) / 180;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  const [across, along, up] = local;
  return {
    at: [
      outer.at[0] + across * cos - along * sin,
      outer.at[1] + across * sin + along * cos,
      outer.at[2] + up,
    ],
    turn: (((outer.turn + turn) % 360) + 360) % 360,
  };
}

/** How levels of a game are put together. `beyond` tells the table that a row leads to as a whole, as a level that another one names by its path. */
export class Levels {
  private readonly parts: Parts;

  constructor(
    source: LevelSource,
    words: readonly PartsWords[],
    isTable: (id: string, said: string) => boolean,
    private readonly beyond: (row: RowAt) => Holder | undefined = () => undefined,
  ) {
    this.parts = new Parts(source, words, isTable);
  }

  /** Whether a row, or a table as a whole, has parts. */
  has(holder: Holder): boolean {
    return this.parts.of(holder).length > 0;
  }

  /** All parts of a level, those that hang on others behind these, with what the parts are made of themselves. */
  assemble(holder: Holder): Level {
    const made: LevelPart[] = [];
    let isCut = false;
    const put = (outer: Holder, parent: number, stand: Stand, held: readonly Holder[]): void => {
      const raw = this.parts.of(outer);
      const rows = new Map(raw.flatMap((one, i) => (one.item === undefined ? [[one.row, i]] : [])));
      const hanging = new Map<number, number[]>();
      const firsts: number[] = [];
      for (const [i, { under }] of raw.entries()) {
        const on = under === undefined ? undefined : rows.get(under);
        if (on === undefined || on === i) firsts.push(i);
        else if (hanging.has(on)) hanging.get(on)!.push(i);
        else hanging.set(on, [i]);
      }
      const done = new Set<number>();
      const add = (i: number, above: number, outerStand: Stand, depth: number, stop?: PartStop): void => {
        if (done.has(i)) return;
        done.add(i);
        if (made.length >= MOST_PARTS) {
          isCut = true;
          return;
        }
        const one = raw[i]!;
        const own = standIn(outerStand, one);
        const inner = one.is
          .map((is) => (this.has(is) ? is : this.beyond(is)))
          .filter((is): is is Holder => is !== undefined && this.has(is));
        const isCircle = inner.some((is) =>
          held.some(({ table, row }) => table === is.table && row === is.row),
        );
        const isDeep = depth + held.length > MOST_DEPTH;
        const number = made.length;
        made.push({
          ...{ table: one.table, row: one.row, item: one.item, parent: above, is: one.is },
          ...{ at: own.at, turn: own.turn },
          stop: stop ?? (isCircle ? 'goes in a circle' : isDeep ? 'too deep' : undefined),
        });
        if (isDeep) {
          // All that hangs on it is left out, however far it goes.
          const left = [...(hanging.get(i) ?? [])];
          for (let child = left.pop(); child !== undefined; child = left.pop()) {
            if (!done.has(child)) left.push(...(hanging.get(child) ?? []));
            done.add(child);
            isCut = true;
          }
          return;
        }
        for (const child of hanging.get(i) ?? []) add(child, number, own, depth + 1);
        if (!isCircle) for (const is of inner) put(is, number, own, [...held, is]);
      };
      for (const i of firsts) add(i, parent, stand, 0);
      // What hangs on itself through others is reached from nowhere.
      for (const i of raw.keys()) if (!done.has(i)) add(i, parent, stand, 0, 'hangs on itself');
    };
    put(holder, -1, { at: [0, 0, 0], turn: 0 }, [holder]);
    const first = this.parts.of(holder)[0];
    return { axes: (first && this.parts.axes.get(first.table)) ?? [], parts: made, isCut };
  }
}
