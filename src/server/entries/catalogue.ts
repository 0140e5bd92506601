import fs from 'node:fs';
import { LRUCache } from 'lru-cache';
import {
  factOf,
  FOUND,
  isFinest,
  MEASURED_SORTS,
  type Catalogue,
  type CatalogueRow,
  type FoundWord,
  type MeasuredSort,
} from '@/core/catalogue';
import { FormatError } from '@/core/bytes';
import { ArchiveRow, GameRow, models, type ArchiveSort } from '@/db';
import { readCatalogue } from '@/platform/node/catalogue-files';
import { scriptDigest } from '../opening/scripts';
import { enqueue } from '../running/jobs';
import { kindChoices, saidKinds } from './kinds';
import { tellFacts } from './told-facts';
import { measuredStamp, measuresOf } from './measured';
import { catalogueFile, type CatalogueAbout } from '../scan/save';
import { storageFolder } from '../storage/storage';

/** An archive as a catalogue knows it. */
export interface CatalogueArchive {
  readonly id: number;
  readonly path: string;
  readonly rank: number;
  readonly sort: ArchiveSort;
  /** Changes with its file, its script and its key. */
  readonly made: string;
}

/** The catalogue of a game, with its archives by their position. */
export interface GameCatalogue {
  readonly catalogue: Catalogue;
  readonly archives: readonly CatalogueArchive[];
  /** Changes whenever anything in it does. */
  readonly stamp: string;
  /** Changes with each scan. */
  readonly scan: string;
}

interface Held {
  readonly stamp: string;
  readonly catalogue: Catalogue;
  readonly about: CatalogueAbout;
}

declare global {
  var zeroLatchCatalogues: LRUCache<number, Held> | undefined;
}

/** Catalogues of so many games stay in memory. */
const MOST_HELD = 2;

/** The catalogue of a game as its load order stands now; undefined where it was never scanned. */
export async function gameCatalogue(gameId: number): Promise<GameCatalogue | undefined> {
  models();
  const held = heldCatalogue(gameId);
  if (!held) {
    await scanAnew(gameId);
    return undefined;
  }
  const rows = await ArchiveRow.findAll({
    where: { gameId },
    attributes: ['id', 'path', 'rank', 'state', 'sort', 'size', 'modifiedMs', 'script', 'keyId'],
    raw: true,
  });
  const byId = new Map(rows.map((row) => [row.id, row]));
  const archives = held.about.archives.map((id): CatalogueArchive => {
    const row = byId.get(id);
    // One that has been taken off since the scan hides what it had.
    if (!row || row.state !== 'open')
      return { id, path: '', rank: Number.NEGATIVE_INFINITY, sort: 'file', made: '' };
    // Of loose files each says by itself whether it is another one.
    const made =
      row.sort === 'loose'
        ? '.'
        : [row.path, row.size, row.modifiedMs, row.script, scriptDigest(row.script), row.keyId].join(' ');
    return { id, path: row.path, rank: row.rank, sort: row.sort, made };
  });
  const ranks = archives.map(({ rank }) => rank);
  held.catalogue.settle(ranks);
  const choices = await kindChoices(gameId);
  const said = choices.length > 0 ? JSON.stringify(choices) : '';
  held.catalogue.say(saidKinds(choices), said);
  const told = await tellFacts(gameId, held.stamp, held.catalogue);
  const measured = measuredStamp(gameId);
  held.catalogue.measure(
    () => measuresOf(gameId, held.catalogue, archives),
    `${measured} ${ranks.join()} ${said}`,
  );
  return {
    catalogue: held.catalogue,
    archives,
    scan: held.stamp,
    stamp: `${held.stamp} ${ranks.join()} ${said} ${told} ${measured}`,
  };
}

declare global {
  var zeroLatchAskedAnew: Set<number> | undefined;
}

/** A game that was scanned by an older application, or whose catalogue is lost, is scanned once more by itself. */
async function scanAnew(gameId: number): Promise<void> {
  const asked = (globalThis.zeroLatchAskedAnew ??= new Set<number>());
  if (asked.has(gameId)) return;
  const game = await GameRow.findByPk(gameId, { attributes: ['scannedAt', 'title'] });
  if (!game?.scannedAt) return;
  asked.add(gameId);
  await enqueue('scan', `List ${game.title} anew`, { gameId });
}

function heldCatalogue(gameId: number): Held | undefined {
  const file = catalogueFile(storageFolder('catalogues', String(gameId)));
  const stat = fs.statSync(file, { throwIfNoEntry: false });
  const all = (globalThis.zeroLatchCatalogues ??= new LRUCache<number, Held>({ max: MOST_HELD }));
  const known = all.get(gameId);
  if (!stat) {
    all.delete(gameId);
    return undefined;
  }
  const stamp = `${stat.ino} ${stat.size} ${stat.mtimeMs}`;
  if (known?.stamp === stamp) return known;
  // What is out of date goes before the new one takes memory.
  all.delete(gameId);
  let read: ReturnType<typeof readCatalogue>;
  try {
    read = readCatalogue(file);
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    return undefined;
  }
  const { catalogue, about } = read;
  const held: Held = { stamp, catalogue, about: about as CatalogueAbout };
  all.set(gameId, held);
  return held;
}

/** An entry as lists show it. */
export interface EntryRecord {
  readonly archiveId: number;
  readonly index: number;
  readonly path: string;
  /** Path of the archive; `.` for the files of the folder itself. */
  readonly archive: string;
  readonly named: boolean;
  readonly guessed: boolean;
  readonly hash: string | null;
  readonly storedSize: number;
  readonly size: number;
  readonly modified: number | null;
  readonly kind: CatalogueRow['kind'];
  readonly problem: boolean;
  readonly wins: boolean;
  /** What was measured of it, where it was: numbers that lists are put in the order of (seconds; dB, null for silence; counts), and what was found. */
  readonly measured?: { readonly [M in MeasuredSort]?: number | null } & {
    readonly found: readonly (FoundWord | 'finest')[];
  };
}

const FOUND_WORDS = ['broken', 'silent', 'clipped'] as const satisfies readonly FoundWord[];

function measuredOf(catalogue: Catalogue, row: number): EntryRecord['measured'] {
  const { measures } = catalogue;
  const found = measures?.found[row] ?? 0;
  if (!measures || (found & FOUND.measured) === 0) return undefined;
  const known = MEASURED_SORTS.flatMap((sort): [MeasuredSort, number | null][] => {
    const value = measures.of[sort]?.[row] ?? Number.NaN;
    return Number.isNaN(value) ? [] : [[sort, Number.isFinite(value) ? value : null]];
  });
  return {
    ...Object.fromEntries(known),
    found: [
      ...FOUND_WORDS.filter((word) => (found & FOUND[word]) !== 0),
      ...(isFinest(catalogue, row) ? (['finest'] as const) : []),
    ],
  };
}

export function recordOf({ catalogue, archives }: GameCatalogue, row: number): EntryRecord {
  const at = catalogue.at(row);
  const archive = archives[at.archive]!;
  const measured = measuredOf(catalogue, row);
  return {
    ...(measured && { measured }),
    archiveId: archive.id,
    index: at.number,
    path: at.path,
    archive: archive.path,
    named: at.isNamed,
    guessed: at.isGuessed,
    hash: at.hash ?? null,
    storedSize: at.stored,
    size: at.size,
    modified: at.modified ?? null,
    kind: at.kind,
    problem: at.hasProblem,
    wins: at.wins,
  };
}

/** The record of one entry, if the scan knows it. */
export async function findEntry(
  gameId: number,
  archiveId: number,
  index: number,
): Promise<EntryRecord | undefined> {
  const game = await gameCatalogue(gameId);
  if (!game) return undefined;
  const position = game.archives.findIndex(({ id }) => id === archiveId);
  const row = position < 0 ? -1 : game.catalogue.rowOf(position, index);
  return row < 0 ? undefined : recordOf(game, row);
}

/** The records of many entries, by archive, then in the order of their numbers. */
export async function findEntriesByRef(
  gameId: number,
  refs: readonly { archiveId: number; index: number }[],
): Promise<EntryRecord[]> {
  const game = await gameCatalogue(gameId);
  if (!game) return [];
  const positions = new Map(game.archives.map(({ id }, position) => [id, position]));
  return refs
    .flatMap(({ archiveId, index }) => {
      const position = positions.get(archiveId);
      const row = position === undefined ? -1 : game.catalogue.rowOf(position, index);
      return row < 0 ? [] : [recordOf(game, row)];
    })
    .sort((a, b) => a.archiveId - b.archiveId || a.index - b.index);
}

/** What scripts show of an entry, and tables of codes say. */
export const factsOf = ({ catalogue }: GameCatalogue, row: number): [string, string][] =>
  catalogue.facts.flatMap((fact): [string, string][] => {
    const value = factOf(fact, row);
    return value === undefined ? [] : [[fact.title, value]];
  });

export async function factsOfEntry(
  gameId: number,
  archiveId: number,
  index: number,
): Promise<[string, string][]> {
  const game = await gameCatalogue(gameId);
  const position = game?.archives.findIndex(({ id }) => id === archiveId) ?? -1;
  const row = game && position >= 0 ? game.catalogue.rowOf(position, index) : -1;
  return game && row >= 0 ? factsOf(game, row) : [];
}

/** All entries of a path in load order, the one that answers first. */
export async function findStack(gameId: number, path: string): Promise<EntryRecord[]> {
  const game = await gameCatalogue(gameId);
  return game ? game.catalogue.stack(path).map((row) => recordOf(game, row)) : [];
}

/** Count and bytes of what answers in the whole game. */
export async function countEntries(gameId: number): Promise<{ count: number; bytes: number }> {
  const game = await gameCatalogue(gameId);
  const { count, bytes } = game?.catalogue.folders() ?? { count: 0, bytes: 0 };
  return { count, bytes };
}
