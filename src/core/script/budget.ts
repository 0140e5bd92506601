import { FormatError } from '../bytes';

/** About what a record that is kept as an object takes, and each of its fields. Rows of flat tables are in columns and take a tenth. */
const RECORD_BYTES = 300;
const FIELD_BYTES = 100;
const MOST_RECORD_BYTES = 2048 * 1024 * 1024;

/** How often each byte of a file may be gone through for hashes, and how many bytes in any case; payloads are gone through once. */
const HASHED_EACH = 64;
const LEAST_HASHED = 2 ** 31;

/**
 * How much work and memory one archive may cost. Scripts and archives come from strangers, so both are
 * held to it; the defaults leave room for a table of some millions of rows.
 */
export class Budget {
  private nodes: number;
  private bytes: number;
  private steps: number;
  private hashed: number;
  private readonly mostRecords: number;
  private records: number;

  constructor(
    limits: { nodes?: number; bytes?: number; steps?: number; hashed?: number; records?: number } = {},
  ) {
    this.nodes = limits.nodes ?? 8_000_000;
    this.bytes = limits.bytes ?? 512 * 1024 * 1024;
    this.steps = limits.steps ?? 200_000_000;
    this.mostRecords = this.records = limits.records ?? MOST_RECORD_BYTES;
    this.hashed = limits.hashed ?? LEAST_HASHED;
  }

  /** What is left for bytes that have to be held. */
  get bytesLeft(): number {
    return this.bytes;
  }

  spendNodes(count: number): void {
    this.nodes -= count;
    if (this.nodes < 0) throw spent('records');
  }

  /** A record that is kept as an object. */
  spendRecord(fields: number): void {
    this.spendNodes(1);
    this.records -= RECORD_BYTES + FIELD_BYTES * fields;
    if (this.records < 0)
      throw spent(`records that vary in shape: they would take more than ${this.mostRecords >> 20} MB`);
  }

  spendBytes(count: number): void {
    this.bytes -= count;
    if (this.bytes < 0) throw spent('memory for tables');
  }

  /** A file more, each of whose bytes may be gone through for hashes so many times. */
  allowHashing(length: number): void {
    this.hashed += HASHED_EACH * length;
  }

  /** Bytes that are gone through for a hash: a table of many rows can ask for one over all of the file in each. */
  spendHashed(count: number): void {
    this.hashed -= count;
    if (this.hashed < 0) throw spent('bytes to be hashed');
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
