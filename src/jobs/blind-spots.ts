import { log } from '@/server/log';
import type { WorkerIdentity } from '@/server/running/workers/identity';
import { noteBlind } from '@/server/running/workers/registry';

/** After so long a folder that was not seen is looked for again. */
const FORGET_MS = 15_000;

interface Spot {
  readonly note: string;
  readonly until: number;
}

/** Folders that this worker does not see, by what asked for them; told to the others and forgotten after a while. */
export class BlindSpots {
  private readonly spots = new Map<string, Spot>();

  constructor(private readonly me: WorkerIdentity) {}

  async add(key: string, unseen: string): Promise<void> {
    const note = `${unseen} on this machine; mount it at the same place as the others have it`;
    log.warn({ key, note }, 'blind');
    this.spots.set(key, { note, until: Date.now() + FORGET_MS });
    await this.tell();
  }

  /** Jobs of which batches are not to be taken now. */
  get jobs(): string[] {
    return [...this.spots.keys()].filter((key) => !key.includes('/'));
  }

  /** Forgets what was said long ago. */
  async forget(): Promise<void> {
    const over = [...this.spots].filter(([, { until }]) => until < Date.now());
    for (const [key] of over) this.spots.delete(key);
    if (over.length > 0) await this.tell();
  }

  private tell(): Promise<void> {
    return noteBlind(this.me.id, [...new Set([...this.spots.values()].map(({ note }) => note))]);
  }
}
