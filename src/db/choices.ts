import { QueryTypes } from 'sequelize';
import { models } from './models';

/** What the user said counts as the original of a file. */
export interface OriginalChoiceRow {
  readonly path: string;
  readonly found: string;
  readonly original: string;
}

export const originalChoiceRows = (gameId: number): Promise<OriginalChoiceRow[]> =>
  models().query<OriginalChoiceRow>('SELECT path, found, original FROM original_choices WHERE game_id = $1', {
    bind: [gameId],
    type: QueryTypes.SELECT,
  });

export async function setOriginalChoice(
  gameId: number,
  { path, found, original }: OriginalChoiceRow,
): Promise<void> {
  await models().query(
    `INSERT INTO original_choices (game_id, path, found, original) VALUES ($1, $2, $3, $4)
     ON CONFLICT (game_id, path) DO UPDATE SET found = excluded.found, original = excluded.original`,
    { bind: [gameId, path, found, original] },
  );
}

/** Titles of the mods of one build, of any game, that made just these bytes out of others; undefined where none did. */
export async function modsThatMade(sha256: string): Promise<readonly string[] | undefined> {
  const [found] = await models().query<{ mods: { title: string }[] }>(
    `SELECT b.mods FROM builds b, jsonb_array_elements(b.report->'archives') a
     WHERE a->>'sha256' = $1 AND a->>'sourceSha256' <> $1 LIMIT 1`,
    { bind: [sha256], type: QueryTypes.SELECT },
  );
  return found?.mods.map(({ title }) => title);
}

/** Notes the hash of a file that is still just what the first scan saw, where none is noted. */
export async function noteFirstHash(
  gameId: number,
  file: {
    readonly path: string;
    readonly sha256: string;
    readonly size: number;
    readonly modifiedMs: number;
  },
): Promise<void> {
  await models().query(
    `UPDATE games SET findings = jsonb_set(findings, ARRAY['first', $2, 'sha256'], to_jsonb($3::text))
     WHERE id = $1 AND (findings #>> ARRAY['first', $2, 'size'])::bigint = $4
       AND abs((findings #>> ARRAY['first', $2, 'modifiedMs'])::float8 - $5) <= 1
       AND NOT (findings #> ARRAY['first', $2] ? 'sha256')`,
    { bind: [gameId, file.path, file.sha256, file.size, file.modifiedMs] },
  );
}

/** Which mod has its way at each path, of those that were chosen. */
export async function modChoices(gameId: number): Promise<Map<string, number>> {
  const rows = await models().query<{ path: string; mod_id: number }>(
    'SELECT path, mod_id FROM mod_choices WHERE game_id = $1',
    { bind: [gameId], type: QueryTypes.SELECT },
  );
  return new Map(rows.map(({ path, mod_id: modId }) => [path, modId]));
}

/** Chooses the mod that has its way at a path; null leaves it to the order. */
export async function setModChoice(gameId: number, path: string, modId: number | null): Promise<void> {
  if (modId === null)
    await models().query('DELETE FROM mod_choices WHERE game_id = $1 AND path = $2', {
      bind: [gameId, path],
    });
  else
    await models().query(
      `INSERT INTO mod_choices (game_id, path, mod_id) VALUES ($1, $2, $3)
       ON CONFLICT (game_id, path) DO UPDATE SET mod_id = excluded.mod_id`,
      { bind: [gameId, path, modId] },
    );
}

/** Notes that bytes were taken out of a work folder for a path; false where that is known already. */
export async function noteTakenFile(modId: number, path: string, sha256: string): Promise<boolean> {
  const noted = await models().query(
    `INSERT INTO taken_files (mod_id, path, sha256) VALUES ($1, $2, $3) ON CONFLICT DO NOTHING RETURNING mod_id`,
    { bind: [modId, path, sha256], type: QueryTypes.SELECT },
  );
  return noted.length > 0;
}

/** Gives what lies within archives the place of those in the load order; part of the transaction that is under way. */
export async function rankInner(gameId: number): Promise<void> {
  await models().query(
    `WITH RECURSIVE placed AS (
       SELECT id, rank FROM archives WHERE game_id = $1 AND parent_id IS NULL
       UNION ALL SELECT a.id, p.rank FROM archives a JOIN placed p ON a.parent_id = p.id)
     UPDATE archives SET rank = placed.rank FROM placed WHERE archives.id = placed.id`,
    { bind: [gameId] },
  );
}
