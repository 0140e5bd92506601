import type { Worker } from 'node:worker_threads';
import { databaseUrl } from '@/db';
import { JOB_CHANNEL } from '@/server/running/jobs';
import { newIdentity } from '@/server/running/workers/identity';
import { enterWorker, leaveWorker } from '@/server/running/workers/registry';
import { BatchTaker } from './batch-taker';
import { BlindSpots } from './blind-spots';
import { JobRunner } from './job-runner';
import { startThread } from './thread';

/** All that a test has begun, ended after it however it ends. */
const all: TestWorker[] = [];

/** Workers of this process, with the threads that the real one has. */
export class TestWorker {
  readonly me = newIdentity(2);
  private readonly blind = new BlindSpots(this.me);
  private readonly beat = new SharedArrayBuffer(4);
  private reporter: Worker | undefined;
  private taker: BatchTaker | undefined;
  runner!: JobRunner;

  constructor() {
    all.push(this);
  }

  /** `withThreads` where it takes batches of extractions. */
  async begin(withThreads: boolean): Promise<this> {
    await enterWorker(this.me);
    this.reporter = startThread('reporter', {
      ...{ url: databaseUrl(), channel: JOB_CHANNEL, workerId: this.me.id, pulse: this.beat },
    });
    if (withThreads) this.taker = new BatchTaker(this.me, this.blind);
    const pulse = (): void => void Atomics.add(new Int32Array(this.beat), 0, 1);
    this.runner = new JobRunner(this.me, this.reporter, () => this.taker?.look(), this.blind, pulse);
    return this;
  }

  /** Ends the threads; what they had is given back. */
  async endThreads(): Promise<void> {
    await this.taker?.close();
    this.taker = undefined;
  }

  async end(): Promise<void> {
    await this.endThreads();
    await this.reporter?.terminate();
    await leaveWorker(this.me.id);
  }
}

/** Ends all that were begun. */
export async function endWorkers(): Promise<void> {
  for (const one of all.splice(0)) await one.end();
}
