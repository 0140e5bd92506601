const HASH_BITS = 16;

/** Finds earlier places where the next bytes occurred, by chains of places with the same hash of three bytes. */
export class MatchFinder {
  private readonly heads = new Int32Array(1 << HASH_BITS).fill(-1);
  private readonly before: Int32Array;
  private entered = 0;
  private known = { at: -1, distance: 0, length: 0 };

  constructor(
    private readonly plain: Uint8Array,
    private readonly limits: { readonly longest: number; readonly steps: number; readonly reach: number },
  ) {
    this.before = new Int32Array(plain.length);
  }

  /** The longest match at a place; places must be asked in rising order. A length below 3 stands for none. */
  at(place: number): { distance: number; length: number } {
    if (this.known.at === place) return this.known;
    while (this.entered < place) this.enter(this.entered++);
    const { plain, limits } = this;
    const most = Math.min(limits.longest, plain.length - place);
    let length = 2;
    let distance = 0;
    if (most >= 3) {
      let from = this.heads[this.hash(place)]!;
      const least = Math.max(0, place - limits.reach);
      for (let steps = limits.steps; from >= least && steps > 0; steps--, from = this.before[from]!) {
        // Places that were looked at ahead of their time.
        if (from >= place || plain[from + length] !== plain[place + length]) continue;
        let same = 0;
        while (same < most && plain[from + same] === plain[place + same]) same++;
        if (same > length) {
          length = same;
          distance = place - from;
          if (same === most) break;
        }
      }
    }
    this.known = { at: place, distance, length: distance > 0 ? length : 0 };
    return this.known;
  }

  private enter(at: number): void {
    if (at + 2 >= this.plain.length) return;
    const hash = this.hash(at);
    this.before[at] = this.heads[hash]!;
    this.heads[hash] = at;
  }

  private hash(at: number): number {
    const { plain } = this;
    const three = plain[at]! | (plain[at + 1]! << 8) | (plain[at + 2]! << 16);
    return Math.imul(three, 0x9e3779b1) >>> (32 - HASH_BITS);
  }
}
