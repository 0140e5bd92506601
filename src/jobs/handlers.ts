import type { JobContext } from '@/server/running/job-context';
import { buildMod } from '@/server/building/builds';
import { writeBuild } from '@/server/building/build-output';
import { weighWays } from '@/server/building/weigh-ways';
import { installBuild } from '@/server/installing/install';
import type { JobInput, JobKind } from '@/server/running/jobs';
import { makeFilm } from '@/server/films/make-film';
import { findKeysFor } from '@/server/opening/key-finder';
import { findAlike, groupByLook } from '@/server/looking/looks';
import { measureAll } from '@/server/looking/measure-all';
import { learnNames, tryPattern } from '@/server/entries/names';
import { extractPicked, runKeptRecipe } from '@/server/recipes/run-jobs';
import { scanGame } from '@/server/scan/scan';
import { searchInside } from '@/server/entries/search-inside';
import { restoreGame } from '@/server/installing/restore';
import { atGame } from '@/server/installing/settle';
import { takeOut } from '@/server/installing/take-out';
import { runTrial } from '@/server/running/trials';
import { startKeySearch } from './key-search-thread';
import { startScanThreads } from './scan-thread';

/** What each kind of job does; one line a kind. */
export const HANDLERS: { [K in JobKind]: (input: JobInput<K>, job: JobContext) => Promise<unknown> } = {
  scan: ({ gameId }, job) => scanGame(gameId, job, startScanThreads),
  extract: extractPicked,
  'run-recipe': runKeptRecipe,
  'find-key': async (input, job) => {
    const done = await findKeysFor(input, job, startKeySearch);
    if (done.found.some(({ isNew }) => isNew)) await scanGame(input.gameId, job, startScanThreads);
    return done;
  },
  'try-names': async ({ gameId, pattern }, job) => {
    const done = await tryPattern(gameId, pattern, job);
    if (done.taken > 0) await scanGame(gameId, job, startScanThreads);
    return done;
  },
  'learn-names': async ({ gameId }, job) => {
    const done = await learnNames(gameId, job);
    if (done.taken > 0) await scanGame(gameId, job, startScanThreads);
    return done;
  },
  measure: ({ gameId, kind }, job) => measureAll(gameId, kind, job),
  'search-inside': (input, job) => searchInside(input, job),
  'find-alike': (input, job) => findAlike(input, job),
  'group-looks': (input, job) => groupByLook(input, job),
  build: ({ gameId, modId, way, keepDamaged }, job) =>
    atGame(gameId, job, () => buildMod(gameId, modId, { way, keepDamaged }, job)),
  'weigh-ways': ({ gameId, modId }, job) => weighWays(gameId, modId, job),
  'write-build': ({ gameId, buildId, folder }, job) => writeBuild(gameId, buildId, folder, job),
  install: async ({ gameId, buildId }, job) => {
    const done = await atGame(gameId, job, () => installBuild(gameId, buildId, job));
    await scanGame(gameId, job, startScanThreads);
    return done;
  },
  'take-out': async ({ gameId, modId }, job) => {
    const done = await atGame(gameId, job, () => takeOut(gameId, modId, job));
    await scanGame(gameId, job, startScanThreads);
    return done;
  },
  restore: async ({ gameId, changed }, job) => {
    const done = await atGame(gameId, job, () => restoreGame(gameId, changed, job));
    await scanGame(gameId, job, startScanThreads);
    return done;
  },
  'make-film': (input, job) => makeFilm(input, job),
  trial: ({ gameId, tongue }, job) => runTrial(gameId, job, tongue),
};
