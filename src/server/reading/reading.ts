import { LRUCache } from 'lru-cache';
import { ReadingLinkRow } from '@/db';
import {
  fieldsOf,
  mergeSingles,
  OWN_TABLE,
  titleColumn,
  titleOf,
  type Cell,
  type DataTable,
  type FiledTable,
  type ValueNames,
} from '@/media/table/core';
import {
  guessLinks,
  keyFields,
  ReferenceIndex,
  type FoundLink,
  type KeyField,
  type TableFields,
} from '@/media/table/core/links';
import type { PartsWords } from '@/media/table/core/levels';
import type { MapWords } from '@/media/table/core/places';
import { stepFields, type Vocabulary } from '@/media/table/core/steps';
import { UserError } from '@/platform/user-error';
import { gameCatalogue, type EntryRecord, type GameCatalogue } from '../entries/catalogue';
import { scriptsStamp } from '../opening/scripts';
import { withFiles, withTexts } from './beyond-tables';
import { NAMED_FILES, type SaidOfFiles } from './named-files';
import { breath, readTables, type FoundTables } from './read-tables';
import {
  isTable,
  listWords,
  mapWordsOf,
  partsWordsOf,
  valueNamesOf,
  vocabulariesOf,
  type KeptWords,
} from './words';

/** A table of a game, as it is read. */
export interface GameTable extends TableFields {
  readonly form: string;
  /** The files that it lies in; of several each is a row. */
  readonly files: readonly EntryRecord[];
  readonly table: DataTable;
  readonly titleBy: number | undefined;
  /** The column that rows are called by elsewhere. */
  readonly keyBy: number | undefined;
  /** The words that steps in fields of it are read in. */
  readonly words: readonly Vocabulary[];
  /** Tables that numbers of steps mean, and columns of scripts, by the path of the field. */
  readonly meant: ReadonlyMap<string, string>;
}

/** Who says that a field means rows of a table. */
export type LinkSource = 'found' | 'likely' | 'said' | 'words' | 'refused';
const FOLLOWED: ReadonlySet<LinkSource> = new Set(['found', 'said', 'words']);
export interface GameLink extends FoundLink {
  readonly source: LinkSource;
}

/** All tables of a game with what points where in them. */
export interface Reading extends FoundTables {
  readonly gameId: number;
  /** How it was read, for what is made of it. */
  readonly stamp: string;
  /** The words that steps are read in. */
  readonly vocabularies: readonly Vocabulary[];
  /** What somebody says of maps. */
  readonly mapWords: readonly MapWords[];
  /** What somebody says of parts of levels. */
  readonly partsWords: readonly PartsWords[];
  /** What somebody says that numbers are called. */
  readonly valueNames: readonly ValueNames[];
  /** The tables as the game has them, where a mod changes some. */
  readonly before?: Reading;
  readonly tables: readonly GameTable[];
  readonly byId: ReadonlyMap<string, number>;
  readonly keys: readonly KeyField[];
  /** What somebody says of fields that may name files, by their tables and paths. */
  readonly saidOfFiles: ReadonlyMap<string, SaidOfFiles>;
  /** All that were found or said. */
  readonly links: readonly GameLink[];
  /** Those that are followed, by their numbers in the index. */
  readonly followed: readonly GameLink[];
  readonly index: ReferenceIndex;
}

declare global {
  var zeroLatchReadings: LRUCache<number, { stamp: string; reading: Promise<Reading> }> | undefined;
}
const readings = (): LRUCache<number, { stamp: string; reading: Promise<Reading> }> =>
  (globalThis.zeroLatchReadings ??= new LRUCache({ max: 2 }));

async function scanned(gameId: number): Promise<GameCatalogue> {
  const game = await gameCatalogue(gameId);
  if (game) return game;
  throw new UserError(409, 'The game is not scanned yet. Scan its folder first.');
}

/** The tables of a game and what points where in them, as it is; kept until the game, scripts or what is said of links change. */
export async function readGame(gameId: number): Promise<Reading> {
  const game = await scanned(gameId);
  const said = await ReadingLinkRow.findAll({ where: { gameId }, order: [['id', 'ASC']], raw: true });
  const kept = await listWords(gameId);
  const scripts = `${scriptsStamp('table')} ${scriptsStamp('lines')}`;
  const stamp = `${game.scan} ${scripts} ${JSON.stringify([said, kept])}`;
  const known = readings().get(gameId);
  if (known?.stamp === stamp) return known.reading;
  const reading = read(gameId, game, said, kept, stamp);
  readings().set(gameId, { stamp, reading });
  reading.catch(() => readings().delete(gameId));
  return reading;
}

async function read(
  gameId: number,
  game: GameCatalogue,
  said: readonly ReadingLinkRow[],
  kept: readonly KeptWords[],
  stamp: string,
): Promise<Reading> {
  const vocabularies = vocabulariesOf(kept);
  const files = await readTables(gameId, game);
  const made = await arrange(files.found, vocabularies);
  const links = linksOf(made.tables, made.byId, made.keys, said);
  const saidOfFiles = new Map(
    said
      .filter(({ toTable }) => toTable === '' || toTable === NAMED_FILES)
      .map(({ fromTable, field, toTable }) => [
        `${fromTable} ${field}`,
        toTable === '' ? ('refused' as const) : ('said' as const),
      ]),
  );
  return indexed({
    ...files,
    ...withFiles(game, await withTexts(gameId, game, { ...made, links }), saidOfFiles),
    saidOfFiles,
    ...{ gameId, stamp, vocabularies, mapWords: mapWordsOf(kept) },
    ...{ partsWords: partsWordsOf(kept), valueNames: valueNamesOf(kept) },
  });
}

/** Tables by what they are called, with what their rows are called by. */
export async function arrange(
  found: readonly FiledTable<EntryRecord>[],
  vocabularies: readonly Vocabulary[],
  /** Tables that were arranged before, where they stay as they are. */
  known: (id: string, files: readonly EntryRecord[]) => GameTable | undefined = () => undefined,
): Promise<Pick<Reading, 'tables' | 'byId' | 'keys'>> {
  const tables: GameTable[] = [];
  for (const { path, form, table, files } of mergeSingles(found)) {
    const before = known(path, files);
    if (before) {
      tables.push(before);
      continue;
    }
    const words = vocabularies.filter((one) => isTable(path, one.table));
    const steps = words.flatMap((one) =>
      stepFields(table.columns.find(({ name }) => name === one.field)?.cells ?? [], one),
    );
    const fields = [...fieldsOf(table), ...steps.map(({ field }) => field)];
    tables.push({
      id: path,
      form,
      files,
      table,
      fields,
      count: table.count,
      titleBy: titleColumn(table),
      keyBy: undefined,
      words,
      meant: new Map([
        ...steps.map(({ field: { path: own }, means }) => [own, means] as const),
        ...[...(table.said ?? [])].flatMap(([own, { means }]) =>
          means === undefined ? [] : [[own, means] as const],
        ),
      ]),
    });
    await breath();
  }
  const keys = keyFields(tables);
  const keyed = tables.map((one, table): GameTable => {
    const key = keys.find((of) => of.table === table);
    const path = key && one.fields[key.field]!.path;
    const keyBy = path === undefined ? -1 : one.table.columns.findIndex(({ name }) => name === path);
    return { ...one, keyBy: keyBy < 0 ? undefined : keyBy };
  });
  await breath();
  return { tables: keyed, byId: new Map(keyed.map(({ id }, i) => [id, i])), keys };
}

/** A reading with the index of its references. */
export function indexed(made: Omit<Reading, 'followed' | 'index'>): Reading {
  const followed = made.links.filter(({ source }) => FOLLOWED.has(source));
  return { ...made, followed, index: new ReferenceIndex(made.tables, followed, made.keys) };
}

/** What was found, with what somebody said over it. */
function linksOf(
  tables: readonly GameTable[],
  byId: ReadonlyMap<string, number>,
  keys: readonly KeyField[],
  said: readonly ReadingLinkRow[],
): GameLink[] {
  const found = new Map(guessLinks(tables).map((link) => [`${link.from} ${link.field}`, link]));
  const links = new Map(
    [...found].map(([id, link]): [string, GameLink] => [
      id,
      { ...link, source: link.isSure ? 'found' : 'likely' },
    ]),
  );
  for (const [from, { fields, meant }] of tables.entries())
    for (const [path, means] of meant) {
      const field = fields.findIndex((one) => one.path === path);
      const key = keys.find(({ table }) =>
        means === OWN_TABLE ? table === from : isTable(tables[table]!.id, means),
      );
      if (!key) continue;
      const link = { from, field, to: key.table, by: key.field, values: 0, hits: 0, chance: 0, isSure: true };
      links.set(`${from} ${field}`, { ...link, source: 'words' });
    }
  for (const { fromTable, field: path, toTable, byField } of said) {
    const from = byId.get(fromTable);
    const field = from === undefined ? -1 : tables[from]!.fields.findIndex((one) => one.path === path);
    if (from === undefined || field < 0) continue;
    const id = `${from} ${field}`;
    const before = found.get(id);
    if (toTable === '') {
      if (before) links.set(id, { ...before, source: 'refused' });
      continue;
    }
    const to = byId.get(toTable);
    const by = to === undefined ? -1 : tables[to]!.fields.findIndex((one) => one.path === byField);
    if (to === undefined || by < 0 || !keys.some((key) => key.table === to && key.field === by)) continue;
    const isSame = before?.to === to && before.by === by;
    links.set(id, {
      ...(isSame ? before : { values: 0, hits: 0, chance: 0, isSure: true }),
      ...{ from, field, to, by, source: 'said' },
    });
  }
  return [...links.values()].sort((a, b) => a.from - b.from || a.field - b.field);
}

/** What a row is called, in a line. */
export const rowTitle = ({ tables }: Reading, table: number, row: number): string => {
  const of = tables[table]!;
  return titleOf(of.table, row, of.titleBy, of.keyBy, of.id);
};

/** What numbers of a field are called, where somebody says it, else where its script does. */
export const namesIn = (
  { valueNames, tables }: Reading,
  table: number,
  field: string,
): ValueNames | undefined => {
  const { id, table: of } = tables[table]!;
  const called = of.said?.get(field)?.called;
  return (
    valueNames.find((one) => one.field === field && isTable(id, one.table)) ??
    (called && { table: id, field, ...called })
  );
};

/** The cells of a row as the game has them without the mod; undefined where the mod changes nothing of its table, or has other rows. */
export function rowAsItWas(
  { before, tables }: Reading,
  table: number,
  row: number,
): ((column: string) => Cell | undefined) | undefined {
  const is = tables[table]!;
  const was = before?.tables[before.byId.get(is.id) ?? -1];
  if (!was || was.table === is.table) return undefined;
  const old = was.count === is.count ? row : oldRow(was, is, row);
  if (old === undefined) return undefined;
  return (column) => was.table.columns.find(({ name }) => name === column)?.cells[old];
}

/** Where rows came or went, the row is known by what it is called by. */
function oldRow(was: GameTable, is: GameTable, row: number): number | undefined {
  if (is.keyBy === undefined || was.keyBy === undefined) return undefined;
  const old = was.table.columns[was.keyBy]!.cells.indexOf(is.table.columns[is.keyBy]!.cells[row]);
  return old < 0 ? undefined : old;
}

/** Says that a field means rows of a table by a field of that, that it means none, or what was found again. */
export async function sayLink(
  gameId: number,
  { table, field, to, by }: { table: string; field: string; to: string | null; by: string },
  isSaid: boolean,
): Promise<void> {
  const reading = await readGame(gameId);
  const own = reading.tables[reading.byId.get(table) ?? -1];
  if (!own?.fields.some(({ path }) => path === field))
    throw new UserError(404, `There is no field ${field} in ${table}.`);
  if (!isSaid) {
    await ReadingLinkRow.destroy({ where: { gameId, fromTable: table, field } });
    return;
  }
  if (to !== null) {
    const number = reading.byId.get(to);
    const isKey = reading.keys.some(
      (key) => key.table === number && reading.tables[key.table]!.fields[key.field]!.path === by,
    );
    if (!isKey)
      throw new UserError(
        422,
        `Rows of ${to} are not called by ${by}: it has values twice, or rows without one.`,
      );
  }
  await ReadingLinkRow.upsert(
    { gameId, fromTable: table, field, toTable: to ?? '', byField: to === null ? '' : by },
    { conflictFields: ['game_id', 'from_table', 'field'] as never },
  );
}
