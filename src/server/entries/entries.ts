import { LRUCache } from 'lru-cache';
import vm from 'node:vm';
import { codeOfKind, countsByKind, type Kind } from '@/core/kinds';
import { FormatError } from '@/core/bytes';
import {
  factCounts,
  findRows,
  folderAt,
  pageOf,
  parseQuery,
  placeOf,
  runsOf,
  totalsOf,
  type Folder,
  type Run,
  type Sort,
  type Term,
  type Totals,
} from '@/core/catalogue';
import { factsOf, gameCatalogue, recordOf, type EntryRecord, type GameCatalogue } from './catalogue';
import { codesCalled, labelsOf, readableNames, type ReadableNames } from './readable-names';
import { marksOf, type Marks } from './marks';

export interface EntryQuery {
  readonly gameId: number;
  /** Only below this folder, such as `actors/odd/`; empty for all. */
  readonly folder: string;
  readonly search: string;
  readonly kind: Kind | undefined;
  readonly archiveId: number | undefined;
  readonly sort: Sort;
  readonly isDescending: boolean;
  readonly offset: number;
  readonly limit: number;
}

/** An entry in a list, with what its user or an id table calls it. */
export interface EntryItem extends EntryRecord {
  /** Readable names of codes in its path. */
  readonly labels: readonly string[];
  readonly alias: string;
  readonly tags: readonly string[];
  /** Fields that the script shows, with their titles. */
  readonly facts: readonly (readonly [title: string, value: string])[];
}

export interface EntryPage {
  readonly total: number;
  readonly bytes: number;
  readonly stored: number;
  readonly kinds: Readonly<Record<Kind, number>>;
  /** How many are in each archive, those with the most first. */
  readonly archives: readonly { id: number; path: string; count: number }[];
  /** Words of the fields that scripts show, the most frequent first. */
  readonly facts: readonly {
    title: string;
    /** How a search spells the title. */
    key: string;
    values: readonly { value: string; count: number }[];
  }[];
  readonly rows: readonly EntryItem[];
}

const NONE: EntryPage = {
  total: 0,
  bytes: 0,
  stored: 0,
  kinds: countsByKind([]),
  archives: [],
  facts: [],
  rows: [],
};

interface Found {
  readonly mask: Uint8Array;
  readonly totals: Totals;
  /** Kinds as they would be without asking for one. */
  readonly kinds: readonly number[];
}

declare global {
  var zeroLatchFound: LRUCache<string, Found> | undefined;
}

/** So many answers are kept, so that the next page of one costs nothing. */
const MOST_KEPT = 12;

/** One page of the entries that answer, with counts for all of them. Throws FormatError where the search says what cannot be. */
export async function findEntries(query: EntryQuery): Promise<EntryPage> {
  const game = await gameCatalogue(query.gameId);
  if (!game) return NONE;
  const [marks, names] = await Promise.all([marksOf(query.gameId), readableNames(query.gameId)]);
  const { mask, totals, kinds } = findAll(game, query, marks, names);
  const rows = pageOf(game.catalogue, mask, query);
  return {
    total: totals.count,
    bytes: totals.bytes,
    stored: totals.stored,
    kinds: countsByKind(kinds),
    archives: game.archives
      .map(({ id, path }, i) => ({ id, path, count: totals.archives[i] ?? 0 }))
      .filter(({ count }) => count > 0)
      .sort((a, b) => b.count - a.count)
      .slice(0, 200),
    facts: query.offset === 0 ? factCounts(game.catalogue, mask, MOST_FACET_VALUES) : [],
    rows: rows.map((row) => {
      const record = recordOf(game, row);
      const mark = marks.byPath.get(record.path);
      return {
        ...record,
        labels: labelsOf(names, record.path),
        alias: mark?.alias ?? '',
        tags: mark?.tags ?? [],
        facts: factsOf(game, row),
      };
    }),
  };
}

/** More values than this are searched for by typing. */
const MOST_FACET_VALUES = 40;

/** Where an entry stands among those that a query finds, or -1. */
export async function findPlace(
  query: EntryQuery,
  entry: { archiveId: number; index: number },
): Promise<number> {
  const game = await gameCatalogue(query.gameId);
  const position = game?.archives.findIndex(({ id }) => id === entry.archiveId) ?? -1;
  if (!game || position < 0) return -1;
  const row = game.catalogue.rowOf(position, entry.index);
  if (row < 0) return -1;
  const [marks, names] = await Promise.all([marksOf(query.gameId), readableNames(query.gameId)]);
  return placeOf(game.catalogue, findAll(game, query, marks, names).mask, query, row);
}

/** Archive and number of everything that a query finds, in order; for picking all of it. */
export async function findRefs(query: EntryQuery, most: number): Promise<EntryRecord[]> {
  const game = await gameCatalogue(query.gameId);
  if (!game) return [];
  const [marks, names] = await Promise.all([marksOf(query.gameId), readableNames(query.gameId)]);
  const { mask } = findAll(game, query, marks, names);
  return pageOf(game.catalogue, mask, { ...query, offset: 0, limit: most }).map((row) => recordOf(game, row));
}

/** So many folders are told apart; what is behind them is one. */
const MOST_RUNS = 20_000;

/** How what a query finds falls into folders, in the order of the paths. */
export async function entryRuns(query: EntryQuery): Promise<readonly Run[]> {
  const game = await gameCatalogue(query.gameId);
  if (!game) return [];
  const [marks, names] = await Promise.all([marksOf(query.gameId), readableNames(query.gameId)]);
  const { mask, totals } = findAll(game, query, marks, names);
  const byPath = { ...query, sort: 'path' as const, offset: 0, limit: totals.count };
  const rows = pageOf(game.catalogue, mask, byPath);
  function* paths(): Generator<string> {
    for (const row of rows) yield game!.catalogue.path(row);
  }
  return runsOf(paths(), MOST_RUNS);
}

function findAll(game: GameCatalogue, query: EntryQuery, marks: Marks, names: ReadableNames): Found {
  const { folder, search, kind, archiveId, gameId } = query;
  const key = JSON.stringify([gameId, game.stamp, marks.stamp, names.stamp, folder, search, kind, archiveId]);
  const kept = (globalThis.zeroLatchFound ??= new LRUCache<string, Found>({ max: MOST_KEPT }));
  const known = kept.get(key);
  if (known) return known;
  const { catalogue, archives } = game;
  const terms = parseQuery(search);
  const rowsOf = (paths: readonly string[]): number[] => paths.flatMap((path) => catalogue.stack(path));
  const context = {
    archives: archives.map(({ path }) => path),
    tagged: (text: string) => rowsOf(marks.tagged(text)),
    called: (text: string) => rowsOf(marks.called(text)),
    codes: (text: string) => codesCalled(names, text),
    expressions: fitExpressions(game, terms),
  };
  const position = archiveId === undefined ? undefined : archives.findIndex(({ id }) => id === archiveId);
  const mask = findRows(catalogue, { folder, terms, archive: position }, context);
  let totals = totalsOf(catalogue, mask);
  const { kinds } = totals;
  if (kind !== undefined) {
    const wanted = codeOfKind(kind);
    for (let row = 0; row < mask.length; row++) if (catalogue.columns.kinds[row] !== wanted) mask[row] = 0;
    totals = totalsOf(catalogue, mask);
  }
  const found = { mask, totals, kinds };
  kept.set(key, found);
  return found;
}

/** How long the expressions of a search may take; some take longer than anybody lives. */
const MOST_EXPRESSION_MS = 2000;

function fitExpressions(
  { catalogue }: GameCatalogue,
  terms: readonly Term[],
): ReadonlyMap<string, Uint8Array> {
  const fitting = new Map<string, Uint8Array>();
  for (const { condition } of terms) {
    if (condition.sort !== 'expression') continue;
    const expression = new RegExp(condition.source, 'iu');
    const mask = new Uint8Array(catalogue.count);
    const run = (): void => {
      for (let row = 0; row < mask.length; row++) if (expression.test(catalogue.path(row))) mask[row] = 1;
    };
    try {
      // The time limit of a script is the only thing that stops an expression that goes on and on.
      vm.runInNewContext('run()', { run }, { timeout: MOST_EXPRESSION_MS });
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'ERR_SCRIPT_EXECUTION_TIMEOUT') throw error;
      throw new FormatError('budget', {
        fieldPath: 'search',
        actual: `/${condition.source}/`,
        why: `it takes longer than ${MOST_EXPRESSION_MS / 1000} seconds over ${catalogue.count} paths`,
        remedy: 'Make it simpler, or begin it with more letters that have to be there',
      });
    }
    fitting.set(condition.source, mask);
  }
  return fitting;
}

export interface FolderView {
  readonly name: string;
  readonly path: string;
  readonly count: number;
  readonly bytes: number;
  /** Folders within it; `undefined` where they are to be asked for by themselves. */
  readonly inner: readonly FolderView[] | undefined;
  readonly hasInner: boolean;
}

/** Folders that are sent at a time; a deeper tree comes as it is opened. */
const MOST_FOLDERS = 2000;

/** The folders below one, level by level, as many as are sent at a time. */
export async function findFolders(gameId: number, path: string): Promise<FolderView | undefined> {
  const game = await gameCatalogue(gameId);
  const folder = game && folderAt(game.catalogue.folders(), path);
  if (!folder) return undefined;
  // As deep as fits; always at least what is right below.
  let depth = 1;
  let level = folder.inner;
  for (let sum = level.length; depth < 12; depth++) {
    level = level.flatMap(({ inner }) => inner);
    sum += level.length;
    if (level.length === 0 || sum > MOST_FOLDERS) break;
  }
  return viewOf(folder, depth);
}

const viewOf = ({ name, path, count, bytes, inner }: Folder, depth: number): FolderView => ({
  name,
  path,
  count,
  bytes,
  hasInner: inner.length > 0,
  inner: depth > 0 ? inner.map((one) => viewOf(one, depth - 1)) : undefined,
});
