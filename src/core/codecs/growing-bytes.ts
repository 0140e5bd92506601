import { requirePatience } from './patience';

/** Bytes of a decoder whose output length is not known before, never beyond a limit. */
export class GrowingBytes {
  bytes: Uint8Array;
  length = 0;

  constructor(
    private readonly limit: number,
    first = 1 << 16,
  ) {
    this.bytes = new Uint8Array(Math.min(limit, first));
  }

  /** Makes room for so many more; throws RangeError beyond the limit. */
  reserve(more: number): void {
    const wanted = this.length + more;
    if (wanted <= this.bytes.length) return;
    if (wanted > this.limit) throw new RangeError(`more than ${this.limit} bytes come out`);
    requirePatience();
    const larger = new Uint8Array(Math.min(this.limit, Math.max(wanted, this.bytes.length * 2)));
    larger.set(this.bytes.subarray(0, this.length));
    this.bytes = larger;
  }

  push(byte: number): void {
    if (this.length === this.bytes.length) this.reserve(1);
    this.bytes[this.length++] = byte;
  }

  append(part: Uint8Array): void {
    this.reserve(part.length);
    this.bytes.set(part, this.length);
    this.length += part.length;
  }

  /** Repeats what came out `distance` bytes ago; the two may overlap. */
  repeat(distance: number, count: number): void {
    if (distance < 1 || distance > this.length)
      throw new RangeError(`a match reaches ${distance} bytes back where ${this.length} are`);
    this.reserve(count);
    const { bytes } = this;
    const at = this.length;
    if (distance >= count) bytes.copyWithin(at, at - distance, at - distance + count);
    else for (let i = 0; i < count; i++) bytes[at + i] = bytes[at + i - distance]!;
    this.length += count;
  }

  finish(): Uint8Array {
    return this.length === this.bytes.length ? this.bytes : this.bytes.slice(0, this.length);
  }
}
