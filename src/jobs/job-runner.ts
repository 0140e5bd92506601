import type { Worker } from 'node:worker_threads';
import { DatabaseError } from 'sequelize';
import { FormatError } from '@/core/bytes';
import { JobRow } from '@/db';
import { isDatabaseAway } from '@/db/away';
import { Cancelled, type JobContext } from '@/server/running/job-context';
import { announce, HELD, JOB_INPUTS, RESUMED, sendJob, type JobKind } from '@/server/running/jobs';
import { log } from '@/server/log';
import { UserError } from '@/platform/user-error';
import type { WorkerIdentity } from '@/server/running/workers/identity';
import { livesStill, othersSee } from '@/server/running/workers/registry';
import type { BlindSpots } from './blind-spots';
import { HANDLERS } from './handlers';
import { Rest } from './rest';
import { unseenRoot } from './roots';
import type { ReporterMessage } from './reporter';

/** Messages to the reporter cost a little; more often than this nobody can see. */
const REPORT_MS = 100;
/** After so long a job is looked at again that this worker could not take. */
const AGAIN_SECONDS = 5;
const SETTLE_MS = 1000;

/** Leads jobs in this process. */
export class JobRunner {
  constructor(
    private readonly me: WorkerIdentity,
    private readonly reporter: Worker,
    private readonly nudge: () => void,
    private readonly blind: BlindSpots,
    /** Says that the work goes on, while nothing else of this thread can. */
    private readonly pulse: () => void,
  ) {}

  /** Jobs that this process is at. */
  readonly leading = new Set<string>();

  private report(message: ReporterMessage): void {
    this.reporter.postMessage(message);
  }

  private contextFor(id: string, { flag, rested }: Led): JobContext {
    const since = Date.now();
    let last = 0;
    let shown: string | undefined;
    const { pulse } = this;
    return {
      id,
      progress: (done, total, unit, item, bytes) => {
        pulse();
        const now = Date.now();
        if (now - last < REPORT_MS) return;
        last = now;
        this.report({
          sort: 'progress',
          id,
          progress: { done, total, unit, item, since: since + rested(), bytes, shown },
        });
      },
      check() {
        pulse();
        if (Atomics.load(flag, 0) === 1) throw new Cancelled();
      },
      isHeld: () => Atomics.load(flag, 0) === 2,
      show: (picture) => (shown = picture),
      nudge: this.nudge,
    };
  }

  /** Does a job that waits; one that another worker has taken is left alone. */
  async work(id: string): Promise<void> {
    const waiting = await JobRow.findByPk(id);
    if (waiting?.state !== 'waiting') return;
    if (HELD.includes(waiting.kind as JobKind) && (await this.isHeld(waiting))) return;
    const unseen = await unseenRoot(waiting);
    if (unseen !== undefined && (await othersSee(this.me, unseen))) {
      // One of the others does; without any other this one tries, and says what is wrong.
      await this.blind.add(unseen, `${unseen} is not there`);
      await sendJob(id, waiting.kind, AGAIN_SECONDS);
      return;
    }
    const [taken] = await JobRow.update(
      { state: 'running', workerId: this.me.id },
      { where: { id, state: 'waiting' } },
    );
    if (taken === 0) return;
    this.leading.add(id);
    const kind = waiting.kind as JobKind;
    const cancel = new SharedArrayBuffer(4);
    const flag = new Int32Array(cancel);
    const rest = new Rest(id, this.me.id, flag);
    const led: Led = { id, kind, flag, rested: () => rest.lasted, began: performance.now() };
    this.report({ sort: 'begin', id, cancel });
    await this.tell(id);
    const ended = this.done(led, waiting.input);
    const finished = this.whenDone(led, ended);
    if (!HELD.includes(kind)) return finished;
    // One that rests leaves its place to others.
    const resting = rest.keep(ended, {
      rests: async () => {
        this.report({ sort: 'end', id });
        await this.tell(id);
      },
      goesOn: async () => {
        this.report({ sort: 'begin', id, cancel });
        await this.tell(id);
      },
    });
    await Promise.race([finished, resting]);
  }

  /** Whether somebody has it stand still, who lets it go on. */
  private async isHeld({ id, workerId }: JobRow): Promise<boolean> {
    return this.leading.has(id) || (workerId !== null && (await livesStill(workerId, this.me)));
  }

  private async done({ id, kind, flag, rested, began }: Led, given: unknown): Promise<JobEnd> {
    let end: JobEnd;
    try {
      const input = JOB_INPUTS[kind].parse(given);
      const handle = HANDLERS[kind] as (input: unknown, job: JobContext) => Promise<unknown>;
      end = {
        state: 'done',
        result: await handle(input, this.contextFor(id, { id, kind, flag, rested, began })),
      };
    } catch (error) {
      end = isDatabaseAway(error) && RESUMED.includes(kind) ? { state: 'waiting' } : endOf(error);
      if (end.state === 'failed' && !(error instanceof FormatError || error instanceof UserError))
        log.error({ kind, err: error }, 'job');
    }
    log.info({ kind, id, state: end.state, ms: Math.round(performance.now() - began) }, 'job ended');
    return end;
  }

  private async whenDone({ id, kind }: Led, ended: Promise<JobEnd>): Promise<void> {
    await this.settleSurely(id, kind, await ended);
    this.report({ sort: 'end', id });
    this.leading.delete(id);
    await this.tell(id);
  }

  /** A database that went away in just that moment must not keep a job from being done, or from ending. */
  private async tell(id: string): Promise<void> {
    await announce(id).catch((error: unknown) => log.warn({ error: String(error) }, 'a job is not told of'));
  }

  /** A database that is away, or a result that it does not take, must not leave a job running for ever. */
  private async settleSurely(id: string, kind: JobKind, end: JobEnd): Promise<void> {
    for (let told = end; ;)
      try {
        await this.settle(id, told);
        // Where the database was away in the middle, a run that knows what it has done goes on by itself.
        if (told.state === 'waiting') await sendJob(id, kind, AGAIN_SECONDS);
        return;
      } catch (error) {
        log.warn({ error: String(error) }, 'the end of a job is not noted yet');
        if (sqlState(error).startsWith('22') && told === end)
          told = { state: 'failed', error: `What came of it cannot be kept: ${String(error)}` };
        await new Promise((resolve) => setTimeout(resolve, SETTLE_MS));
      }
  }

  /** Says how a job ended, unless another worker leads it by now. */
  private async settle(id: string, end: JobEnd): Promise<void> {
    const row = await JobRow.findByPk(id, { attributes: ['pauseAsked'] });
    const isPaused = end.state === 'cancelled' && row?.pauseAsked === true;
    await JobRow.update(
      {
        state: isPaused ? 'paused' : end.state,
        error: isPaused ? 'Paused. It goes on where it was.' : (end.error ?? null),
        result: (end.result ?? null) as never,
        endedAt: isPaused || end.state === 'waiting' ? null : new Date(),
      },
      { where: { id, state: ['running', 'paused'], workerId: this.me.id } },
    );
  }
}

/** A job that this process is at. */
interface Led {
  readonly id: string;
  readonly kind: JobKind;
  /** 1 once it is to stop, 2 while it is to rest. */
  readonly flag: Int32Array;
  /** For how many milliseconds it has rested. */
  readonly rested: () => number;
  readonly began: number;
}

interface JobEnd {
  readonly state: string;
  readonly error?: string;
  readonly result?: unknown;
}

const sqlState = (error: unknown): string =>
  error instanceof DatabaseError ? ((error.original as { code?: string }).code ?? '') : '';

function endOf(error: unknown): { state: string; error: string } {
  if (error instanceof Cancelled)
    return { state: 'cancelled', error: 'Stopped on request; nothing half-made was kept.' };
  const { code } = error as NodeJS.ErrnoException;
  if (code === 'ENOSPC')
    return {
      state: 'failed',
      error: 'The disk is full. What was half-written was removed. Make room and start it again.',
    };
  if (code === 'EACCES' || code === 'EPERM' || code === 'EROFS')
    return {
      state: 'failed',
      error: `${(error as Error).message}. Check who owns the folder and whether it may be written.`,
    };
  return { state: 'failed', error: error instanceof Error ? error.message : String(error) };
}
