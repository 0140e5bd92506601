import type { Worker } from 'node:worker_threads';
import { log } from '@/server/log';
import { linksOf } from '@/server/opening/opened';
import { unseenOf, type BatchBody } from '@/server/recipes/batch';
import { UserError } from '@/platform/user-error';
import { answerBatch, giveBack, giveBackAllBut, stoppedOf, takeBatches, type TakenBatch } from '@/db/board';
import type { WorkerIdentity } from '@/server/running/workers/identity';
import type { BlindSpots } from './blind-spots';
import type { FromRunThread, ToRunThread } from './run-thread';
import { startThread } from './thread';

/** How often the board is looked at while there is nothing to do, and whether jobs are to stop. */
const IDLE_MS = 400;
const LOOK_EACH = 5;
/** A batch waits beside the one that is worked on, so that no thread waits for the database. */
const AHEAD = 2;
/** Threads that had nothing to do for so long end; they hold what they have opened. */
const REST_MS = 60_000;
const AGAIN_MS = 1000;
/** What passes through is mostly outside of the heap; a small nursery saves memory in each thread. */
const THREAD_LIMITS = { maxYoungGenerationSizeMb: 12 };

interface Thread {
  readonly worker: Worker;
  readonly held: Set<string>;
  restsSince: number;
}

/** Takes batches off the board, as many as its threads can do, whoever put them there. */
export class BatchTaker {
  private readonly threads: Thread[] = [];
  private readonly held = new Map<string, TakenBatch>();
  private readonly cancels = new Map<string, SharedArrayBuffer>();
  /** Batches whose end is not noted yet. */
  private readonly telling = new Set<string>();
  /** Whether the board may say of batches that they are here which are not. */
  private isAstray = false;
  private readonly timer: NodeJS.Timeout;
  private looking: Promise<void> | undefined;
  private isLookedAgain = false;
  private isOver = false;
  private quietRounds = 0;

  constructor(
    private readonly me: WorkerIdentity,
    private readonly blind: BlindSpots,
  ) {
    this.timer = setInterval(() => {
      // While there is nothing here to do, the board is looked at now and then only; whoever puts something there says so.
      if (this.held.size === 0 && ++this.quietRounds % LOOK_EACH !== 0) return;
      this.look();
      void this.watch();
    }, IDLE_MS);
  }

  /** Looks at the board now. */
  look(): void {
    if (this.isOver) return;
    if (this.looking) {
      this.isLookedAgain = true;
      return;
    }
    this.looking = this.take()
      .catch((error: unknown) => {
        this.isAstray = true;
        log.warn({ error: String(error) }, 'board');
      })
      .finally(() => {
        this.looking = undefined;
        if (!this.isLookedAgain) return;
        this.isLookedAgain = false;
        this.look();
      });
  }

  private async take(): Promise<void> {
    if (this.isAstray) {
      await giveBackAllBut([...this.held.keys(), ...this.telling], this.me.id);
      this.isAstray = false;
    }
    for (;;) {
      const room = this.me.threads * AHEAD - this.held.size;
      if (room <= 0 || this.isOver) return;
      // One at a time while there is room, so that several jobs and workers share what there is.
      const [batch] = await takeBatches(this.me.id, 1, this.blind.jobs);
      if (!batch) return;
      try {
        const body = JSON.parse(batch.body) as BatchBody;
        const unseen = unseenOf(body, batch.jobId);
        if (unseen !== undefined) await this.refuse(batch, unseen);
        else this.begin(batch, await this.linksFor(body));
      } catch (error) {
        await giveBack([batch.id], this.me.id, true);
        throw error;
      }
    }
  }

  private async refuse({ id, jobId }: TakenBatch, unseen: string): Promise<void> {
    await giveBack([id], this.me.id, false);
    await this.blind.add(jobId, unseen);
  }

  /** Told anew for each batch: a key or a script may have been changed while the run goes on. */
  private async linksFor({ gameId, archiveId, isLoose }: BatchBody): Promise<ToRunThread['links']> {
    if (isLoose) return [];
    try {
      return await linksOf(gameId, archiveId);
    } catch (error) {
      if (error instanceof UserError) return { problem: error.message };
      throw error;
    }
  }

  private begin(batch: TakenBatch, links: ToRunThread['links']): void {
    this.held.set(batch.id, batch);
    const thread = this.freest();
    thread.held.add(batch.id);
    let cancel = this.cancels.get(batch.jobId);
    if (!cancel) this.cancels.set(batch.jobId, (cancel = new SharedArrayBuffer(4)));
    thread.worker.postMessage({ id: batch.id, body: batch.body, links, cancel } satisfies ToRunThread);
  }

  private freest(): Thread {
    const idle = this.threads.find(({ held }) => held.size === 0);
    if (idle) return idle;
    if (this.threads.length < this.me.threads) return this.start();
    return this.threads.reduce((a, b) => (b.held.size < a.held.size ? b : a));
  }

  private start(): Thread {
    const worker = startThread('run-thread', {}, THREAD_LIMITS);
    const thread: Thread = { worker, held: new Set(), restsSince: Date.now() };
    worker.on('message', (message: FromRunThread) => void this.ended(thread, message));
    worker.on('error', (error) => log.error({ err: error }, 'a thread of an extraction'));
    worker.on('exit', () => void this.lost(thread));
    this.threads.push(thread);
    return thread;
  }

  private async ended(thread: Thread, message: FromRunThread): Promise<void> {
    thread.held.delete(message.id);
    thread.restsSince = Date.now();
    const batch = this.held.get(message.id);
    this.held.delete(message.id);
    this.forgetJob(batch?.jobId);
    const told = this.tell([message.id], () =>
      'answer' in message
        ? answerBatch(message.id, this.me.id, JSON.stringify(message.answer))
        : giveBack([message.id], this.me.id, false),
    );
    this.look();
    await told;
  }

  /** A database that is away for a moment must not lose what was done. */
  private async tell(ids: readonly string[], note: () => Promise<void>): Promise<void> {
    for (const id of ids) this.telling.add(id);
    while (!this.isOver)
      try {
        await note();
        break;
      } catch (error) {
        log.warn({ error: String(error) }, 'the end of a batch is not noted yet');
        await new Promise((resolve) => setTimeout(resolve, AGAIN_MS));
      }
    for (const id of ids) this.telling.delete(id);
  }

  /** A thread that ended by itself gives back what it had; it may have been the fault of one of them. */
  private async lost(thread: Thread): Promise<void> {
    this.forgetThread(thread);
    if (this.isOver || thread.held.size === 0) return;
    const [first, ...rest] = thread.held;
    for (const id of thread.held) this.held.delete(id);
    await this.tell([...thread.held], async () => {
      await giveBack([first!], this.me.id, true);
      await giveBack(rest, this.me.id, false);
    });
    this.look();
  }

  private forgetThread(thread: Thread): void {
    const at = this.threads.indexOf(thread);
    if (at >= 0) this.threads.splice(at, 1);
  }

  /** The flag of a job is kept only while something of it is under way: begun again it must not be stopped already. */
  private forgetJob(jobId: string | undefined): void {
    if (jobId !== undefined && ![...this.held.values()].some((batch) => batch.jobId === jobId))
      this.cancels.delete(jobId);
  }

  private async watch(): Promise<void> {
    const now = Date.now();
    for (const thread of [...this.threads])
      if (thread.held.size === 0 && now - thread.restsSince > REST_MS) {
        // At once, so that nothing is given to it while it ends.
        this.forgetThread(thread);
        void thread.worker.terminate();
      }
    await this.blind.forget().catch(() => undefined);
    if (this.cancels.size === 0) return;
    const flags = new Map(this.cancels);
    try {
      for (const id of await stoppedOf([...flags.keys()]))
        Atomics.store(new Int32Array(flags.get(id)!), 0, 1);
    } catch {
      // A database that is away for a moment only delays the stop.
    }
  }

  /** Ends the threads; what they had is given back. */
  async close(): Promise<void> {
    this.isOver = true;
    clearInterval(this.timer);
    await this.looking;
    const ids = [...this.held.keys(), ...this.telling];
    await Promise.all(this.threads.map(({ worker }) => worker.terminate()));
    if (ids.length > 0) await giveBack(ids, this.me.id, false).catch(() => undefined);
  }
}
