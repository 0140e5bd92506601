import { ArchiveRow, models, settleWinners, type ArchiveState } from '@/db';
import { archiveRow } from './opened';
import { scriptById } from './scripts';

export interface ArchiveView {
  readonly id: number;
  readonly path: string;
  readonly size: number;
  readonly script: string | null;
  readonly scriptTitle: string;
  readonly state: ArchiveState;
  readonly reason: string;
  readonly nextStep: string;
  readonly keyed: boolean;
  readonly entries: number;
  readonly named: number;
  readonly fieldsHeld: number;
}

/** The archives of a game in load order; the last one answers first. */
export async function listArchives(gameId: number): Promise<ArchiveView[]> {
  models();
  const rows = await ArchiveRow.findAll({
    where: { gameId },
    order: [
      ['rank', 'ASC'],
      ['id', 'ASC'],
    ],
  });
  return rows.map((row) => ({
    id: row.id,
    path: row.path,
    size: row.size,
    script: row.script,
    scriptTitle: (row.script && scriptById(row.script)?.title) || 'no script',
    state: row.state,
    reason: row.reason,
    nextStep: row.nextStep,
    keyed: row.keyed,
    entries: row.entryCount,
    named: row.namedCount,
    fieldsHeld: row.fieldsHeld,
  }));
}

/** Moves an archive one place in the load order and settles anew which one answers. */
export async function moveArchive(
  gameId: number,
  archiveId: number,
  towards: 'first' | 'last',
): Promise<ArchiveView[]> {
  await archiveRow(gameId, archiveId);
  await models().transaction(async (transaction) => {
    const rows = await ArchiveRow.findAll({
      where: { gameId },
      order: [
        ['rank', 'ASC'],
        ['id', 'ASC'],
      ],
      transaction,
      lock: true,
    });
    const at = rows.findIndex(({ id }) => id === archiveId);
    const to = at + (towards === 'first' ? -1 : 1);
    if (to < 0 || to >= rows.length) return;
    [rows[at], rows[to]] = [rows[to]!, rows[at]!];
    for (const [i, row] of rows.entries()) await row.update({ rank: 10 * (i + 1) }, { transaction });
    await settleWinners(gameId, transaction);
  });
  return listArchives(gameId);
}
