/** Where a real game would hang or quit: what it was doing, with what, and why it went no further. */
export class Stall extends Error {
  constructor(
    readonly what: string,
    readonly field: string,
    readonly why: string,
  ) {
    super(`${what}: ${field}: ${why}`);
  }
}
