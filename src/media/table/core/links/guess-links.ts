import type { Field } from '../fields';

/** A table of a game with its fields. */
export interface TableFields {
  /** What tells it apart. */
  readonly id: string;
  readonly count: number;
  readonly fields: readonly Field[];
}

/** A field whose values are each of one row only, by which other tables may mean the row. */
export interface KeyField {
  readonly table: number;
  readonly field: number;
  /** Rows by value. */
  readonly rows: ReadonlyMap<number | string, number>;
}

/** A field that means rows of a table, or may. */
export interface FoundLink {
  /** The table and field that says it, by their numbers. */
  readonly from: number;
  readonly field: number;
  readonly to: number;
  /** The field of that table that it goes by. */
  readonly by: number;
  /** Different values that were looked at, and how many of them rows of the other table have. */
  readonly values: number;
  readonly hits: number;
  /** Share of other numbers of the game that would be such rows by chance. */
  readonly chance: number;
  /** Whether that is more than chance can do. */
  readonly isSure: boolean;
}

/** What stands for nothing in many games. */
const NONE = new Set<number | string>([0, -1, 0xff, 0xffff, 0xffffffff, '']);
const LEAST_ROWS = 2;
/** Texts longer than this are not what rows are called by. */
const MOST_KEY_LENGTH = 80;
const LEAST_SHARE = 0.8;
/** So unlikely by chance a link has to be that is taken for one. */
const SURE = 1e-4;
const LIKELY = 0.05;
/** Fewer values prove little, however unlikely they are, unless a name says it too. */
const LEAST_HITS = 3;

const isKeyName = (path: string): boolean =>
  /(?:^|[^a-z])(?:id|key|code|hash|uid|guid|index|number|nr|no)$/i.test(path) || path === 'name of the row';

/** Values of a field that could be keys: whole numbers, or short texts. */
function keysOf(field: Field): Map<number | string, number> | undefined {
  if (!field.isSingle) return undefined;
  const rows = new Map<number | string, number>();
  const isNumbers = field.numbers.length > 0;
  if (isNumbers && field.texts.length > 0) return undefined;
  const count = isNumbers ? field.numbers.length : field.texts.length;
  for (let i = 0; i < count; i++) {
    const value = isNumbers ? field.numbers[i]! : field.texts[i]!;
    if (
      typeof value === 'number'
        ? !Number.isSafeInteger(value)
        : value.length > MOST_KEY_LENGTH || /\s{2}|\n/.test(value)
    )
      return undefined;
    if (rows.has(value)) return undefined;
    rows.set(value, (isNumbers ? field.numberRows : field.textRows)[i]!);
  }
  return rows;
}

/** Fields of tables that may be what rows are called by, for each table the best first. */
export function keyFields(tables: readonly TableFields[]): KeyField[] {
  return tables.flatMap(({ fields, count }, table) => {
    if (count < LEAST_ROWS) return [];
    const own = fields.flatMap(
      (field, number): (KeyField & { readonly worth: number; readonly isText: boolean })[] => {
        if (field.filled < count) return [];
        const rows = keysOf(field);
        if (!rows) return [];
        const worth = (isKeyName(field.path) ? 2 : 0) + (field.numbers.length > 0 ? 1 : 0) - number / 1000;
        return [{ table, field: number, rows, worth, isText: field.texts.length > 0 }];
      },
    );
    // Numbers count in the first field, and where they are called like a key; others are only different by chance.
    return own
      .sort((a, b) => b.worth - a.worth)
      .filter(({ field, isText }) => field === 0 || isText || isKeyName(fields[field]!.path));
  });
}

/** Of longer fields so many values are looked at, from all of their length. */
const MOST_VALUES = 20_000;

/** Different values of a field, what stands for nothing left out. */
function distinct({ numbers, texts }: Field): Set<number | string> {
  const found = new Set<number | string>();
  const step = (length: number): number => Math.max(1, Math.ceil(length / MOST_VALUES));
  for (let i = 0, by = step(numbers.length); i < numbers.length; i += by) {
    const value = numbers[i]!;
    if (Number.isSafeInteger(value) && !NONE.has(value)) found.add(value);
  }
  for (let i = 0, by = step(texts.length); i < texts.length; i += by) {
    const value = texts[i]!;
    if (value.length <= MOST_KEY_LENGTH && !NONE.has(value)) found.add(value);
  }
  return found;
}

/** Different numbers that the background of chance is told by, at most. */
const MOST_BACKGROUND = 20_000;

/**
 * Which fields of a game mean rows of which table: most of their values are keys of it, and would be so by chance only seldom. Chance is told by all other numbers and texts of the game: the share of them that
 * are such keys, so that tables counted from 1 are meant by nearly everything and prove nothing. Of several tables that it could be, the least likely by chance is taken, a name that says the table before others.
 */
export function guessLinks(tables: readonly TableFields[]): FoundLink[] {
  const keys = keyFields(tables);
  const values = tables.map(({ fields }) => fields.map(distinct));
  const background: (readonly [table: number, field: number, value: number | string])[] = [];
  const own = new Set(keys.map(({ table, field }) => `${table} ${field}`));
  for (const [table, fields] of values.entries())
    for (const [field, set] of fields.entries()) {
      if (own.has(`${table} ${field}`)) continue;
      for (const value of set)
        if (background.length < MOST_BACKGROUND) background.push([table, field, value]);
    }
  // What is found first is no chance in what is found then: fields that surely mean rows of a table say nothing of how likely others are to hit it.
  const first = linksAmong(tables, keys, values, background, () => false);
  const sure = new Set(
    first.flatMap(({ from, field, to, by, isSure }) => (isSure ? [`${from} ${field} ${to} ${by}`] : [])),
  );
  if (sure.size === 0) return first;
  return linksAmong(tables, keys, values, background, (from, field, { table, field: by }) =>
    sure.has(`${from} ${field} ${table} ${by}`),
  );
}

type Background = readonly (readonly [table: number, field: number, value: number | string])[];

/** One round of looking for links; `isKnown` tells fields that are known to mean rows by a key. */
function linksAmong(
  tables: readonly TableFields[],
  keys: readonly KeyField[],
  values: readonly (readonly ReadonlySet<number | string>[])[],
  background: Background,
  isKnown: (from: number, field: number, key: KeyField) => boolean,
): FoundLink[] {
  const found: FoundLink[] = [];
  const others = new Map(
    keys.map((key) => [key, background.filter(([from, field]) => !isKnown(from, field, key))]),
  );
  for (const [from, fields] of values.entries())
    for (const [field, set] of fields.entries()) {
      if (set.size === 0) continue;
      let best: { readonly link: FoundLink; readonly rank: number } | undefined;
      for (const key of keys) {
        if (key.table === from && key.field === field) continue;
        let hits = 0;
        for (const value of set) if (key.rows.has(value)) hits++;
        if (hits < LEAST_SHARE * set.size || hits === 0) continue;
        if (key.table === from && isOwnRow(tables[from]!.fields[field]!, key)) continue;
        const chance = chanceOf(key, from, field, others.get(key)!);
        // How likely so many hits are, each by chance (a bound from above).
        const least = 1 / (background.length + 2);
        // Two texts are seldom alike by chance, however few there are.
        const floor = typeof set.values().next().value === 'string' ? Math.min(least, 0.01) : least;
        const byChance = Math.pow(Math.max(chance, floor), hits);
        const isNamed = saysTable(tables[from]!.fields[field]!.path, tables[key.table]!.id);
        const rank =
          -Math.log10(byChance) + (isNamed ? 6 : 0) + (hits === set.size ? 1 : 0) - keyRank(keys, key);
        if (best && best.rank >= rank) continue;
        best = {
          rank,
          link: {
            ...{ from, field, to: key.table, by: key.field, values: set.size, hits, chance },
            isSure: (hits >= LEAST_HITS && byChance < SURE) || (isNamed && byChance < LIKELY),
          },
        };
      }
      if (best && (best.link.isSure || Math.pow(Math.max(best.link.chance, 1e-6), best.link.hits) < LIKELY))
        found.push(best.link);
    }
  return found;
}

/** Whether a field only ever says the row that it stands in, by another of its names. */
function isOwnRow({ numbers, numberRows, texts, textRows }: Field, { rows }: KeyField): boolean {
  const isOwn = (value: number | string, row: number): boolean => (rows.get(value) ?? row) === row;
  return (
    numbers.every((value, i) => isOwn(value, numberRows[i]!)) &&
    texts.every((value, i) => isOwn(value, textRows[i]!))
  );
}

/** The second key of a table is seldom what others go by. */
const keyRank = (keys: readonly KeyField[], key: KeyField): number =>
  keys.filter(({ table }) => table === key.table).indexOf(key) * 2;

function chanceOf(
  { rows, table, field: by }: KeyField,
  from: number,
  field: number,
  background: Background,
): number {
  let [all, hits] = [0, 0];
  const sort = typeof rows.keys().next().value;
  for (const [own, number, value] of background) {
    if ((own === from && number === field) || (own === table && number === by) || typeof value !== sort)
      continue;
    all++;
    if (rows.has(value)) hits++;
  }
  return all === 0 ? 0 : hits / all;
}

/** Whether the name of a field says a table: `home_place` or `placeId` says `places`. */
export function saysTable(path: string, table: string): boolean {
  const words = wordsOf(path.slice(path.lastIndexOf('.') + 1));
  const name = wordsOf(table.slice(table.lastIndexOf('/') + 1).replace(/\.[a-z0-9]+$/i, '')).at(-1) ?? '';
  return words.some((word) => word === name || stem(word) === stem(name));
}

const wordsOf = (text: string): string[] =>
  text
    .replace(/([a-z0-9])([A-Z])/g, '$1 $2')
    .toLowerCase()
    .split(/[^a-z0-9]+/)
    .filter((word) => word !== '');

const stem = (word: string): string =>
  word === 'people'
    ? 'person'
    : word
        .replace(/ies$/, 'y')
        .replace(/(?<=s|x|ch|sh)es$/, '')
        .replace(/s$/, '');
