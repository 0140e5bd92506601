import type { Catalogue } from './catalogue';
import { FactBuilder, type FactColumn } from './facts';
import { nameInFolder, wordsOfStep, type Code, type MoreColumns } from './id-table';

/** A table of codes with what else it says of them. */
export interface TellingTable {
  readonly codes: readonly Code[];
  readonly more: MoreColumns;
}

/** A word of a path that is a code, with what tables say of it. */
interface Told {
  readonly word: string;
  readonly told: ReadonlyMap<string, string | number>;
}

/** So many rows are gone through before others get their turn. */
const TOGETHER = 5000;

/**
 * What tables say of the entries whose paths have their codes in them, as columns. Of several codes in a path the longest counts that says
 * anything under a title, of several tables the first. `rest` is waited for every so often.
 */
export async function factsOfTables(
  catalogue: Catalogue,
  tables: readonly TellingTable[],
  rest: () => Promise<void>,
): Promise<FactColumn[]> {
  const byCode = new Map<string, Map<string, string | number>>();
  const titles = new Set<string>();
  // A field is numbers where all tables that have it say so.
  const worded = new Set(
    tables.flatMap(({ more }) =>
      more.titles.filter((_, i) =>
        more.rows.some((cells) => cells[i] !== '' && !Number.isFinite(Number(cells[i]))),
      ),
    ),
  );
  for (const { codes, more } of tables) {
    codes.forEach(([code], i) => {
      const key = code.toLowerCase();
      const told = byCode.get(key) ?? new Map<string, string | number>();
      byCode.set(key, told);
      more.titles.forEach((title, at) => {
        const cell = more.rows[i]?.[at] ?? '';
        if (cell === '' || told.has(title)) return;
        titles.add(title);
        told.set(title, worded.has(title) ? cell : Number(cell));
      });
    });
  }
  if (titles.size === 0) return [];
  const columns = new Map([...titles].map((title) => [title, new FactBuilder(title, catalogue.count)]));
  const toldBy = (words: readonly string[]): Told[] =>
    words.flatMap((word) => {
      const told = byCode.get(word);
      return told ? [{ word, told }] : [];
    });
  // Paths stand in order, so that what a folder is told by is looked up once for all that lie in it.
  let folder: string | undefined;
  let ofFolder: Told[] = [];
  for (let row = 0; row < catalogue.count; row++) {
    if (row % TOGETHER === TOGETHER - 1) await rest();
    const path = catalogue.path(row).toLowerCase();
    const slash = path.lastIndexOf('/');
    const own = path.slice(0, Math.max(0, slash));
    const name = path.slice(slash + 1);
    if (own !== folder) {
      folder = own;
      ofFolder = toldBy(own.split('/').flatMap(wordsOfStep));
    }
    const found = [...ofFolder, ...toldBy([...wordsOfStep(name), nameInFolder(own, name) ?? ''])];
    if (found.length === 0) continue;
    found.sort((a, b) => b.word.length - a.word.length);
    for (const [title, column] of columns) {
      const value = found.find(({ told }) => told.has(title))?.told.get(title);
      if (value !== undefined) column.set(row, value);
    }
  }
  return [...columns.values()].map((column) => column.done());
}

/** Columns of scripts with those of tables: under one title, a script's value counts before a table's. */
export function joinFacts(own: readonly FactColumn[], told: readonly FactColumn[]): FactColumn[] {
  const at = (title: string): FactColumn | undefined =>
    own.find((one) => one.title.toLowerCase() === title.toLowerCase());
  const joined = own.map((column) => {
    const other = told.find(({ title }) => at(title) === column);
    if (!other) return column;
    const builder = new FactBuilder(column.title, column.values.length);
    const value = ({ words, values }: FactColumn, row: number): string | number | undefined =>
      Number.isNaN(values[row]!) ? undefined : words ? words[values[row]!] : values[row];
    const hasWords = column.words !== undefined || other.words !== undefined;
    for (let row = 0; row < column.values.length; row++) {
      const one = value(column, row) ?? value(other, row);
      if (one !== undefined) builder.set(row, hasWords ? String(one) : one);
    }
    return builder.done();
  });
  return [...joined, ...told.filter(({ title }) => !at(title))];
}
