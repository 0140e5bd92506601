import { FormatError } from '@/core/bytes';
import { planArchive, WAYS, type Way } from '@/core/mod';
import { models } from '@/db';
import { prepareWork } from './build-archive';
import { presentGame } from './games';
import type { JobContext } from './job-context';
import { alongWith, putTogether } from './mix';
import { UserError } from './user-error';

/** How large the archives of a build would be one way, or why that way is not to be had. */
export interface WeighedWay {
  readonly way: Way;
  readonly bytes: number | null;
  /** Bytes that stay where they are, so that little of a file differs. */
  readonly inPlace: number | null;
  readonly problem: string | null;
}

/** Plans a build in each way, writing nothing, so that they can be compared. */
export async function weighWays(
  gameId: number,
  modId: number,
  job: JobContext,
): Promise<{ before: number; ways: WeighedWay[] }> {
  models();
  const game = await presentGame(gameId);
  const { taken } = await putTogether(gameId, await alongWith(gameId, modId));
  const unfit = taken.find(({ preparedBlob }) => preparedBlob === null);
  if (unfit) throw new UserError(409, `${unfit.path} does not fit yet. Mend it or take it out first.`);
  const archives = [...new Set(taken.map(({ archivePath }) => archivePath))].sort();
  const sums = new Map(WAYS.map((way) => [way, { bytes: 0, inPlace: 0, problem: null as string | null }]));
  let before = 0;
  for (const [i, archivePath] of archives.entries()) {
    const own = taken.filter((change) => change.archivePath === archivePath);
    const work = await prepareWork(game, own, archivePath);
    try {
      before += work.archive.files.reduce(
        (sum, { holders, space }) => sum + (holders ? 0 : space.source.length),
        0,
      );
      for (const [j, way] of WAYS.entries()) {
        job.check();
        job.progress(i * WAYS.length + j, archives.length * WAYS.length, 'items', `${archivePath}, ${way}`);
        const sum = sums.get(way)!;
        try {
          const plan = planArchive(work.archive, work.changes, { way });
          sum.bytes += plan.length;
          for (const { segments } of plan.files)
            for (const { place, length, copyFrom } of segments) if (copyFrom === place) sum.inPlace += length;
          plan.discard();
        } catch (error) {
          if (!(error instanceof FormatError)) throw error;
          sum.problem ??= error.message;
        }
      }
    } finally {
      work.close();
    }
  }
  return {
    before,
    ways: [...sums].map(([way, { bytes, inPlace, problem }]) => ({
      way,
      bytes: problem === null ? bytes : null,
      inPlace: problem === null ? inPlace : null,
      problem,
    })),
  };
}
