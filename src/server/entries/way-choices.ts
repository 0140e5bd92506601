import { models, WayChoiceRow } from '@/db';
import type { SaidWays } from '@/platform/node/media-scripts';

export type WayScope = WayChoiceRow['scope'];

export interface WaySaid {
  readonly scope: WayScope;
  /** A path, or the title of a script. */
  readonly name: string;
  /** Its number, from 0; null takes back what was said. */
  readonly way: number | null;
}

/** What was said of the sounds of a game. */
export async function saidWays(gameId: number): Promise<SaidWays> {
  models();
  const rows = await WayChoiceRow.findAll({ where: { gameId }, raw: true });
  const of = (wanted: WayScope): Record<string, number> =>
    Object.fromEntries(rows.flatMap(({ scope, name, way }) => (scope === wanted ? [[name, way]] : [])));
  return { paths: of('path'), scripts: of('script') };
}

/** Keeps in which way a sound is to be read, or all that a script describes; null takes back what was said. Gives what was said before, for undoing. */
export async function keepWay(gameId: number, { scope, name, way }: WaySaid): Promise<number | null> {
  return models().transaction(async (transaction) => {
    const where = { gameId, scope, name };
    const old = await WayChoiceRow.findOne({ where, transaction, lock: true });
    if (way === null) await old?.destroy({ transaction });
    else
      await WayChoiceRow.upsert(
        { ...where, way },
        { conflictFields: ['game_id', 'scope', 'name'] as never, transaction },
      );
    return old?.way ?? null;
  });
}
