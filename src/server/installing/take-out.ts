import type { BuildWay } from '@/core/mod';
import { BuildRow, models } from '@/db';
import { buildMods } from '../building/builds';
import { installBuild } from './install';
import { activeRow, type InstallationView } from './installations';
import type { JobContext } from '../running/job-context';
import { orderedMods } from '../mods/mix';
import { restoreGame } from './restore';
import { notFound, UserError } from '@/platform/user-error';

/** Takes one mod out of what is installed: the others are built without it and take its place in one step. */
export async function takeOut(
  gameId: number,
  modId: number,
  job: JobContext,
): Promise<{ files: number; left: number }> {
  models();
  const active = await activeRow(gameId);
  const installed = (active?.mods ?? []) as InstallationView['mods'];
  if (!active || !installed.some(({ id }) => id === modId)) throw notFound('The installed mod');
  const others = installed.filter(({ id }) => id !== modId);
  if (others.length === 0) return restoreGame(gameId, 'ask', job);
  const known = new Set((await orderedMods(gameId)).map(({ id }) => id));
  const gone = others.find(({ id }) => !known.has(id));
  if (gone)
    throw new UserError(
      409,
      `${gone.title} was removed here, so it cannot be built without the other. Restore the originals instead.`,
    );
  const way = active.buildId === null ? undefined : (await BuildRow.findByPk(active.buildId))?.way;
  const ids = others.map(({ id }) => id);
  const { buildId, holds } = await buildMods(
    gameId,
    ids.at(-1)!,
    ids,
    // What was carried on once is not what this is about.
    { way: (way as BuildWay | undefined) ?? 'shifted', keepDamaged: true },
    job,
  );
  if (!holds)
    throw new UserError(409, 'The proof of the build without it does not hold, so nothing was changed.');
  const { files } = await installBuild(gameId, buildId, job);
  return { files, left: 0 };
}
