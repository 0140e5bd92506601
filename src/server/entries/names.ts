import { kindOfCode, kindOfEnding, mayNameOthers } from '@/core/kinds';
import { NameHashes, type Archive } from '@/core/archive';
import { FLAG } from '@/core/catalogue';
import { expectedByChance, isTaken, MOST_NAMES, namesOfPattern, pathStrings } from '@/core/names';
import type { NameHashing } from '@/core/script';
import { ArchiveRow, models, NameListRow, type NameListOrigin } from '@/db';
import { nodePrimitives } from '@/platform/node/primitives';
import { gameCatalogue, type GameCatalogue } from './catalogue';
import type { JobContext } from '../running/job-context';
import { ArchivesInTurn, openedArchive } from '../opening/opened';
import { firstBytes } from '../looking/heads';
import { UserError } from '@/platform/user-error';

/** What came of trying names. */
export interface NamesResult {
  readonly tried: number;
  /** Names that fit a hash and were taken. */
  readonly taken: number;
  /** Fitting hashes that nothing else speaks for. */
  readonly doubtful: number;
  readonly wanting: number;
  readonly detail: string;
}

/** Tries names on all entries that are known by their hash only. Those that are taken become a list of the game's. */
async function tryNames(
  gameId: number,
  candidates: readonly string[],
  list: { title: string; origin: NameListOrigin },
  job: JobContext,
): Promise<NamesResult> {
  const game = await gameCatalogue(gameId);
  const rows = await ArchiveRow.findAll({ where: { gameId, state: 'open' } });
  const taken = new Set<string>();
  let [doubtful, wanting] = [0, 0];
  for (const row of rows) {
    const position = game?.archives.findIndex(({ id }) => id === row.id) ?? -1;
    if (!game || position < 0 || row.entryCount === row.namedCount || row.sort === 'loose') continue;
    const unnamed = unnamedOf(game, position);
    if (unnamed.length === 0) continue;
    wanting += unnamed.length;
    job.check();
    job.progress(
      0,
      rows.length,
      'items',
      `trying ${candidates.length.toLocaleString('en')} names on ${row.path}`,
    );
    const archive = (await openedArchive(gameId, row.id)).archive as Archive;
    for (const { hashing } of archive.script.entries) {
      if (!hashing) continue;
      const seed = hashing.seed
        ? BigInt(hashing.seed.run(archive.context, undefined) as bigint | number)
        : undefined;
      const hashes = new NameHashes(candidates, hashing, nodePrimitives, seed, false);
      const expected = expectedByChance(candidates.length, unnamed.length, bitsOf(hashing));
      for (const at of unnamed) {
        const { hash } = game.catalogue.at(at);
        const name = hash && hashes.get(hash);
        if (!name || taken.has(name)) continue;
        if (isTaken(witnessesFor(game, position, at, name), expected)) taken.add(name);
        else doubtful++;
      }
    }
  }
  if (taken.size > 0) await NameListRow.create({ gameId, ...list, names: [...taken].sort().join('\n') });
  const tried = candidates.length;
  const count = (value: number): string => value.toLocaleString('en');
  return {
    tried,
    taken: taken.size,
    doubtful,
    wanting,
    detail:
      wanting === 0
        ? 'Every entry of the open archives has a name already.'
        : `${count(tried)} names were tried on ${count(wanting)} nameless entries: ${count(taken.size)} taken${doubtful > 0 ? `, ${count(doubtful)} fit a hash by what may be chance and were left` : ''}.`,
  };
}

const bitsOf = ({ bits, half }: NameHashing): number => (half === undefined ? bits : Math.min(bits, 64));

function unnamedOf({ catalogue }: GameCatalogue, position: number): number[] {
  const { flags, archives } = catalogue.columns;
  const rows: number[] = [];
  for (let row = 0; row < catalogue.count; row++)
    if (archives[row] === position && (flags[row]! & (FLAG.named | FLAG.hashed)) === FLAG.hashed)
      rows.push(row);
  return rows;
}

function witnessesFor({ catalogue }: GameCatalogue, position: number, row: number, name: string) {
  const folder = name.slice(0, name.lastIndexOf('/') + 1);
  const { number, path, kind } = catalogue.at(row);
  // A nameless entry bears an ending only where its first bytes say what it is.
  const isKnown = /\.[a-z0-9]+$/.test(path);
  const stated = kindOfEnding(name);
  const [from, to] = folder === '' ? [0, 0] : catalogue.within(folder);
  const neighbour = [number - 1, number + 1].some((other) => {
    const at = other < 0 ? -1 : catalogue.rowOf(position, other);
    return at >= 0 && folder !== '' && catalogue.path(at).startsWith(folder);
  });
  return {
    kind: !isKnown || stated === undefined ? undefined : stated === kind,
    folder: to > from,
    neighbour,
  };
}

/** Tries a pattern such as `boat{00..99}_hull.form`, or words, one a line. */
export function tryPattern(gameId: number, pattern: string, job: JobContext): Promise<NamesResult> {
  models();
  const names = new Set<string>();
  for (const line of pattern.split(/\r?\n/)) {
    const text = line.trim().replaceAll('\\', '/');
    if (text === '') continue;
    for (const name of namesOfPattern(text)) {
      names.add(name);
      if (names.size > MOST_NAMES / 4)
        throw new UserError(422, 'These are more names than can be tried at a time.');
    }
  }
  const title = pattern.trim().split('\n')[0]!.slice(0, 80);
  return tryNames(gameId, [...names], { title: `guessed: ${title}`, origin: 'guessed' }, job);
}

/** Entries up to this size are read for names. */
const MOST_READ_BYTES = 8 << 20;
const MOST_LEARNT = 4_000_000;

/** Learns names from what the entries say: every string in them that looks like a path is tried. */
export async function learnNames(gameId: number, job: JobContext): Promise<NamesResult> {
  models();
  const game = await gameCatalogue(gameId);
  if (!game) throw new UserError(409, 'Scan the folder first.');
  const { catalogue, archives } = game;
  const { kinds, sizes } = catalogue.columns;
  const endings = commonEndings(game);
  const names = new Set<string>();
  const add = (name: string): void => {
    if (names.size < MOST_LEARNT) names.add(name);
  };
  const wanted: number[] = [];
  for (let row = 0; row < catalogue.count; row++) {
    const kind = kindOfCode(kinds[row]!);
    const mayRefer = mayNameOthers(kind);
    if (mayRefer && sizes[row]! > 0 && sizes[row]! <= MOST_READ_BYTES) wanted.push(row);
  }
  // One archive after the other, each opened once.
  const archiveOf = catalogue.columns.archives;
  wanted.sort((a, b) => archiveOf[a]! - archiveOf[b]! || a - b);
  const inTurn = new ArchivesInTurn(gameId);
  try {
    for (const [i, row] of wanted.entries()) {
      const { archive, number, path } = catalogue.at(row);
      if (i % 64 === 0) {
        job.check();
        job.progress(i, wanted.length, 'items', path);
      }
      const id = archives[archive]!.id;
      try {
        const { archive: store } = await inTurn.archive(id);
        const entry = store.entries[number];
        if (!entry || entry.problem) continue;
        for (const name of pathStrings(firstBytes(store.plain(entry), MOST_READ_BYTES))) {
          add(name);
          if (!/\.[A-Za-z0-9]{1,8}$/.test(name)) for (const ending of endings) add(`${name}.${ending}`);
        }
      } catch (error) {
        // What cannot be read says so where it is looked at; it has nothing to teach.
        if (error instanceof Error && ['FormatError', 'UserError'].includes(error.name)) continue;
        throw error;
      }
    }
  } finally {
    inTurn.end();
  }
  return tryNames(gameId, [...names], { title: 'learnt from the contents', origin: 'learnt' }, job);
}

const MOST_ENDINGS = 8;

/** The endings that most entries of a game bear. */
function commonEndings({ catalogue }: GameCatalogue): string[] {
  const counts = new Map<string, number>();
  const step = Math.max(1, Math.floor(catalogue.count / 5000));
  for (let row = 0; row < catalogue.count; row += step) {
    const ending = /\.([A-Za-z0-9]{1,8})$/.exec(catalogue.path(row))?.[1];
    if (ending) counts.set(ending, (counts.get(ending) ?? 0) + 1);
  }
  return [...counts]
    .sort((a, b) => b[1] - a[1])
    .slice(0, MOST_ENDINGS)
    .map(([ending]) => ending);
}
