import { FormatError } from '@/core/bytes';
import {
  BUILD_WAYS,
  openPlanned,
  planArchive,
  proveBuild,
  refuseFalse,
  type BuildPlan,
  type BuildWay,
} from '@/core/mod';
import { models, type ChangeRow } from '@/db';
import { looseNameOf } from './build-loose';
import { partedChanges } from './build-files-of-folder';
import { foldNested } from './build-nested';
import { patchOf } from './build-patch';
import { stampOf } from './builds';
import { prepareWork, type Work } from './build-work';
import { keysOf } from '../opening/keys-of';
import { nodePrimitives } from '@/platform/node/primitives';
import { presentGame, type GameView } from '../games/games';
import type { JobContext } from '../running/job-context';
import { alongWith, putTogether } from '../mods/mix';
import { UserError } from '@/platform/user-error';

/** How large the files of a build would be one way, or why that way is not to be had. */
export interface WeighedWay {
  readonly way: BuildWay;
  readonly bytes: number | null;
  /** Bytes that stay where they are, so that little of a file differs. */
  readonly inPlace: number | null;
  readonly problem: string | null;
}

interface Sum {
  bytes: number;
  inPlace: number;
  problem: string | null;
}

const sizeOf = (files: readonly ChangeRow[], which: 'preparedSize' | 'originalSize'): number =>
  files.reduce((sum, change) => sum + (change[which] ?? 0), 0);

/** Plans a build in each way, writing nothing, so that they can be compared. */
export async function weighWays(
  gameId: number,
  modId: number,
  job: JobContext,
): Promise<{ before: number; ways: WeighedWay[]; stamp: string }> {
  models();
  const game = await presentGame(gameId);
  const { taken, mods } = await putTogether(gameId, await alongWith(gameId, modId));
  const unfit = taken.find(({ action, preparedBlob }) => action !== 'remove' && preparedBlob === null);
  if (unfit) throw new UserError(409, `${unfit.path} does not fit yet. Mend it or take it out first.`);
  const title = mods.map((mod) => mod.title).join(' ');
  const { files, entries: folded } = partedChanges(await foldNested(game, taken, job));
  const archives = [...new Set(folded.map(({ archivePath }) => archivePath))].sort();
  const sums = new Map(
    // Files of the folder are the same whatever the way.
    BUILD_WAYS.map((way): [BuildWay, Sum] => [
      way,
      { bytes: sizeOf(files, 'preparedSize'), inPlace: 0, problem: null },
    ]),
  );
  let before = sizeOf(files, 'originalSize');
  for (const [i, archivePath] of archives.entries()) {
    const own = folded.filter((change) => change.archivePath === archivePath);
    for (const [j, way] of BUILD_WAYS.entries()) {
      job.check();
      const of = archives.length * BUILD_WAYS.length;
      job.progress(i * BUILD_WAYS.length + j, of, 'items', `${archivePath}, ${way}`);
      const sum = sums.get(way)!;
      if (sum.problem !== null) continue;
      try {
        const size = await weigh(game, own, archivePath, way, title, sum);
        if (way === 'shifted') before += size;
      } catch (error) {
        if (!(error instanceof FormatError) && !(error instanceof UserError)) throw error;
        sum.problem = error.message;
      }
    }
  }
  return {
    before,
    stamp: stampOf(game, taken),
    ways: [...sums].map(([way, { bytes, inPlace, problem }]) => ({
      way,
      bytes: problem === null ? bytes : null,
      inPlace: problem === null ? inPlace : null,
      problem,
    })),
  };
}

/** A way that would come out wrong is not offered; the same comparison is made when it is built. */
function refuseWrong({ archive, edited, changes, row }: Work, plan: BuildPlan): void {
  const built = openPlanned(plan, { primitives: nodePrimitives, keys: keysOf(archive) });
  try {
    const proof = proveBuild(
      archive,
      built,
      { changes, edited },
      { copied: plan, lookThroughBytes: 0, onlyReopened: true },
    );
    refuseFalse(proof, row.path);
  } finally {
    built.discard();
  }
}

/** Adds up what an archive comes to; gives back the bytes that it has now. */
async function weigh(
  game: GameView,
  changes: readonly ChangeRow[],
  archivePath: string,
  way: BuildWay,
  title: string,
  sum: Sum,
): Promise<number> {
  if (way === 'loose') {
    for (const change of changes) {
      looseNameOf(game, change);
      sum.bytes += change.preparedSize ?? 0;
    }
    return 0;
  }
  const patch = way === 'patch' ? await patchOf(game.id, archivePath, changes, title) : undefined;
  const work = await prepareWork(game, changes, archivePath, patch);
  try {
    const { planned, edited } = work;
    const how = way === 'patch' ? 'packed' : way;
    const plan = planArchive(planned, work.changes, { way: how, ...(edited && { edits: edited.marks }) });
    try {
      refuseWrong(work, plan);
      sum.bytes += plan.length;
      if (!patch)
        for (const { segments } of plan.files)
          for (const { place, length, copyFrom } of segments) if (copyFrom === place) sum.inPlace += length;
    } finally {
      plan.discard();
    }
    return work.archive.files.reduce(
      (total, { holders, space }) => total + (holders ? 0 : space.source.length),
      0,
    );
  } finally {
    work.close();
  }
}
