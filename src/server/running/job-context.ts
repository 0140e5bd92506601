/** What a job's work is given to tell how far it is and to learn that it should stop. */
export interface JobContext {
  readonly id: string;
  /** `bytes` where a job that counts items knows how much it is in all. */
  progress(
    done: number,
    total: number,
    unit: 'bytes' | 'items',
    item: string,
    bytes?: { readonly done: number; readonly total: number },
  ): void;
  /** Throws `Cancelled` when the user has asked the job to stop. */
  check(): void;
  /** Whether it is to rest for now; whatever works for it, and can, stands still as long. */
  isHeld(): boolean;
  /** A picture of what is ready, as an address of its own. */
  show(picture: string): void;
  /** Batches of it were put on the board: the workers of this process look at once instead of in a moment. */
  nudge(): void;
}

/** The user has asked the job to stop. */
export class Cancelled extends Error {
  constructor() {
    super('Stopped on request.');
    this.name = 'Cancelled';
  }
}
