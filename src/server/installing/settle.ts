import { GameRow, JobRow, models } from '@/db';
import { holdGame, tryHoldGame } from './game-lock';
import { recordOperation } from './installation-records';
import { places } from './installations';
import { closeJournal, mend, readJournals, sweepJournals, type Journal, type Mended } from './placing';
import type { JobContext } from '../running/job-context';
import { enqueue } from '../running/jobs';
import { log } from '../log';
import { UserError } from '@/platform/user-error';

/** Brings the folder and the records of an operation that was cut short in line, and closes its journal. Begun again, it does no harm. */
async function settle(journal: Journal): Promise<Mended> {
  const mended = mend(journal, places());
  if (mended.placed) {
    await recordOperation(mended.placed);
    closeJournal(places().journals, journal.id);
  }
  await tell(journal, mended);
  return mended;
}

/** Notes on the Activity screen what became of it; under the number of the operation, so that it stands there once. */
async function tell({ id, title, folder }: Journal, { outcome, detail }: Mended): Promise<void> {
  log.warn({ title, folder, outcome, detail }, 'mended');
  const game = await GameRow.findOne({ where: { folder }, attributes: ['id'] });
  const stuck = outcome === 'stuck';
  const says = {
    state: stuck ? 'failed' : 'done',
    result: { detail } as never,
    error: stuck
      ? `${detail} It is tried again by itself, and before anything else is done to this game.`
      : null,
    endedAt: new Date(),
  };
  const [, isNew] = await JobRow.findOrCreate({
    where: { id },
    defaults: {
      id,
      gameId: game?.id ?? null,
      kind: 'recover',
      title: `${title}, cut short`,
      input: {},
      ...says,
    },
  });
  if (!isNew) await JobRow.update(says, { where: { id } });
  // What is known of the files is older than what was done to them.
  if (game && !stuck) await enqueue('scan', `Scan after ${title}`, { gameId: game.id });
}

/** Whether somebody may still be at it: a worker that leads its job. One that was placed waits for its records only. */
async function isAtWork({ job, state }: Journal): Promise<boolean> {
  if (job === undefined || state === 'placed') return false;
  return (await JobRow.findByPk(job, { attributes: ['state'] }))?.state === 'running';
}

/**
 * Does what changes a game while nobody else does, and only once everything that was cut short before is settled. Throws UserError where
 * that cannot be.
 */
export async function atGame<T>(gameId: number, job: JobContext, work: () => Promise<T>): Promise<T> {
  models();
  return holdGame(gameId, job, async () => {
    const game = await GameRow.findByPk(gameId, { attributes: ['folder'] });
    for (const { journal } of readJournals(places().journals)) {
      if (journal.folder !== game?.folder) continue;
      const isBusy = await isAtWork(journal);
      const { outcome, detail } = isBusy
        ? { outcome: 'stuck', detail: 'Another worker is at it.' }
        : await settle(journal);
      if (outcome === 'stuck')
        throw new UserError(
          409,
          `${journal.title} was cut short and could not be brought to its end yet: ${detail} Nothing else is done to this game until it is.`,
        );
    }
    return work();
  });
}

/** A folder that could not be mended is looked at again after so long. */
const STUCK_MS = 60_000;
const stuckAt = new Map<string, number>();

/** Settles everything that was cut short and that nobody is at: at each start, when the database comes back, and when a worker ended. */
export async function settleAll(): Promise<void> {
  models();
  sweepJournals(places().journals);
  for (const { journal } of readJournals(places().journals)) {
    const { id, folder } = journal;
    if (Date.now() - (stuckAt.get(id) ?? 0) < STUCK_MS || (await isAtWork(journal))) continue;
    const game = await GameRow.findOne({ where: { folder }, attributes: ['id'] });
    const now = async (): Promise<Mended | undefined> => {
      // It may have moved while the lock was waited for.
      const open = readJournals(places().journals).find(({ journal: one }) => one.id === id);
      return open && settle(open.journal);
    };
    const mended = game ? await tryHoldGame(game.id, now) : await now();
    if (mended?.outcome === 'stuck') stuckAt.set(id, Date.now());
    else stuckAt.delete(id);
  }
}
