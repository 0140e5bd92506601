/** What a job's work is given to tell how far it is and to learn that it should stop. */
export interface JobContext {
  progress(done: number, total: number, unit: 'bytes' | 'items', item: string): void;
  /** Throws `Cancelled` when the user has asked the job to stop. */
  check(): void;
}

/** The user has asked the job to stop. */
export class Cancelled extends Error {
  constructor() {
    super('Stopped on request.');
    this.name = 'Cancelled';
  }
}
