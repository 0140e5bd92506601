import { spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import { z } from 'zod';
import { inOtherTongues, type OtherTongue } from '@/core/catalogue';
import { BuildRow, InstallationRow, models, TrialRow } from '@/db';
import type { BuildReport } from '../building/build-files';
import { presentGame } from '../games/games';
import { activeInstallation, activeRow } from '../installing/installations';
import type { JobContext } from './job-context';
import { standIns } from './stand-ins';
import { storageFolder } from '../storage/storage';
import { notFound, UserError } from '@/platform/user-error';

const LogLine = z.object({
  at: z.number(),
  sort: z.enum(['mounted', 'took', 'stall', 'note']),
  what: z.string(),
  from: z.string().optional(),
  detail: z.string(),
});
const Report = z.object({
  loaded: z.boolean(),
  line: z.string().nullable(),
  log: z.array(LogLine).max(10_000),
  /** Languages that the menu of the game offers, and the one that it was in. */
  tongues: z
    .array(z.object({ code: z.string().max(40), name: z.string().max(200) }))
    .max(200)
    .default([]),
  tongue: z.string().max(40).default(''),
});
export type TrialReport = z.infer<typeof Report> & {
  /** What was installed and not asked for, since the game was in another language. */
  readonly otherTongues: readonly OtherTongue[];
};

export interface TrialView {
  readonly id: number;
  readonly standIn: string;
  readonly loaded: boolean;
  readonly report: TrialReport;
  /** What was installed then; empty for the originals. */
  readonly installed: string;
  /** Whether something was installed or restored since. */
  readonly stale: boolean;
  /** Milliseconds to the end of its log, and those that such a run usually takes; null where none was before. */
  readonly took: number;
  readonly usual: number | null;
  readonly createdAt: string;
}

/** A stand-in that takes longer hangs. */
const LONGEST_MS = 60_000;

export const trialFolder = (id: number): string => storageFolder('trials', String(id));

export async function listTrials(gameId: number): Promise<TrialView[]> {
  models();
  const rows = await TrialRow.findAll({ where: { gameId }, order: [['id', 'DESC']], limit: 20 });
  const changed = await lastChangeOf(gameId);
  return rows.map((row, i) => ({
    stale: changed > row.createdAt.getTime(),
    took: tookOf(row),
    usual: usualOf(row, rows.slice(i + 1)),
    id: row.id,
    standIn: row.standIn,
    loaded: row.loaded,
    report: {
      tongues: [],
      tongue: '',
      otherTongues: [],
      ...(row.report as object),
    } as unknown as TrialReport,
    installed: row.installed,
    createdAt: row.createdAt.toISOString(),
  }));
}

const tookOf = ({ report }: TrialRow): number => (report as TrialReport).log.at(-1)?.at ?? 0;

/** The middle of what earlier runs took that loaded: those of the originals, or where there are none all. */
function usualOf({ standIn }: TrialRow, earlier: readonly TrialRow[]): number | null {
  const like = earlier.filter((row) => row.loaded && row.standIn === standIn);
  const originals = like.filter(({ installed }) => installed === '');
  const times = (originals.length > 0 ? originals : like).map(tookOf).sort((a, b) => a - b);
  return times[times.length >> 1] ?? null;
}

/** When the folder was last changed through the installer. */
async function lastChangeOf(gameId: number): Promise<number> {
  const rows = await InstallationRow.findAll({ where: { gameId }, order: [['id', 'DESC']], limit: 5 });
  return Math.max(
    0,
    ...rows.flatMap(({ createdAt, endedAt }) => [createdAt.getTime(), endedAt?.getTime() ?? 0]),
  );
}

/** Paths that what is installed changed or added. */
async function installedPaths(gameId: number): Promise<string[]> {
  const row = await activeRow(gameId);
  const build = row?.buildId ? await BuildRow.findByPk(row.buildId) : null;
  const archives = (build?.report as BuildReport | undefined)?.archives ?? [];
  return archives.flatMap(({ changes }) => changes.map(({ path: own }) => own));
}

/** Lets the stand-in game load the folder, and keeps what it said and showed. */
export async function runTrial(
  gameId: number,
  job: JobContext,
  tongue?: string,
): Promise<{ trialId: number; loaded: boolean }> {
  models();
  const game = await presentGame(gameId);
  const standIn = standIns().find(({ id }) => id === game.standIn);
  if (!standIn)
    throw new UserError(
      409,
      'There is no stand-in for this game, so it cannot be tried here. Start the game itself.',
    );
  // Nobody hears of a trial before all that it shows is there.
  const out = storageFolder('trials', `new-${randomUUID()}`);
  const installed = (await activeInstallation(gameId))?.title ?? '';
  job.progress(0, 1, 'items', `${standIn.title} loads the folder`);
  try {
    await runProgram(standIn.program, game.folder, out, tongue);
    const told = Report.parse(JSON.parse(fs.readFileSync(path.join(out, 'log.json'), 'utf8')));
    const report = { ...told, otherTongues: inOtherTongues(told, await installedPaths(gameId)) };
    const { loaded } = report;
    return await models().transaction(async (transaction) => {
      const row = await TrialRow.create(
        { gameId, standIn: standIn.title, loaded, report, installed },
        { transaction },
      );
      const kept = trialFolder(row.id);
      fs.rmSync(kept, { recursive: true, force: true });
      fs.renameSync(out, kept);
      return { trialId: row.id, loaded };
    });
  } finally {
    fs.rmSync(out, { recursive: true, force: true });
  }
}

function runProgram(program: string, folder: string, out: string, tongue?: string): Promise<void> {
  const root = process.cwd();
  const child = spawn(
    process.execPath,
    [
      ...['--import', 'tsx', path.join(root, program), '--folder', folder, '--out', out],
      ...(tongue === undefined ? [] : ['--tongue', tongue]),
    ],
    {
      cwd: root,
      stdio: ['ignore', 'ignore', 'pipe'],
      timeout: LONGEST_MS,
      // The stand-in is a program of its own and is told nothing of the database.
      env: { PATH: process.env.PATH, NODE_ENV: 'production' } as unknown as NodeJS.ProcessEnv,
    },
  );
  let complaint = '';
  child.stderr.on('data', (piece: Buffer) => (complaint = (complaint + piece.toString()).slice(-2000)));
  return new Promise((resolve, reject) => {
    child.on('error', reject);
    child.on('exit', (code, signal) => {
      if (code === 0) resolve();
      else
        reject(
          new UserError(
            422,
            signal
              ? `The stand-in did not end within ${LONGEST_MS / 1000} s and was stopped.`
              : `The stand-in ended with ${code}: ${complaint}`,
          ),
        );
    });
  });
}

const SHOWN: Record<string, string> = {
  'scene.html': 'text/html; charset=utf-8',
  'log.json': 'application/json',
};
const ENDINGS: Record<string, string> = {
  ...{ png: 'image/png', wav: 'audio/wav', ogg: 'audio/ogg' },
  ...{ webm: 'video/webm', vtt: 'text/vtt; charset=utf-8' },
};

/** A file that a trial has left, for showing it. */
export async function trialFile(
  gameId: number,
  id: number,
  name: string,
): Promise<{ bytes: Uint8Array; type: string }> {
  models();
  const row = await TrialRow.findOne({ where: { id, gameId } });
  const type = SHOWN[name] ?? ENDINGS[name.split('.').pop() ?? ''];
  const file = path.join(trialFolder(id), path.basename(name));
  if (!row || !type || path.basename(name) !== name || !fs.existsSync(file))
    throw notFound('The file of the trial');
  return { bytes: new Uint8Array(fs.readFileSync(file)), type };
}
