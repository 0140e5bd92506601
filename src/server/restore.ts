import { InstallationRow, models } from '@/db';
import { listGames, presentGame } from './games';
import {
  activeRow,
  checkInstalled,
  places,
  type InstalledFile,
  type InstallationView,
} from './installations';
import { backToOriginal, stepper } from './install';
import { operate, recover, type Recovered, type Target } from './installer';
import type { JobContext } from './job-context';
import { UserError } from './user-error';

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
  operate(game.folder, `Restore ${game.title}`, targets, places(), stepper(job, targets.length));
  const found = new Map(
    targets.map((target) => [target.path, target.before === null ? undefined : target.before]),
  );
  await active.update({
    state: 'restored',
    endedAt: new Date(),
    // Noted, so that what somebody else had written there stays kept.
    files: (active.files as InstalledFile[]).map((file) => {
      const was = found.get(file.path);
      return was === undefined || was === file.after ? file : { ...file, found: was };
    }),
  });
  return { files: targets.length, left: changed === 'leave' ? others.length : 0 };
}

/** Mends what a kill has cut short, in the folders and in the records. */
export async function recoverInstallations(): Promise<Recovered[]> {
  models();
  const recovered = recover(places());
  for (const one of recovered) if (one.outcome === 'new') await settleRecords(one);
  return recovered;
}

/** After a kill between the last rename and the record, the records are brought in line with the folder. */
async function settleRecords({ folder, files, title, about }: Recovered): Promise<void> {
  const game = (await listGames()).find((one) => one.folder === folder);
  if (!game) return;
  const active = await activeRow(game.id);
  const had = new Map(((active?.files ?? []) as InstalledFile[]).map((file) => [file.path, file]));
  const now = files
    .map((file) => ({
      path: file.path,
      before: had.get(file.path)?.before ?? file.before,
      after: file.after,
      ...(file.made !== undefined && { made: file.made }),
    }))
    .filter(({ before, after }) => before !== after);
  await models().transaction(async () => {
    await active?.update({ state: now.length > 0 ? 'replaced' : 'restored', endedAt: new Date() });
    if (now.length === 0) return;
    await InstallationRow.create({
      gameId: game.id,
      buildId: null,
      title: title.replace(/^Install /, ''),
      state: 'installed',
      files: now,
      mods: [...((about as InstallationView['mods'] | undefined) ?? [])],
    });
  });
}
