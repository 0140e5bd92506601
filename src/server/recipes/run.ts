import fs from 'node:fs';
import { FormatError } from '@/core/bytes';
import { ArchiveRow } from '@/db';
import { conversionOf } from '@/platform/node/convert';
import { planTask } from '@/platform/node/plan-task';
import { LOG_NAME, logText, summaryOf, type ItemState, type RunItem } from '@/platform/node/run-log';
import { sourceOf, type BatchTask } from '@/platform/node/run-batch';
import { WrittenFolder } from '@/platform/node/written-folder';
import { presentGame } from '../games/games';
import type { JobContext } from '../running/job-context';
import { checkOutputFolder } from './output-folder';
import { UserError } from '@/platform/user-error';
import {
  claimFolder,
  fetchAnswers,
  fetchSpent,
  putBatches,
  releaseFolder,
  withdrawBatches,
} from '@/db/board';
import { markFolder, stateOfFile, unmarkFolder, unseenOf, type BatchAnswer, type BatchBody } from './batch';
import type { Plan, PlannedFile, Ways } from './plan';
import { keepLog } from './run-log';

export interface RunResult {
  readonly folder: string;
  readonly detail: string;
  readonly counts: Readonly<Record<ItemState, number>>;
  readonly bytes: number;
  /** Names that were changed, since some system could not hold them or another entry has them. */
  readonly renamed: number;
}

/** A run as it is asked for. */
export interface RunWanted {
  readonly gameId: number;
  /** Game and recipe, as `game:recipe`; recipe 0 is an extraction without one. */
  readonly by: string;
  readonly ways: Ways;
  readonly plan: Plan;
  /** Paths of entries; only these are looked at, as where what failed is tried again. */
  readonly only?: ReadonlySet<string> | undefined;
}

/** A batch ends with whichever of these it reaches first. */
const BATCH_ENTRIES = 256;
const BATCH_BYTES = 24 << 20;
/** So many batches are told to the database at a time. */
const PUT_AT_ONCE = 64;
const LOOK_MS = 60;

/**
 * Writes what is new or changed of a plan, and leaves alone what is as it was or what somebody edited. What needs no reading is told
 * apart here; the rest is put on the board in batches, for all workers. Begun again after any end it goes on, since what was written is
 * known from the folder.
 */
export async function runPlan(wanted: RunWanted, job: JobContext): Promise<RunResult> {
  const folder = await checkOutputFolder(wanted.ways.folder);
  // Those of an earlier lead; nobody else may write a file that is given out anew.
  while ((await withdrawBatches(job.id)) > 0) await pause();
  while (!(await claimFolder(folder, job.id))) {
    job.check();
    job.progress(0, wanted.plan.files.length, 'items', `waits for another run into ${folder}`);
    await pause();
  }
  try {
    return await runInto(folder, wanted, job);
  } finally {
    await releaseFolder(folder, job.id);
  }
}

async function runInto(folder: string, wanted: RunWanted, job: JobContext): Promise<RunResult> {
  const out = new WrittenFolder(folder);
  const run = new Run(out, wanted, job);
  try {
    markFolder(out.root, job.id);
    checkRoom(folder, wanted.plan.files, out);
    await run.all();
  } catch (error) {
    // Also where it is stopped or fails, what was written stays known; a full disk may leave no room for the log.
    await run.end().catch(() => undefined);
    throw error;
  }
  await run.end();
  return run.result();
}

const pause = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, LOOK_MS));

/** Refuses a run whose files will not fit; what is there already is counted as done. */
function checkRoom(folder: string, files: readonly PlannedFile[], out: WrittenFolder): void {
  const needed = files.reduce((sum, { file, record }) => sum + (out.known.has(file) ? 0 : record.size), 0);
  const { bavail, bsize } = fs.statfsSync(folder);
  if (needed > bavail * bsize)
    throw new UserError(
      507,
      `${folder} has room for ${Math.floor((bavail * bsize) / 1e6)} MB, and ${Math.ceil(needed / 1e6)} MB are to be written. Make room, or pick less.`,
    );
}

interface Open {
  readonly body: BatchBody;
  readonly files: readonly PlannedFile[];
}

class Run {
  private readonly told = new Map<PlannedFile, readonly [ItemState, string]>();
  private readonly counts = { written: 0, skipped: 0, kept: 0, failed: 0, missing: 0 };
  private readonly open = new Map<number, Open>();
  private readonly files: readonly PlannedFile[];
  private readonly totalBytes: number;
  private waiting: { number: number; body: string }[] = [];
  private bytes = 0;
  private doneBytes = 0;
  private number = 0;

  constructor(
    private readonly out: WrittenFolder,
    private readonly wanted: RunWanted,
    private readonly job: JobContext,
  ) {
    const { plan, only } = wanted;
    this.files = only ? plan.files.filter(({ record }) => only.has(record.path)) : plan.files;
    this.totalBytes = this.files.reduce((sum, { record }) => sum + record.size, 0);
    this.counts.missing = plan.missing.length;
  }

  async all(): Promise<void> {
    const game = await presentGame(this.wanted.gameId);
    for (const [archiveId, files] of byArchive(this.files)) await this.archive(game.folder, archiveId, files);
    await this.put();
    while (this.open.size > 0) {
      await pause();
      this.job.check();
      // Workers take nothing of a run whose folders they do not see; without the leader's own nobody ever would.
      const unseen = unseenOf({ gameFolder: game.folder, root: this.out.root }, this.job.id);
      if (unseen !== undefined)
        throw new UserError(
          410,
          `${unseen} any more. What was written before is known; start the run again.`,
        );
      await this.take();
    }
  }

  /** Tells what need not be read, and puts the rest of an archive's files on the board. */
  private async archive(gameFolder: string, archiveId: number, files: readonly PlannedFile[]): Promise<void> {
    const { gameId, by, ways } = this.wanted;
    const row = await ArchiveRow.findOne({ where: { id: archiveId, gameId } });
    if (!row)
      return this.failAll(files, 'its archive is no longer known. Scan the folder, then run this again');
    const isLoose = row.sort === 'loose';
    const state = isLoose ? '' : stateOfFile(gameFolder, row.path.split('//')[0]!);
    if (!isLoose && state !== (await scannedState(row)))
      return this.failAll(
        files,
        `${row.path} has changed since the folder was scanned. Scan it, then run this again`,
      );
    const { root } = this.out;
    const common = { gameId, archiveId, gameFolder, root, state, by, archive: row.path, isLoose };
    let tasks: BatchTask[] = [];
    let planned: PlannedFile[] = [];
    let bytes = 0;
    const flush = async (): Promise<void> => {
      if (tasks.length === 0) return;
      await this.give({ ...common, tasks }, planned);
      [tasks, planned, bytes] = [[], [], 0];
    };
    for (const [i, file] of files.entries()) {
      if (i % 2000 === 1999) {
        this.job.check();
        this.progress(file.record.path);
        // Others of this process get their turn.
        await new Promise(setImmediate);
      }
      const { record } = file;
      const own = isLoose ? looseState(gameFolder, record.path) : state;
      if (own instanceof FormatError) {
        this.tell(file, 'failed', own.message);
        continue;
      }
      const { index, path, storedSize, kind } = record;
      const task = planTask(
        this.out,
        {
          ...{ index, path, storedSize, by, file: file.file, conversion: conversionOf(ways, kind) },
          source: sourceOf(own, record, isLoose),
        },
        ways.edited,
      );
      if ('told' in task) {
        this.tell(file, task.told, task.reason);
        continue;
      }
      if (tasks.length > 0 && bytes + record.size > BATCH_BYTES) await flush();
      tasks.push(task);
      planned.push(file);
      bytes += record.size;
      if (tasks.length >= BATCH_ENTRIES) await flush();
    }
    await flush();
  }

  private async give(body: BatchBody, files: readonly PlannedFile[]): Promise<void> {
    const number = this.number++;
    this.open.set(number, { body, files });
    this.waiting.push({ number, body: JSON.stringify(body) });
    if (this.waiting.length >= PUT_AT_ONCE || number === 1) await this.put();
  }

  private async put(): Promise<void> {
    if (this.waiting.length === 0) return;
    const batches = this.waiting;
    this.waiting = [];
    await putBatches(this.job.id, batches);
    this.job.nudge();
  }

  /** Takes in what the workers have answered. */
  private async take(): Promise<void> {
    for (const { number, answer } of await fetchAnswers(this.job.id)) {
      const batch = this.open.get(number);
      if (!batch) continue;
      this.open.delete(number);
      const told = JSON.parse(answer) as BatchAnswer;
      if ('failure' in told)
        throw Object.assign(new Error(told.failure.message), { code: told.failure.code });
      for (const [i, [state, reason, bytes]] of told.outcomes.entries()) {
        this.tell(batch.files[i]!, state, reason);
        this.bytes += bytes;
      }
      this.progress(batch.files.at(-1)!.record.path);
    }
    for (const number of await fetchSpent(this.job.id)) await this.again(number);
    await this.put();
  }

  /** A batch that workers ended on is given out entry by entry; an entry that they ended on has failed. */
  private async again(number: number): Promise<void> {
    const batch = this.open.get(number);
    this.open.delete(number);
    if (!batch) return;
    const { body, files } = batch;
    if (files.length === 1)
      return this.failAll(
        files,
        'two workers ended while they read it. Take it as it is stored, or leave it out',
      );
    for (const [i, file] of files.entries()) {
      const [{ seen }, task] = [this.out.standing(file.file), body.tasks[i]!];
      await this.give({ ...body, tasks: [{ ...task, seen }] }, [file]);
    }
  }

  private tell(file: PlannedFile, state: ItemState, reason: string): void {
    this.told.set(file, [state, reason]);
    this.counts[state]++;
    this.doneBytes += file.record.size;
  }

  private failAll(files: readonly PlannedFile[], reason: string): void {
    for (const file of files) this.tell(file, 'failed', reason);
  }

  private progress(item: string): void {
    this.job.progress(this.told.size, this.files.length, 'items', item, {
      done: this.doneBytes,
      total: this.totalBytes,
    });
  }

  result(): RunResult {
    return {
      folder: this.out.root,
      detail: summaryOf(this.counts),
      counts: this.counts,
      bytes: this.bytes,
      renamed: this.files.filter(({ file, wanted }) => file !== wanted).length,
    };
  }

  /** Waits for what is under way, so that nobody writes any more, and leaves folder and log as they are to be. */
  async end(): Promise<void> {
    try {
      while ((await withdrawBatches(this.job.id)) > 0) await pause();
    } catch (error) {
      // The database is away: who still writes cannot be told.
      this.out.abandon();
      throw error;
    }
    if (fs.existsSync(this.out.root)) {
      unmarkFolder(this.out.root);
      this.out.text(LOG_NAME, logText(this.items()));
    }
    this.out.close();
    await keepLog(this.job.id, this.items());
  }

  private *items(): Generator<RunItem> {
    for (const name of this.wanted.plan.missing)
      yield { state: 'missing', path: name, archive: '', file: '', reason: 'no open archive has it' };
    for (const planned of this.files) {
      const told = this.told.get(planned);
      if (!told) continue;
      const { path, archive } = planned.record;
      yield { state: told[0], path, archive, file: planned.file, reason: told[1] };
    }
  }
}

/** What a loose file is now; an error where a link leads it out of the folder by now. */
function looseState(gameFolder: string, relative: string): string | FormatError {
  try {
    return stateOfFile(gameFolder, relative);
  } catch (error) {
    if (error instanceof FormatError) return error;
    throw error;
  }
}

function byArchive(files: readonly PlannedFile[]): Map<number, PlannedFile[]> {
  const groups = new Map<number, PlannedFile[]>();
  for (const file of files)
    if (!groups.get(file.record.archiveId)?.push(file)) groups.set(file.record.archiveId, [file]);
  return groups;
}

/** What the file of an archive, or of the one around it, was when the folder was scanned. */
async function scannedState(row: ArchiveRow): Promise<string> {
  const top =
    row.parentId === null
      ? row
      : await ArchiveRow.findOne({ where: { gameId: row.gameId, path: row.path.split('//')[0]! } });
  return top ? `${top.size} ${top.modifiedMs}` : 'gone';
}
