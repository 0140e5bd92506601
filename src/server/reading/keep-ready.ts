import { FormatError } from '@/core/bytes';
import { UserError } from '@/platform/user-error';
import { log } from '../log';
import { onJobViews, type JobView } from '../running/jobs';
import { hasKept } from './kept-tables';
import { readGame } from './reading';

/** Jobs that scan a game, or end with scanning it. */
const SCANNING: ReadonlySet<JobView['kind']> = new Set<JobView['kind']>([
  ...(['scan', 'find-key', 'try-names', 'learn-names', 'install', 'take-out', 'restore'] as const),
]);

/** Has what points where in a game found where a job that is over has scanned it, and somebody has read the game before; of others nobody may ever ask. */
export async function afterJob({
  kind,
  state,
  gameId,
}: Pick<JobView, 'kind' | 'state' | 'gameId'>): Promise<void> {
  if (state !== 'done' || gameId === null || !SCANNING.has(kind) || !hasKept(gameId)) return;
  try {
    await readGame(gameId);
  } catch (error) {
    // Whoever opens the tables is told.
    if (error instanceof UserError || error instanceof FormatError) return;
    log.warn({ gameId, error: String(error) }, 'tables after a scan');
  }
}

/** Does so from now on, before somebody asks. Gives a function that ends it. */
export const keepReadingsReady = (): (() => void) => onJobViews((job) => void afterJob(job));
