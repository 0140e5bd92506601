import { FormatError } from '../bytes';

/**
 * How much work and memory one archive may cost. Scripts and archives come from strangers, so both are
 * held to it; the defaults leave room for a table of some millions of rows.
 */
export class Budget {
  private nodes: number;
  private bytes: number;
  private steps: number;

  constructor(limits: { nodes?: number; bytes?: number; steps?: number } = {}) {
    this.nodes = limits.nodes ?? 8_000_000;
    this.bytes = limits.bytes ?? 512 * 1024 * 1024;
    this.steps = limits.steps ?? 200_000_000;
  }

  /** What is left for bytes that have to be held. */
  get bytesLeft(): number {
    return this.bytes;
  }

  spendNodes(count: number): void {
    this.nodes -= count;
    if (this.nodes < 0) throw spent('records');
  }

  spendBytes(count: number): void {
    this.bytes -= count;
    if (this.bytes < 0) throw spent('memory for tables');
  }

  spendSteps(count: number): void {
    this.steps -= count;
    if (this.steps < 0) throw spent('steps of expressions');
  }
}

function spent(what: string): FormatError {
  return new FormatError('budget', {
    why: `the archive or its script needs too many ${what}`,
    remedy: 'Check the counts and sizes near the field named here',
  });
}
