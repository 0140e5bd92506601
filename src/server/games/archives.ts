import { ArchiveRow, models, type ArchiveSort, type ArchiveState } from '@/db';
import { rankInner } from '@/db/choices';
import { archiveRow } from '../opening/opened';
import type { ArchiveFacts } from '../scan/save';
import { scriptById } from '../opening/scripts';
import { notFound, UserError } from '@/platform/user-error';

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
  readonly sort: ArchiveSort;
  readonly parentId: number | null;
  readonly keyId: number | null;
  readonly chosenScript: string | null;
  readonly facts: ArchiveFacts;
  /** Whether it is a single picture or sound under a key rather than an archive of many. */
  readonly isMaskedFile: boolean;
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
    scriptTitle:
      row.sort === 'loose'
        ? 'files of the folder'
        : (row.script && scriptById(row.script)?.title) || 'no script',
    state: row.state,
    reason: row.reason,
    nextStep: row.nextStep,
    keyed: row.keyed,
    entries: row.entryCount,
    named: row.namedCount,
    fieldsHeld: row.fieldsHeld,
    sort: row.sort,
    parentId: row.parentId,
    keyId: row.keyId,
    chosenScript: row.chosenScript,
    facts: (row.facts ?? {}) as ArchiveFacts,
    isMaskedFile: (row.script !== null && scriptById(row.script)?.isForFiles) ?? false,
  }));
}

/** Has an archive opened with another script than the one that recognises it. */
export async function chooseScript(gameId: number, archiveId: number, script: string | null): Promise<void> {
  const row = await archiveRow(gameId, archiveId);
  if (row.sort !== 'file')
    throw new UserError(409, 'A script is chosen for files of the folder. What lies in them is recognised.');
  if (script !== null && !scriptById(script)) throw notFound('The script');
  await row.update({ chosenScript: script });
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
      where: { gameId, parentId: null },
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
    // What lies within an archive stands where that one stands.
    await rankInner(gameId);
  });
  return listArchives(gameId);
}
