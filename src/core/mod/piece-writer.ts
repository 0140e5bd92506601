import { concatRefs, refOfBytes, type BytesRef } from '../bytes';
import type { Scalar, Value } from '../script';

/** Bytes up to this length are copied; longer ones are referred to. */
const COPIED_BYTES = 4096;

const NOTHING = new Uint8Array(0);
const NO_VIEW = new DataView(NOTHING.buffer);
/** Bytes of the first buffer, and of any that grows. */
const LEAST_BYTES = 128;

/**
 * Gathers the fields of records in one growing buffer. A table of many rows would otherwise be thousands
 * of little arrays, and cost three times as long.
 */
export class PieceWriter {
  private readonly parts: BytesRef[] = [];
  /** Made when something is written: there may be a writer for a field. */
  private buffer = NOTHING;
  private view = NO_VIEW;
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

  /** A text of plain ASCII in an encoding of single bytes; false where it is none, and nothing is written. */
  ascii(text: string): boolean {
    this.reserve(text.length);
    const { buffer, at } = this;
    for (let i = 0; i < text.length; i++) {
      const code = text.charCodeAt(i);
      if (code > 0x7f) return false;
      buffer[at + i] = code;
    }
    this.at += text.length;
    return true;
  }

  ref(ref: BytesRef): void {
    if (ref.length <= COPIED_BYTES) {
      this.reserve(ref.length);
      if (ref.span) return this.copy(ref.span, ref.length);
      for (const chunk of ref.chunks()) {
        this.buffer.set(chunk, this.at);
        this.at += chunk.length;
      }
      return;
    }
    this.cut();
    this.parts.push(ref);
  }

  private copy({ source, offset }: NonNullable<BytesRef['span']>, length: number): void {
    if (length > 0) this.buffer.set(source.read(offset, length), this.at);
    this.at += length;
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
    this.buffer = new Uint8Array(Math.max(LEAST_BYTES, this.buffer.length * 2, held.length + length));
    this.buffer.set(held);
    this.view = new DataView(this.buffer.buffer);
    this.at = held.length;
    this.from = 0;
  }
}
