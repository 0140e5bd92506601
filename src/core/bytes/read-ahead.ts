/**
 * How many bytes to read from where something is asked for: many for who goes on where the last piece ended, few for who jumps about, as from
 * the head of one large payload to the next.
 */
export class ReadAhead {
  private end = 0;
  private size: number;

  constructor(
    private readonly least: number,
    private readonly most: number,
  ) {
    this.size = most;
  }

  /** Bytes to read from `from`, not less than what is wanted there, as far as there are any. */
  from(from: number, wanted: number, length: number): number {
    const goesOn = Math.abs(from - this.end) <= this.size;
    this.size = goesOn ? Math.min(this.most, this.size * 2) : Math.max(this.least, this.size >> 2);
    const size = Math.min(Math.max(this.size, wanted), length - from);
    this.end = from + size;
    return size;
  }
}
