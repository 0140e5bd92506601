import { FormatError } from '../bytes';

/** A code as it stands in paths or data, and what people call it. */
export type Code = readonly [code: string, name: string];

/** A table of codes with what was left out of it. */
export interface IdTable {
  readonly codes: readonly Code[];
  /** Codes that stand there more than once; the first name counts. */
  readonly doubled: readonly string[];
  /** What else it says of them. */
  readonly more?: MoreColumns | undefined;
}

/** Further columns of a table of codes. */
export interface MoreColumns {
  readonly titles: readonly string[];
  /** Cells of these columns for each of the codes, in their order. */
  readonly rows: readonly (readonly string[])[];
}

const MOST_MORE = 8;
const MOST_TITLE_CHARACTERS = 40;
const MOST_CELL_CHARACTERS = 120;

const CODE = /^(id|ids|code|key|number|nr|no|hash)$/i;
const NAME = /^(name|title|label|text|meaning|readable|value)$/i;
const MOST_CODES = 1_000_000;

/**
 * Codes out of rows of cells, such as those of a CSV file: by their titles where the first row has such, else the first and
 * the second column. Throws FormatError where there are no pairs.
 */
export function codesOfRows(rows: readonly (readonly string[])[]): IdTable {
  const [first] = rows;
  const codeAt = first?.findIndex((cell) => CODE.test(cell.trim())) ?? -1;
  const nameAt = first?.findIndex((cell, i) => i !== codeAt && NAME.test(cell.trim())) ?? -1;
  const hasTitles = codeAt >= 0;
  // Where no title says that it is a name, the column beside the code is taken.
  const beside = codeAt + 1 < (first?.length ?? 0) ? codeAt + 1 : 0;
  const [from, to] = hasTitles ? [codeAt, nameAt >= 0 ? nameAt : beside] : [0, 1];
  const others = hasTitles
    ? first!
        .flatMap((cell, i) => (i === from || i === to || cell.trim() === '' ? [] : [i]))
        .slice(0, MOST_MORE)
    : [];
  return tableOf(
    rows.slice(hasTitles ? 1 : 0).map((row) => ({
      code: row[from] ?? '',
      name: row[to] ?? '',
      more: new Map(others.map((i) => [first![i]!.trim(), row[i] ?? ''])),
    })),
  );
}

/** A row of a table before it is known whether it is one. */
interface Coded {
  readonly code: string;
  readonly name: string;
  readonly more: ReadonlyMap<string, string>;
}

const NO_MORE: ReadonlyMap<string, string> = new Map();
const spelled = (value: unknown): string | undefined =>
  typeof value === 'string'
    ? value
    : typeof value === 'number' || typeof value === 'boolean'
      ? String(value)
      : undefined;

/** The fields of an object that are neither its code nor its name. */
const othersOf = (item: object, hasCode: boolean): ReadonlyMap<string, string> =>
  new Map(
    Object.entries(item).flatMap(([title, value]): [string, string][] => {
      const text = spelled(value);
      return text === undefined || NAME.test(title) || (hasCode && CODE.test(title)) ? [] : [[title, text]];
    }),
  );

/** Codes out of JSON: an object of names by code, pairs, or objects with a code and a name. */
export function codesOfJson(value: unknown): IdTable {
  if (Array.isArray(value)) return tableOf(value.flatMap((item) => pairOf(item)));
  if (typeof value !== 'object' || value === null) return tableOf([]);
  return tableOf(
    Object.entries(value).flatMap(([code, inner]): Coded[] => {
      if (typeof inner === 'string' || typeof inner === 'number')
        return [{ code, name: String(inner), more: NO_MORE }];
      if (typeof inner !== 'object' || inner === null) return [];
      const name = Object.entries(inner).find(([title]) => NAME.test(title))?.[1] as unknown;
      return typeof name === 'string' ? [{ code, name, more: othersOf(inner as object, false) }] : [];
    }),
  );
}

function pairOf(item: unknown): Coded[] {
  if (Array.isArray(item))
    return item.length >= 2 ? [{ code: String(item[0]), name: String(item[1]), more: NO_MORE }] : [];
  if (typeof item !== 'object' || item === null) return [];
  const cell = (pattern: RegExp): string | undefined => {
    const found = Object.entries(item).find(([title]) => pattern.test(title))?.[1] as unknown;
    return typeof found === 'string' || typeof found === 'number' ? String(found) : undefined;
  };
  const [code, name] = [cell(CODE), cell(NAME)];
  return code !== undefined && name !== undefined ? [{ code, name, more: othersOf(item, true) }] : [];
}

function tableOf(rows: readonly Coded[]): IdTable {
  const codes = new Map<string, string>();
  const doubled = new Set<string>();
  const more: ReadonlyMap<string, string>[] = [];
  for (const row of rows) {
    const [code, name] = [row.code.trim(), row.name.trim()];
    if (code === '' || name === '' || code.length > 200 || name.length > 500) continue;
    if (!codes.has(code)) {
      codes.set(code, name);
      more.push(row.more);
    } else if (codes.get(code) !== name) doubled.add(code);
    if (codes.size > MOST_CODES)
      throw new FormatError('budget', { expected: `at most ${MOST_CODES} codes`, remedy: 'Split the table' });
  }
  if (codes.size === 0)
    throw new FormatError('bad-value', {
      expected: 'rows with a code and a name',
      actual: 'none',
      remedy: 'Give a CSV with two columns, or JSON such as { "a12": "Bog heron" }',
    });
  return { codes: [...codes], doubled: [...doubled], more: columnsOf(more) };
}

function columnsOf(rows: readonly ReadonlyMap<string, string>[]): MoreColumns | undefined {
  const titles = [...new Set(rows.flatMap((row) => [...row.keys()]))].slice(0, MOST_MORE);
  if (titles.length === 0) return undefined;
  return {
    titles: titles.map((title) => title.slice(0, MOST_TITLE_CHARACTERS)),
    rows: rows.map((row) =>
      titles.map((title) => (row.get(title) ?? '').trim().slice(0, MOST_CELL_CHARACTERS)),
    ),
  };
}

/** What a code such as `vo_*` or `*_hull` says of the beginning or end of names; undefined for other codes. */
export function affixOf(code: string): { at: 'start' | 'end'; text: string } | undefined {
  const found = /^(\*?)([^*]+)(\*?)$/.exec(code.toLowerCase());
  if (!found || found[1] === found[3]) return undefined;
  return { at: found[3] ? 'start' : 'end', text: found[2]! };
}

/** Whether the name of a path, without its ending, begins or ends so. */
export function fitsAffix({ at, text }: { at: 'start' | 'end'; text: string }, path: string): boolean {
  const name = path.slice(path.lastIndexOf('/') + 1).toLowerCase();
  const dot = name.lastIndexOf('.');
  const stem = dot > 0 ? name.slice(0, dot) : name;
  return stem.length > text.length && (at === 'start' ? stem.startsWith(text) : stem.endsWith(text));
}

/** The words of one step of a path: itself, without its ending, what signs part, and from its beginning up to a sign (`otter_pale` of `otter_pale_colour`). */
export function wordsOfStep(step: string): string[] {
  const stem = stemOf(step);
  const words = stem === step ? [step] : [step, stem];
  let from = 0;
  for (const sign of stem.matchAll(/[_\-. ]+/g)) {
    if (from > 0) words.push(stem.slice(0, sign.index));
    words.push(stem.slice(from, sign.index));
    from = sign.index + sign[0].length;
  }
  if (from > 0) words.push(stem.slice(from));
  return words;
}

const stemOf = (step: string): string => {
  const point = step.lastIndexOf('.');
  return point < 0 ? step : step.slice(0, point);
};

/** A name with the folder that it lies in, as one word; undefined at the top. */
export const nameInFolder = (folder: string, name: string): string | undefined =>
  folder === '' ? undefined : `${folder.slice(folder.lastIndexOf('/') + 1)}/${stemOf(name)}`;

/** The words of a path that may be codes: those of its steps, and the name with the folder before it. */
export function wordsOfPath(path: string): string[] {
  const slash = path.lastIndexOf('/');
  const pair = nameInFolder(path.slice(0, Math.max(0, slash)), path.slice(slash + 1));
  const words = new Set(path.split('/').flatMap(wordsOfStep));
  if (pair !== undefined) words.add(pair);
  words.delete('');
  return [...words];
}
