import { readYaml } from '@/core/script';

/** How rows of a table, or what a list in each of them has, are parts that stand somewhere. */
export interface PartsWords {
  readonly table: string;
  /** The list of records in each row; where there is none the rows are the parts, all of the table in one level unless `in` says otherwise. */
  readonly list: string | undefined;
  /** The field that means the row of another table that a part belongs to. */
  readonly in: string | undefined;
  /** The field that means the part that it hangs on. */
  readonly under: string | undefined;
  /** Fields that say what it is, by what they mean. */
  readonly is: readonly string[];
  /** Fields of where it stands, measured from what it belongs to. */
  readonly at: readonly string[];
  /** The field of how far it is turned about what leads up, in degrees. */
  readonly turn: string | undefined;
  /** The field of those in `at` that leads up. */
  readonly up: string | undefined;
}

/** What the text of parts begins with. */
export const PARTS_OF = 'parts of';

/** Reads how rows of a table are parts. Throws FormatError `script-wrong` with line, column and what was expected. */
export function parsePartsWords(text: string): PartsWords {
  const top = readYaml(text);
  top.entries([PARTS_OF, 'list', 'in', 'under', 'is', 'at', 'turn', 'up']);
  const at = top.need('at');
  const fields = at.isList() ? at.items().map((one) => one.text()) : [at.text()];
  if (fields.length < 2 || fields.length > 3)
    at.fail('two or three fields of where a part stands', `${fields.length}`);
  const up = top.get('up');
  if (up && !fields.includes(up.text())) up.fail(`one of ${fields.join(', ')}`, `'${up.text()}'`);
  const is = top.get('is');
  return {
    table: top.need(PARTS_OF).text(),
    list: top.get('list')?.text(),
    in: top.get('in')?.text(),
    under: top.get('under')?.text(),
    is: is ? (is.isList() ? is.items().map((one) => one.text()) : [is.text()]) : [],
    at: fields,
    turn: top.get('turn')?.text(),
    up: up?.text(),
  };
}

/** Parts as the text that `parsePartsWords` reads. */
export function spelledParts(words: PartsWords): string {
  const q = (text: string): string => (/^[A-Za-z_][\w./-]*$/.test(text) ? text : JSON.stringify(text));
  const list = (all: readonly string[]): string => `[${all.map(q).join(', ')}]`;
  const one = (name: 'list' | 'in' | 'under' | 'turn' | 'up'): string[] =>
    words[name] === undefined ? [] : [`${name}: ${q(words[name])}`];
  return [
    `${PARTS_OF}: ${q(words.table)}`,
    ...[...one('list'), ...one('in'), ...one('under')],
    `is: ${list(words.is)}`,
    `at: ${list(words.at)}`,
    ...[...one('turn'), ...one('up')],
    '',
  ].join('\n');
}
