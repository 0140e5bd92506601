import type { BytesRef } from '../bytes';

/** Takes pieces of chosen length out of chunks of any length. */
export class ChunkPuller {
  private readonly chunks: Iterator<Uint8Array>;
  private held: Uint8Array = new Uint8Array(0);
  /** Bytes not taken yet. */
  left: number;

  constructor(ref: BytesRef) {
    this.chunks = ref.chunks()[Symbol.iterator]();
    this.left = ref.length;
  }

  /** The next `length` bytes, which must be there; a view that is good until the next call. */
  take(length: number): Uint8Array {
    this.left -= length;
    if (this.held.length === 0 && length > 0) this.refill();
    if (length <= this.held.length) {
      const piece = this.held.subarray(0, length);
      this.held = this.held.subarray(length);
      return piece;
    }
    const piece = new Uint8Array(length);
    for (let filled = 0; filled < length;) {
      if (this.held.length === 0) this.refill();
      const part = this.held.subarray(0, length - filled);
      piece.set(part, filled);
      filled += part.length;
      this.held = this.held.subarray(part.length);
    }
    return piece;
  }

  private refill(): void {
    const next = this.chunks.next();
    if (next.done) throw new RangeError('the chunks ended before their stated length');
    this.held = next.value;
  }
}
