import { conflictKey, mixChanges, type Conflict } from '@/core/mod';
import { ChangeRow, models, ModRow } from '@/db';
import { modChoices, setModChoice } from '@/db/choices';
import { mergeTables, type MergedFile } from './merge-tables';
import { modRow } from './mods';
import { UserError } from '@/platform/user-error';

/** A mod as part of a build. */
export interface MixedMod {
  readonly id: number;
  readonly title: string;
}

export interface ModsTogether {
  /** From first to last; of several that change the same the last one has its way. */
  readonly mods: readonly MixedMod[];
  readonly taken: readonly ChangeRow[];
  readonly conflicts: readonly Conflict[];
  /** Tables that several change, put together value by value. */
  readonly together: readonly MergedFile[];
}

/** All mods of a game in their order. */
export async function orderedMods(gameId: number): Promise<ModRow[]> {
  models();
  return ModRow.findAll({
    where: { gameId },
    order: [
      ['place', 'ASC'],
      ['id', 'ASC'],
    ],
  });
}

/** Some mods of a game put together: what each of them adds, and where they are in each other's way. */
export async function putTogether(gameId: number, modIds: readonly number[]): Promise<ModsTogether> {
  const wanted = new Set(modIds);
  const mods = (await orderedMods(gameId)).filter(({ id }) => wanted.has(id));
  const order = mods.map(({ id }) => id);
  const rows = await ChangeRow.findAll({ where: { modId: order }, order: [['id', 'ASC']] });
  const changes = rows.map((row) => ({
    row,
    modId: row.modId,
    path: row.path,
    archivePath: row.archivePath,
    entryIndex: row.entryIndex,
    content: row.action === 'remove' ? 'taken out' : (row.preparedBlob ?? undefined),
  }));
  const { taken, conflicts } = mixChanges(changes, order, await modChoices(gameId));
  const merged = await mergeTables(gameId, conflicts, rows);
  return {
    mods: mods.map(({ id, title }) => ({ id, title })),
    taken: taken.map(({ row }) => merged.rows.get(row.id) ?? row),
    conflicts: merged.conflicts,
    together: merged.together,
  };
}

/** A mod and all that are built along with it. */
export async function alongWith(gameId: number, modId: number): Promise<number[]> {
  await modRow(gameId, modId);
  return (await orderedMods(gameId))
    .filter(({ id, together }) => id === modId || together)
    .map(({ id }) => id);
}

/** Puts the mods of a game in an order; those that are not named stay behind the ones that are. */
export async function orderMods(gameId: number, ids: readonly number[]): Promise<void> {
  const rows = await orderedMods(gameId);
  const place = new Map(ids.map((id, i) => [id, i + 1]));
  for (const row of rows) await row.update({ place: place.get(row.id) ?? ids.length + row.place });
}

/** Says which mod has its way at a path; null leaves it to the order. */
export async function chooseMod(gameId: number, path: string, modId: number | null): Promise<void> {
  const key = conflictKey(path);
  if (modId === null) return setModChoice(gameId, key, null);
  await modRow(gameId, modId);
  const changes = await ChangeRow.findAll({ where: { modId }, attributes: ['path'] });
  if (!changes.some((change) => conflictKey(change.path) === key))
    throw new UserError(409, `This mod does not change ${path}. Choose one that does.`);
  await setModChoice(gameId, key, modId);
}
