import { JobRow } from '@/db';
import { log } from '@/server/log';

const LOOK_MS = 200;
const ASLEEP = 'Paused. It goes on where it was, or anew where the application was ended meanwhile.';

interface RestHooks {
  /** It stands still; nobody has to be told how far it is. */
  rests(): Promise<void>;
  goesOn(): Promise<void>;
}

/** Has a job of this worker stand still while its row says that it is paused. */
export class Rest {
  /** For how many milliseconds it has stood still. */
  lasted = 0;

  constructor(
    private readonly id: string,
    private readonly workerId: string,
    /** 1 once the job is to stop, 2 while it is to rest. */
    private readonly flag: Int32Array,
  ) {}

  /** Looks after the job until it has ended; what comes back is done once it rests for the first time. */
  keep(ended: Promise<unknown>, hooks: RestHooks): Promise<void> {
    let isOver = false;
    void ended.finally(() => (isOver = true));
    return new Promise((resolve) => {
      void (async () => {
        while (!isOver) {
          await new Promise((later) => setTimeout(later, LOOK_MS));
          if (Atomics.load(this.flag, 0) !== 2) continue;
          try {
            if (!(await this.lieDown())) continue;
            await hooks.rests();
            resolve();
            await this.standStill();
            await hooks.goesOn();
          } catch (error) {
            // A database that is away for a moment is asked again.
            log.warn({ error: String(error) }, 'a job that rests');
          }
        }
        resolve();
      })();
    });
  }

  /** Whether it lies; also where it did already, and a database that went away did not say so. */
  private async lieDown(): Promise<boolean> {
    const [count] = await JobRow.update(
      { state: 'paused', error: ASLEEP },
      { where: { id: this.id, state: ['running', 'paused'], workerId: this.workerId } },
    );
    return count > 0;
  }

  /** Until somebody lets it go on, or stops it. */
  private async standStill(): Promise<void> {
    const since = Date.now();
    const before = this.lasted;
    for (;;) {
      await new Promise((later) => setTimeout(later, LOOK_MS));
      this.lasted = before + Date.now() - since;
      const next = await this.wanted().catch((error: unknown) => {
        // A database that is away for a moment is asked again.
        log.warn({ error: String(error) }, 'a job that rests');
        return 'rest' as const;
      });
      if (next === 'rest') continue;
      Atomics.store(this.flag, 0, next === 'go on' ? 0 : 1);
      return;
    }
  }

  private async wanted(): Promise<'rest' | 'go on' | 'stop'> {
    const row = await JobRow.findByPk(this.id, { attributes: ['state', 'workerId'] });
    if (row?.workerId !== this.workerId) return 'stop';
    if (row.state === 'paused') return 'rest';
    if (row.state !== 'waiting') return 'stop';
    const [taken] = await JobRow.update(
      { state: 'running' },
      { where: { id: this.id, state: 'waiting', workerId: this.workerId } },
    );
    return taken > 0 ? 'go on' : 'stop';
  }
}
