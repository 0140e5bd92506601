import { guessParts, Levels, spelledParts, type PartsWords, type PartStop } from '@/media/table/core/levels';
import { UserError } from '@/platform/user-error';
import type { NamedEntry } from './named-entries';
import { entriesNamed } from './named-entries';
import { NAMED_FILES } from './named-files';
import type { Reading } from './reading';
import { rowTitle } from './reading';
import { refTo, tableAt, type RowRef } from './reading-view';
import { isTable } from './words';

/** A part of a level where it stands. */
export interface PartView {
  /** The part that it hangs on or is within, by its place in the list; -1 for none. */
  readonly parent: number;
  /** The row that it is, or that has it in a list. */
  readonly to: RowRef;
  /** Its number in the list of its row, from 0; null where the row is the part. */
  readonly item: number | null;
  /** What it is called: by the first row that it says it is. */
  readonly title: string;
  readonly is: readonly RowRef[];
  /** A file that what it is names, to be seen. */
  readonly entry: NamedEntry | null;
  readonly at: readonly [number, number, number];
  readonly turn: number;
  readonly stop: PartStop | null;
}

export interface LevelView {
  readonly title: string;
  /** How the fields of across, along and up are called. */
  readonly axes: readonly string[];
  readonly parts: readonly PartView[];
  readonly isCut: boolean;
  /** How its parts are read, as words that can be given otherwise. */
  readonly words: string;
  readonly isSaid: boolean;
}

interface Assembled {
  readonly levels: Levels;
  readonly words: readonly { readonly words: PartsWords; readonly isSaid: boolean }[];
}
const assembled = new WeakMap<Reading, Assembled>();

/** How the levels of a game are put together: as somebody says it of a table, else as it is found. */
function levelsIn(reading: Reading): Assembled {
  const known = assembled.get(reading);
  if (known) return known;
  const isSaid = (table: string): boolean => reading.partsWords.some((one) => isTable(table, one.table));
  const words = [
    ...reading.partsWords.map((one) => ({ words: one, isSaid: true })),
    ...guessParts(reading)
      .filter(({ table }) => !isSaid(table))
      .map((one) => ({ words: one, isSaid: false })),
  ];
  const files = reading.byId.get(NAMED_FILES);
  const levels = new Levels(
    reading,
    words.map((one) => one.words),
    isTable,
    // A row that is a file which is a table is that table.
    ({ table, row }) => {
      const own = table === files ? reading.tables[table]!.files[row]!.path : undefined;
      const number = own === undefined ? undefined : reading.byId.get(own);
      return number === undefined ? undefined : { table: number, row: -1 };
    },
  );
  const made = { levels, words };
  assembled.set(reading, made);
  return made;
}

/** Whether a row has parts, or where it is -1 its table as a whole. */
export const isLevel = (reading: Reading, table: number, row: number): boolean =>
  levelsIn(reading).levels.has({ table, row });

/** A row, or a whole table where it is -1, as it is put together. */
export async function levelView(reading: Reading, id: string, row: number): Promise<LevelView> {
  const { number, of } = tableAt(reading, id);
  if (row >= of.count) throw new UserError(404, `${id} has ${of.count} rows.`);
  const { levels, words } = levelsIn(reading);
  const { axes, parts, isCut } = levels.assemble({ table: number, row });
  if (parts.length === 0)
    throw new UserError(
      409,
      `It is not known what ${row < 0 ? id : rowTitle(reading, number, row)} is put together from. Say it in Words for steps and maps: what its parts are and where they stand.`,
    );
  const named = await entriesNamed(reading.gameId);
  const toRef = refTo(reading);
  const entries = new Map<string, NamedEntry | null>();
  const entryOf = (table: number, own: number): NamedEntry | null => {
    const key = `${table} ${own}`;
    let known = entries.get(key);
    if (known === undefined) {
      const texts = reading.tables[table]!.table.columns.map(({ cells }) => cells[own]);
      known = texts.map((cell) => (typeof cell === 'string' ? named(cell) : undefined)).find(Boolean) ?? null;
      entries.set(key, known);
    }
    return known;
  };
  const own = words.find(({ words: one }) => isTable(reading.tables[parts[0]!.table]!.id, one.table))!;
  return {
    title: row < 0 ? id : rowTitle(reading, number, row),
    ...{ axes, isCut, words: spelledParts(own.words), isSaid: own.isSaid },
    parts: parts.map(({ parent, table, row: at, item, is, at: stands, turn, stop }) => {
      const refs = is.map((one) => toRef(one.table, one.row));
      return {
        ...{
          parent,
          to: toRef(table, at),
          item: item ?? null,
          is: refs,
          at: stands,
          turn,
          stop: stop ?? null,
        },
        title: refs[0]?.title ?? rowTitle(reading, table, at),
        entry: is.map((one) => entryOf(one.table, one.row)).find((entry) => entry !== null) ?? null,
      };
    }),
  };
}
