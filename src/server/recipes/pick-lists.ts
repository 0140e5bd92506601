import { AnyCaseIndex } from '@/core/catalogue';
import { matchedLines, type MatchedLine } from '@/core/recipe';
import { models, PickListRow } from '@/db';
import { listArchives, type ArchiveView } from '../games/archives';
import { gameCatalogue, recordOf, type EntryRecord, type GameCatalogue } from '../entries/catalogue';
import { notFound, UserError } from '@/platform/user-error';

export interface PickListView {
  readonly id: number;
  readonly title: string;
  readonly count: number;
}

/** A saved list with the entries that its paths are now. */
export interface PickListDetail extends PickListView {
  readonly records: readonly EntryRecord[];
  /** Paths that no open archive has any more. */
  readonly missing: readonly string[];
}

const MOST_NEAR = 400;
const LINES_AT_ONCE = 500;

const linesOf = (paths: string): string[] => paths.split('\n').filter((line) => line !== '');

export async function listPickLists(gameId: number): Promise<PickListView[]> {
  models();
  const rows = await PickListRow.findAll({ where: { gameId }, order: [['title', 'ASC']] });
  return rows.map(({ id, title, paths }) => ({ id, title, count: linesOf(paths).length }));
}

/** Keeps a list under its title. With `isAdded` its paths join those of the list that has the title, else they take their place. */
export async function keepPickList(
  gameId: number,
  title: string,
  paths: readonly string[],
  isAdded: boolean,
): Promise<{ id: number; count: number }> {
  models();
  const old = await PickListRow.findOne({ where: { gameId, title } });
  const all = [...new Set([...(isAdded && old ? linesOf(old.paths) : []), ...paths])].filter(
    (line) => line !== '' && !line.includes('\n'),
  );
  if (all.length === 0) throw new UserError(422, 'There is no path in this list.');
  const row = old
    ? await old.update({ paths: all.join('\n') })
    : await PickListRow.create({ gameId, title, paths: all.join('\n') });
  return { id: row.id, count: all.length };
}

async function rowOf(gameId: number, id: number): Promise<PickListRow> {
  models();
  const row = await PickListRow.findOne({ where: { id, gameId } });
  if (!row) throw notFound('The list');
  return row;
}

export async function pickListDetail(gameId: number, id: number): Promise<PickListDetail> {
  const { title, paths } = await rowOf(gameId, id);
  const game = await gameCatalogue(gameId);
  const records: EntryRecord[] = [];
  const missing: string[] = [];
  const lines = linesOf(paths);
  for (const path of lines) {
    const record = game && winnerOf(game, path);
    if (record) records.push(record);
    else missing.push(path);
  }
  return { id, title, count: lines.length, records, missing };
}

const winnerOf = (game: GameCatalogue, path: string): EntryRecord | undefined => {
  const row = game.catalogue.stack(path).find((one) => game.catalogue.wins[one] === 1);
  return row === undefined ? undefined : recordOf(game, row);
};

/** A list as a text, a path a line, to be given to others. */
export async function pickListText(gameId: number, id: number): Promise<{ title: string; text: string }> {
  const { title, paths } = await rowOf(gameId, id);
  return { title, text: `${paths}\n` };
}

export async function dropPickList(gameId: number, id: number): Promise<void> {
  models();
  await PickListRow.destroy({ where: { id, gameId } });
}

declare global {
  var zeroLatchAnyCase: { stamp: string; index: AnyCaseIndex } | undefined;
}

/** A line with the entry that it means, or the archive, if there is one. */
export interface PickedLine extends MatchedLine {
  readonly record: EntryRecord | undefined;
  readonly named: NamedArchive | undefined;
}

/** An archive that a line names. */
export interface NamedArchive {
  readonly id: number;
  readonly path: string;
  readonly entries: number;
  readonly state: ArchiveView['state'];
  /** Whether the line names a file that belongs to it rather than its own. */
  readonly isPart: boolean;
}

/** Archives of a game by the names of their files in lower case, those of files that belong to them too. */
async function archivesByFile(gameId: number): Promise<ReadonlyMap<string, NamedArchive>> {
  const byFile = new Map<string, NamedArchive>();
  const archives = (await listArchives(gameId)).filter(({ sort }) => sort !== 'loose');
  for (const { id, path, entries, state, facts } of archives) {
    const named = { id, path, entries, state };
    for (const part of facts.companions ?? [])
      byFile.set(part.path.toLowerCase(), { ...named, isPart: true });
    byFile.set(path.toLowerCase(), { ...named, isPart: false });
  }
  return byFile;
}

/** Lines of a paste or a manifest as entries; those that fit none say what they may have meant. */
export async function matchPasted(gameId: number, text: string): Promise<PickedLine[]> {
  const game = await gameCatalogue(gameId);
  if (!game) throw new UserError(409, 'Scan the folder of the game first.');
  const { catalogue, stamp } = game;
  if (globalThis.zeroLatchAnyCase?.stamp !== stamp)
    globalThis.zeroLatchAnyCase = { stamp, index: new AnyCaseIndex(catalogue) };
  const { index } = globalThis.zeroLatchAnyCase;
  const byFile = await archivesByFile(gameId);
  const lines: MatchedLine[] = [];
  for (const line of matchedLines(text, {
    find: (path) => index.find(path),
    archive: (path) => (byFile.has(path.toLowerCase()) ? path.toLowerCase() : undefined),
    candidates(path) {
      const slash = path.lastIndexOf('/');
      const named = index.named(path.slice(slash + 1), MOST_NEAR);
      if (named.length > 0) return named;
      const [from, to] = catalogue.within(path.slice(0, slash + 1));
      const near: string[] = [];
      // Of the whole game only a small one is gone through.
      if (slash >= 0 || to - from <= MOST_NEAR)
        for (let row = from; row < to && near.length < MOST_NEAR; row++)
          if (catalogue.wins[row] === 1) near.push(catalogue.path(row));
      return near;
    },
  })) {
    lines.push(line);
    // Others are answered in between.
    if (lines.length % LINES_AT_ONCE === 0) await new Promise(setImmediate);
  }
  return lines.map((line) => ({
    ...line,
    record: line.path === undefined ? undefined : winnerOf(game, line.path),
    named: line.archive === undefined ? undefined : byFile.get(line.archive),
  }));
}
