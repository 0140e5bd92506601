import { QueryTypes, type Transaction } from 'sequelize';
import { models } from './models';

/** An entry as the tables keep it. */
export interface EntryRecord {
  archiveId: number;
  index: number;
  path: string;
  named: boolean;
  hash: string | null;
  place: number;
  storedSize: number;
  size: number;
  kind: string;
  problem: string | null;
  wins: boolean;
}

const COLUMNS = `e.archive_id AS "archiveId", e.index, e.path, e.named, e.hash, e.place::float8 AS place,
  e.stored_size::float8 AS "storedSize", e.size::float8 AS size, e.kind, e.problem, e.wins`;

/** Puts the entries of one archive in the place of those it had, in one statement per few thousand. */
export async function replaceEntries(
  gameId: number,
  archiveId: number,
  entries: readonly Omit<EntryRecord, 'archiveId' | 'wins'>[],
  transaction: Transaction,
): Promise<void> {
  const sequelize = models();
  await sequelize.query('DELETE FROM entries WHERE archive_id = $1', { bind: [archiveId], transaction });
  const BATCH = 5000;
  for (let from = 0; from < entries.length; from += BATCH) {
    const rows = entries.slice(from, from + BATCH);
    const column = <K extends keyof (typeof rows)[number]>(name: K): (typeof rows)[number][K][] =>
      rows.map((row) => row[name]);
    await sequelize.query(
      `INSERT INTO entries (archive_id, game_id, index, path, folder, named, hash, place, stored_size, size, kind, problem)
       SELECT $1, $2, i, p, CASE WHEN p LIKE '%/%' THEN regexp_replace(p, '[^/]*$', '') ELSE '' END, n, h, o, s, z, k, b
       FROM unnest($3::int[], $4::text[], $5::bool[], $6::text[], $7::bigint[], $8::bigint[], $9::bigint[], $10::text[], $11::text[])
         AS t (i, p, n, h, o, s, z, k, b)`,
      {
        bind: [
          archiveId,
          gameId,
          column('index'),
          column('path'),
          column('named'),
          column('hash'),
          column('place'),
          column('storedSize'),
          column('size'),
          column('kind'),
          column('problem'),
        ],
        transaction,
      },
    );
  }
}

/** Marks for each path what answers for it: the entries of the archive with the highest rank. */
export async function settleWinners(gameId: number, transaction?: Transaction): Promise<void> {
  await models().query(
    `UPDATE entries SET wins = ranked.first FROM (
       SELECT e.archive_id, e.index,
         rank() OVER (PARTITION BY e.path ORDER BY a.rank DESC, a.id DESC) = 1 AS first
       FROM entries e JOIN archives a ON a.id = e.archive_id
       WHERE e.game_id = $1 AND a.state = 'open'
     ) ranked WHERE entries.archive_id = ranked.archive_id AND entries.index = ranked.index AND entries.wins <> ranked.first`,
    { bind: [gameId], ...(transaction && { transaction }) },
  );
}

export interface EntryQuery {
  gameId: number;
  /** Only below this folder, such as `actors/odd/`; empty for all. */
  folder: string;
  /** Words that all have to be part of the path. */
  search: string;
  kind: string | undefined;
  archiveId: number | undefined;
  sort: 'path' | 'size' | 'kind';
  descending: boolean;
  offset: number;
  limit: number;
}

const likeEscape = (text: string): string => text.replace(/[\\%_]/g, '\\$&');

function conditions(query: EntryQuery): { where: string; bind: unknown[] } {
  const bind: unknown[] = [query.gameId];
  const parts = ['e.game_id = $1', "a.state = 'open'"];
  const add = (text: (n: string) => string, value: unknown): void => {
    bind.push(value);
    parts.push(text(`$${bind.length}`));
  };
  if (query.archiveId === undefined) parts.push('e.wins');
  else add((n) => `e.archive_id = ${n}`, query.archiveId);
  if (query.folder) add((n) => `e.folder LIKE ${n}`, `${likeEscape(query.folder)}%`);
  if (query.kind) add((n) => `e.kind = ${n}`, query.kind);
  for (const word of query.search.split(/\s+/).filter(Boolean)) {
    const pattern = /[*?]/.test(word)
      ? likeEscape(word).replace(/\*/g, '%').replace(/\?/g, '_')
      : `%${likeEscape(word)}%`;
    add((n) => `(e.path ILIKE ${n} OR e.hash ILIKE ${n})`, pattern);
  }
  return { where: parts.join(' AND '), bind };
}

const ORDER = { path: 'e.path', size: 'e.size', kind: 'e.kind' } as const;

export interface EntryPage {
  total: number;
  bytes: number;
  kinds: Record<string, number>;
  rows: (EntryRecord & { archive: string })[];
}

/** One page of the entries that answer, with counts for all of them. */
export async function findEntries(query: EntryQuery): Promise<EntryPage> {
  const { where, bind } = conditions(query);
  const { where: anyKind, bind: anyBind } = conditions({ ...query, kind: undefined });
  const sequelize = models();
  const [kinds, rows] = await Promise.all([
    sequelize.query<{ kind: string; count: number; bytes: number }>(
      `SELECT e.kind, count(*)::int AS count, coalesce(sum(e.size), 0)::float8 AS bytes
       FROM entries e JOIN archives a ON a.id = e.archive_id WHERE ${anyKind} GROUP BY e.kind`,
      { bind: anyBind, type: QueryTypes.SELECT },
    ),
    sequelize.query<EntryRecord & { archive: string }>(
      `SELECT ${COLUMNS}, a.path AS archive FROM entries e JOIN archives a ON a.id = e.archive_id
       WHERE ${where} ORDER BY ${ORDER[query.sort]} ${query.descending ? 'DESC' : 'ASC'}, e.path, e.archive_id, e.index
       OFFSET ${query.offset} LIMIT ${query.limit}`,
      { bind, type: QueryTypes.SELECT },
    ),
  ]);
  const chosen = kinds.filter(({ kind }) => !query.kind || kind === query.kind);
  return {
    total: chosen.reduce((sum, { count }) => sum + count, 0),
    bytes: chosen.reduce((sum, { bytes }) => sum + bytes, 0),
    kinds: Object.fromEntries(kinds.map(({ kind, count }) => [kind, count])),
    rows,
  };
}

/** Every folder that holds entries, with counts and bytes of what lies directly in it. */
export async function findFolders(
  gameId: number,
): Promise<{ folder: string; count: number; bytes: number }[]> {
  return models().query(
    `SELECT e.folder, count(*)::int AS count, sum(e.size)::float8 AS bytes
     FROM entries e JOIN archives a ON a.id = e.archive_id
     WHERE e.game_id = $1 AND e.wins AND a.state = 'open' GROUP BY e.folder ORDER BY e.folder`,
    { bind: [gameId], type: QueryTypes.SELECT },
  );
}

/** All entries of a path in load order, the one that answers first. */
export async function findStack(
  gameId: number,
  path: string,
): Promise<(EntryRecord & { archive: string; rank: number })[]> {
  return models().query(
    `SELECT ${COLUMNS}, a.path AS archive, a.rank FROM entries e JOIN archives a ON a.id = e.archive_id
     WHERE e.game_id = $1 AND e.path = $2 AND a.state = 'open' ORDER BY a.rank DESC, e.archive_id DESC, e.index`,
    { bind: [gameId, path], type: QueryTypes.SELECT },
  );
}

/** Paths that are known to be real, for archives that keep only hashes. */
export async function knownPaths(gameId: number): Promise<string[]> {
  const rows = await models().query<{ path: string }>(
    'SELECT DISTINCT path FROM entries WHERE game_id = $1 AND named',
    {
      bind: [gameId],
      type: QueryTypes.SELECT,
    },
  );
  return rows.map(({ path }) => path);
}

/** Count and bytes of what answers in the whole game. */
export async function countEntries(gameId: number): Promise<{ count: number; bytes: number }> {
  const [row] = await models().query<{ count: number; bytes: number }>(
    `SELECT count(*)::int AS count, coalesce(sum(e.size), 0)::float8 AS bytes FROM entries e JOIN archives a ON a.id = e.archive_id
     WHERE e.game_id = $1 AND e.wins AND a.state = 'open'`,
    { bind: [gameId], type: QueryTypes.SELECT },
  );
  return row ?? { count: 0, bytes: 0 };
}

/** The record of one entry, if the scan knows it. */
export async function findEntry(
  gameId: number,
  archiveId: number,
  index: number,
): Promise<EntryRecord | undefined> {
  const [row] = await models().query<EntryRecord>(
    `SELECT ${COLUMNS} FROM entries e WHERE e.game_id = $1 AND e.archive_id = $2 AND e.index = $3`,
    { bind: [gameId, archiveId, index], type: QueryTypes.SELECT },
  );
  return row;
}

/** The records of many entries, by archive and number. */
export async function findEntriesByRef(
  gameId: number,
  refs: readonly { archiveId: number; index: number }[],
): Promise<EntryRecord[]> {
  return models().query<EntryRecord>(
    `SELECT ${COLUMNS} FROM entries e JOIN unnest($2::int[], $3::int[]) AS r (a, i) ON e.archive_id = r.a AND e.index = r.i
     WHERE e.game_id = $1 ORDER BY e.archive_id, e.place`,
    {
      bind: [gameId, refs.map(({ archiveId }) => archiveId), refs.map(({ index }) => index)],
      type: QueryTypes.SELECT,
    },
  );
}
