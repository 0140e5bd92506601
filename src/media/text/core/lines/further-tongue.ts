import type { Archive, Entry } from '@/core/archive';
import { FormatError } from '@/core/bytes';
import { spelledAs, tongueIn } from '@/core/catalogue';
import { listAround, RowCopier, type CopiedRow, type EditedArchive } from '@/core/mod';
import { HeldRecord, type RecordNode, type Value } from '@/core/script';
import type { DescribedLines } from './described-lines';
import { listGrowths, tongueSaid, type ListGrowth, type SaidTongue } from './said-tongue';

/** A table that was edited in memory, and the entry that each line has there in the language that it got. */
export interface TongueEdit {
  readonly edited: Pick<EditedArchive, 'archive' | 'marks' | 'newNumbers'>;
  readonly entryOf: (line: number) => number | undefined;
}

/**
 * Ways in which a table may get a further language, the likeliest first: its texts become copies of those of the first language, which say the other one in a field of their own, in one
 * of the record that they lie in, by a list of languages that gets an item, or by their place. Each is done on the file opened anew when it is asked for; whether the
 * table reads as it should then is for the caller to try. A way that makes no sense is left out.
 */
export function* furtherTongues(table: DescribedLines, tongue: string): Generator<TongueEdit> {
  const { of, lines } = table;
  if (!of.language || lines.length === 0) return;
  const isWanted = (said: string): boolean => (tongueIn(said) ?? said) === tongue;
  const spell = (text: string): string => spelledAs(text, tongue);
  const first = firstEntry(table);
  const growths = listGrowths(table.archive, of.language, table.archive.entries[first]!.row, tongue).length;
  for (let growth = -1; growth < growths; growth++) {
    const archive = table.open();
    const entry = archive.entries[first]!;
    const copier = new RowCopier(archive);
    const grown = growth < 0 ? undefined : listGrowths(archive, of.language, entry.row, tongue)[growth];
    const numbers = grown ? numbersOf(copier, grown) : [];
    const said = tongueSaid(archive, of.language, entry, isWanted, spell, numbers);
    const made = said ? copied(table, archive, copier, said) : grown && copiedByPlace(table, copier);
    if (made) yield made;
  }
}

/** The numbers by which rows may name what a list has got: its own, and where it stands. */
function numbersOf(copier: RowCopier, { place, like, values, text, numbers }: ListGrowth): Value[] {
  const at = copier.growList(place, like, values, text);
  return [...numbers, at, at + 1];
}

/** The entry of the first line in the first language that it has. */
function firstEntry({ entries }: DescribedLines): number {
  return entries[0]!.find((one) => one !== undefined)!;
}

/** By line: the entry that its text in a further language is like, which is that of the first language where it has one. */
const modelsOf = ({ entries }: DescribedLines): number[] =>
  entries.map((own) => own.find((one) => one !== undefined)!);

function copied(
  table: DescribedLines,
  archive: Archive,
  copier: RowCopier,
  { level, values }: SaidTongue,
): TongueEdit | undefined {
  if (level === 'file') return undefined;
  if (level === 0) {
    const models = modelsOf(table);
    copier.copyRows(models.map((like, line) => ({ like, values, before: behindOwn(table, line) })));
    return finished(copier, models);
  }
  // What lies around the texts of the first language is copied with all of them.
  const models = table.entries.map((own) => own[0]);
  const around = new Set<RecordNode>();
  for (const like of models) {
    let node: RecordNode | undefined = like === undefined ? undefined : archive.entries[like]!.row;
    for (let up = 0; up < level && node; up++) node = node.parent;
    if (node) around.add(node);
  }
  for (const node of around) {
    const place = listAround(archive, node);
    if (!place) return undefined;
    copier.copyRecord(place, node.position, values);
  }
  return finished(copier, models);
}

/** Where texts of one key stand side by side in all of a table, one in a further language comes behind them; otherwise behind all others. */
function behindOwn(table: DescribedLines, line: number): number | undefined {
  return (sideBySide.get(table) ?? noteSides(table))[line];
}

const sideBySide = new WeakMap<DescribedLines, readonly (number | undefined)[]>();

function noteSides(table: DescribedLines): readonly (number | undefined)[] {
  const { archive, entries, said } = table;
  const ends = entries.map((own) => {
    const rows = own.filter((one) => one !== undefined).map((one) => archive.entries[one]!.row);
    const places = rows.map(({ position }) => position).sort((a, b) => a - b);
    const isTogether = places.every((place, i) => place === places[0]! + i);
    return isTogether && rows.every(({ siblings }) => siblings === rows[0]!.siblings)
      ? places.at(-1)! + 1
      : undefined;
  });
  const known = said.length > 1 && !ends.includes(undefined) ? ends : [];
  sideBySide.set(table, known);
  return known;
}

/** The texts of each line lie in a list of their own, in the order of the languages. */
function copiedByPlace(table: DescribedLines, copier: RowCopier): TongueEdit {
  const models = modelsOf(table);
  copier.copyRows(models.map((like): CopiedRow => ({ like, values: [] })));
  return finished(copier, models);
}

function finished(copier: RowCopier, models: readonly (number | undefined)[]): TongueEdit {
  const { copies, ...edited } = copier.finish();
  return {
    edited,
    entryOf: (line) => {
      const like = models[line];
      return like === undefined ? undefined : copies.get(like);
    },
  };
}

/** A table of one language that says another one instead, wherever it says it; undefined where it says none. Throws FormatError where it has no word for it. */
export function otherTongue(table: DescribedLines, tongue: string): TongueEdit | undefined {
  const { of, lines, entries } = table;
  if (!of.language || lines.length === 0) return undefined;
  const archive = table.open();
  const first = archive.entries[firstEntry(table)]!;
  const said = tongueSaid(
    archive,
    of.language,
    first,
    (word) => (tongueIn(word) ?? word) === tongue,
    (text) => spelledAs(text, tongue),
  );
  const copier = new RowCopier(archive);
  if (!said) respellList(table, archive, copier, tongue);
  for (const node of said ? saying(archive, said) : []) {
    const { level, values } = said!;
    const place = level === 0 ? listAround(archive, node) : undefined;
    if (place) copier.rewriteRows(place, values, 'entries');
    else if (node instanceof HeldRecord) copier.setFields(node, values);
    else throw noWord(table, tongue);
  }
  const edited = copier.finish();
  return { edited, entryOf: (line) => edited.newNumbers[entries[line]!.find((one) => one !== undefined)!] };
}

/** Has the only item of a list of languages be another one. */
function respellList(table: DescribedLines, archive: Archive, copier: RowCopier, tongue: string): void {
  const { row } = archive.entries[firstEntry(table)]!;
  const lists = listGrowths(archive, table.of.language!, row, tongue);
  const own = lists.find(({ place, values }) => place.items.length === 1 && values.length > 0);
  if (!own) throw noWord(table, tongue);
  copier.rewriteRows(
    own.place,
    own.values.filter(([, value]) => typeof value === 'string'),
    'all',
  );
}

/** The records that say the language: for rows one of each list. */
function saying(archive: Archive, { level, node }: SaidTongue): Iterable<RecordNode> {
  if (level === 'file') return [node];
  const found = new Map<unknown, RecordNode>();
  for (const { row } of archive.entries) {
    let at: RecordNode | undefined = row;
    for (let up = 0; up < level && at; up++) at = at.parent;
    if (at) found.set(level === 0 ? (at.siblings ?? at) : at, at);
  }
  return found.values();
}

/** A text that a table has not in one of its languages, and the row that it gets. */
interface LackingText<Change> {
  readonly change: Change;
  readonly row: CopiedRow;
}

/**
 * Rows for texts that a table has not in one of its languages: each like that of the same line in another one, where rows say their language; else, where each language has a list of its own, like one
 * of that list, called as the line is in another one. A row is copied once in an edit, so of the latter there may be fewer than were asked for. Throws FormatError where there are none.
 */
export function lackingTexts<Change extends { readonly line: number; readonly tongue: number }>(
  table: DescribedLines,
  lacking: readonly Change[],
): readonly LackingText<Change>[] {
  const values = new Map<number, SaidTongue['values'] | undefined>();
  const taken = new Set<number>();
  const found = lacking.flatMap((change): LackingText<Change>[] => {
    const { line, tongue } = change;
    const like = table.entries[line]?.find((one) => one !== undefined);
    if (like === undefined) return [];
    if (!values.has(tongue)) values.set(tongue, valuesFor(table, table.archive.entries[like]!, tongue));
    const own = values.get(tongue);
    if (own) return [{ change, row: { like, values: own, before: behindOwn(table, line) } }];
    const row = rowOfList(table, like, change, taken);
    return row ? [{ change, row }] : [];
  });
  const [first] = lacking;
  if (found.length === 0 && first)
    throw notThere(table.lines[first.line]?.key ?? '', table.tongues[first.tongue] ?? '');
  return found;
}

/** A row for the list of a language: like the nearest one there that was not taken yet, with what the row of another language says beside its text, behind what stands before it there. */
function rowOfList(
  { archive, entries }: DescribedLines,
  from: number,
  { line, tongue }: { readonly line: number; readonly tongue: number },
  taken: Set<number>,
): CopiedRow | undefined {
  const model = archive.entries[from]!.row;
  let like: number | undefined;
  let behind: number | undefined;
  for (let away = 1; away < entries.length && like === undefined; away++)
    for (const [near, isBefore] of [
      [line - away, true],
      [line + away, false],
    ] as const) {
      const own = entries[near]?.[tongue];
      if (own === undefined) continue;
      const { row } = archive.entries[own]!;
      behind ??= row.position + (isBefore ? 1 : 0);
      if (like === undefined && !taken.has(own) && row.type === model.type && row.siblings !== model.siblings)
        like = own;
    }
  if (like === undefined || behind === undefined) return undefined;
  taken.add(like);
  const values = model.type.fields.flatMap(({ index, role, repeat, isPayload }) =>
    role.sort === 'carried' && !repeat && !isPayload ? [[index, model.get(index)] as const] : [],
  );
  return { like, values, before: behind };
}

/** What a row says to be of a language that others of the table are in. */
function valuesFor(
  { archive, of, said, entries }: DescribedLines,
  entry: Entry,
  tongue: number,
): SaidTongue['values'] | undefined {
  const model = entries.find((own) => own[tongue] !== undefined)?.[tongue];
  if (!of.language || model === undefined) return undefined;
  const { row } = archive.entries[model]!;
  const others = row.type === entry.row.type ? row.type.fields.map(({ index }) => row.get(index)) : [];
  const word = said[tongue]!;
  const found = tongueSaid(
    archive,
    of.language,
    entry,
    (one) => one === word,
    (text) => text,
    others,
  );
  return found?.level === 0 ? found.values : undefined;
}

export const notThere = (key: string, tongue: string): FormatError =>
  new FormatError('not-writable', {
    ...{ fieldPath: key, expected: 'a line that the table has in this language', actual: tongue || 'none' },
    remedy: 'Add it to the table with the program of the game, or change another language',
  });

export const noWord = ({ of, tongues }: DescribedLines, tongue: string): FormatError =>
  new FormatError('not-writable', {
    ...{ fieldPath: 'lines.language', expected: `a way to say ${tongue}`, actual: tongues.join(', ') },
    why: `by its script (${of.language?.text ?? ''}) the table has no word for that language`,
    remedy:
      'Name the value that stands for it in the script (in an enum), or add the language with another program first',
  });
