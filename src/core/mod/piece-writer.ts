import { concatRefs, refOfBytes, type BytesRef } from '../bytes';
import type { Scalar, Value } from '../script';

/** Bytes up to this length are copied; longer ones are referred to. */
const COPIED_BYTES = 4096;

/**
 * Gathers the fields of records in one growing buffer. A table of many rows would otherwise be thousands
 * of little arrays, and cost three times as long.
 */
export class PieceWriter {
  private readonly parts: BytesRef[] = [];
  private buffer = new Uint8Array(512);
  private view = new DataView(this.buffer.buffer);
  private from = 0;
  private at = 0;

  number(scalar: Scalar, value: Value, little: boolean): void {
    this.reserve(scalar.size);
    scalar.write(this.view, this.at, value, little);
    this.at += scalar.size;
  }

  bytes(bytes: Uint8Array): void {
    this.reserve(bytes.length);
    this.buffer.set(bytes, this.at);
    this.at += bytes.length;
  }

  ref(ref: BytesRef): void {
    if (ref.length <= COPIED_BYTES) {
      this.reserve(ref.length);
      for (const chunk of ref.chunks()) {
        this.buffer.set(chunk, this.at);
        this.at += chunk.length;
      }
      return;
    }
    this.cut();
    this.parts.push(ref);
  }

  /** The pieces in order: runs of made bytes, and long stretches that are only referred to. */
  pieces(): readonly BytesRef[] {
    this.cut();
    return this.parts;
  }

  finish(): BytesRef {
    this.cut();
    return this.parts.length === 1 ? this.parts[0]! : concatRefs(this.parts);
  }

  private cut(): void {
    if (this.at > this.from) this.parts.push(refOfBytes(this.buffer.subarray(this.from, this.at)));
    this.from = this.at;
  }

  private reserve(length: number): void {
    if (this.at + length <= this.buffer.length) return;
    // What was cut off already stays in the old buffer.
    const held = this.buffer.subarray(this.from, this.at);
    this.buffer = new Uint8Array(Math.max(this.buffer.length * 2, held.length + length));
    this.buffer.set(held);
    this.view = new DataView(this.buffer.buffer);
    this.at = held.length;
    this.from = 0;
  }
}
