import { collect, FormatError, sliceOf, type BytesRef } from '../bytes';

const WINDOW = 1 << 16;

/** Small reads at places that go forward, out of a window that moves along. */
export class StreamReader {
  private from = 0;
  private window: Uint8Array = new Uint8Array(0);

  constructor(private readonly ref: BytesRef) {}

  get length(): number {
    return this.ref.length;
  }

  /** `length` bytes at `at`. Throws FormatError where the stream ends before; `what` is what they were to be. */
  read(at: number, length: number, what: string): Uint8Array {
    if (at + length > this.ref.length)
      throw new FormatError('truncated', {
        byteOffset: this.ref.length,
        fieldPath: what,
        expected: `${length} bytes at ${at}`,
        actual: `${Math.max(0, this.ref.length - at)}`,
      });
    if (at < this.from || at + length > this.from + this.window.length) {
      const wanted = Math.min(Math.max(length, WINDOW), this.ref.length - at);
      this.window = collect(sliceOf(this.ref, at, wanted));
      this.from = at;
    }
    return this.window.subarray(at - this.from, at - this.from + length);
  }

  view(at: number, length: number, what: string): DataView {
    const bytes = this.read(at, length, what);
    return new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  }
}
