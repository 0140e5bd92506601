import { FormatError } from '../bytes';

/** A code as it stands in paths or data, and what people call it. */
export type Code = readonly [code: string, name: string];

/** A table of codes with what was left out of it. */
export interface IdTable {
  readonly codes: readonly Code[];
  /** Codes that stand there more than once; the first name counts. */
  readonly doubled: readonly string[];
}

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
  return tableOf(rows.slice(hasTitles ? 1 : 0).map((row): Code => [row[from] ?? '', row[to] ?? '']));
}

/** Codes out of JSON: an object of names by code, pairs, or objects with a code and a name. */
export function codesOfJson(value: unknown): IdTable {
  if (Array.isArray(value)) return tableOf(value.flatMap((item): Code[] => pairOf(item)));
  if (typeof value !== 'object' || value === null) return tableOf([]);
  return tableOf(
    Object.entries(value).flatMap(([key, inner]): Code[] => {
      if (typeof inner === 'string' || typeof inner === 'number') return [[key, String(inner)]];
      if (typeof inner !== 'object' || inner === null) return [];
      const name = Object.entries(inner).find(([title]) => NAME.test(title))?.[1] as unknown;
      return typeof name === 'string' ? [[key, name]] : [];
    }),
  );
}

function pairOf(item: unknown): Code[] {
  if (Array.isArray(item)) return item.length >= 2 ? [[String(item[0]), String(item[1])]] : [];
  if (typeof item !== 'object' || item === null) return [];
  const cell = (pattern: RegExp): string | undefined => {
    const found = Object.entries(item).find(([title]) => pattern.test(title))?.[1] as unknown;
    return typeof found === 'string' || typeof found === 'number' ? String(found) : undefined;
  };
  const [code, name] = [cell(CODE), cell(NAME)];
  return code !== undefined && name !== undefined ? [[code, name]] : [];
}

function tableOf(pairs: readonly Code[]): IdTable {
  const codes = new Map<string, string>();
  const doubled = new Set<string>();
  for (const [rawCode, rawName] of pairs) {
    const [code, name] = [rawCode.trim(), rawName.trim()];
    if (code === '' || name === '' || code.length > 200 || name.length > 500) continue;
    if (!codes.has(code)) codes.set(code, name);
    else if (codes.get(code) !== name) doubled.add(code);
    if (codes.size > MOST_CODES)
      throw new FormatError('budget', { expected: `at most ${MOST_CODES} codes`, remedy: 'Split the table' });
  }
  if (codes.size === 0)
    throw new FormatError('bad-value', {
      expected: 'rows with a code and a name',
      actual: 'none',
      remedy: 'Give a CSV with two columns, or JSON such as { "a12": "Bog heron" }',
    });
  return { codes: [...codes], doubled: [...doubled] };
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

/** The words of a path that may be codes: its steps, their names without endings, what signs part, and the name with the folder before it. */
export function wordsOfPath(path: string): string[] {
  const steps = path.split('/');
  const stems = steps.map((step) => step.replace(/\.[^.]*$/, ''));
  const parts = stems.flatMap((stem) => stem.split(/[_\-. ]+/));
  const pair = steps.length > 1 ? [`${steps.at(-2)}/${stems.at(-1)}`] : [];
  return [...new Set([...steps, ...stems, ...parts, ...pair])].filter((word) => word !== '');
}
