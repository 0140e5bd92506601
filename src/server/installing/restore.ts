import { models } from '@/db';
import { presentGame } from '../games/games';
import { backToOriginal, stepper } from './install';
import { recordOperation, type OperationAbout } from './installation-records';
import { activeRow, checkInstalled, places, type InstalledFile } from './installations';
import { closeJournal, operate, type Target } from './placing';
import type { JobContext } from '../running/job-context';
import { UserError } from '@/platform/user-error';

/** What to do with files that something else wrote since they were installed. */
export const CHANGED_WAYS = ['ask', 'replace', 'leave'] as const;
export type ChangedWay = (typeof CHANGED_WAYS)[number];

/**
 * Puts all originals back in one step. Files that something else changed meanwhile are not touched unless it is said what to do with
 * them: `replace` puts the original there as well and keeps what was found, `leave` lets them be.
 */
export async function restoreGame(
  gameId: number,
  changed: ChangedWay,
  job: JobContext,
): Promise<{ files: number; left: number }> {
  models();
  const game = await presentGame(gameId);
  const active = await activeRow(gameId);
  if (!active) throw new UserError(409, 'No mod is installed in this game; the folder holds its originals.');
  const now = new Map((await checkInstalled(gameId)).map((file) => [file.path, file]));
  const others = [...now.values()].filter(({ state }) => state === 'changed' || state === 'missing');
  if (others.length > 0 && changed === 'ask')
    throw new UserError(
      409,
      `${others[0]!.path} is neither what was installed nor the original: something else ${others[0]!.state === 'missing' ? 'took it away' : 'changed it'}${others.length > 1 ? `, and ${others.length - 1} more` : ''}. Nothing was overwritten. Say whether the originals are to replace ${others.length > 1 ? 'them' : 'it'}.`,
    );
  const targets = (active.files as InstalledFile[]).flatMap((file): Target[] => {
    const { state, now: found } = now.get(file.path)!;
    // A file that is its original already, put back by the game's own repair say, is left alone.
    if (state === 'original') return [];
    if (state === 'as installed') return [backToOriginal(file)];
    return changed === 'replace' ? [{ ...backToOriginal(file), before: found }] : [];
  });
  const found = new Map(
    targets.map((target) => [target.path, target.before === null ? undefined : target.before]),
  );
  const about: OperationAbout = {
    ...{ does: 'restore', gameId, installationId: active.id },
    // Noted, so that what somebody else had written there stays kept.
    files: (active.files as InstalledFile[]).map((file) => {
      const was = found.get(file.path);
      return was === undefined || was === file.after ? file : { ...file, found: was };
    }),
  };
  const journal = operate(game.folder, `Restore ${game.title}`, targets, places(), {
    ...{ about, job: job.id },
    onStep: stepper(job, targets.length),
  });
  await recordOperation(journal);
  closeJournal(places().journals, journal.id);
  return { files: targets.length, left: changed === 'leave' ? others.length : 0 };
}
