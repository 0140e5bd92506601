import { createDecipheriv } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import zlib from 'node:zlib';
import { Stall } from '../common/stall';

export const UNIT = 16;

/** Where the bytes of an entry lie, and what they have to be. */
export interface Slot {
  readonly place: number;
  readonly check: number;
  readonly size: number;
  readonly stored: number;
  readonly flags: number;
}

/** The engine's way to turn a path into the number that holds know it by. */
export function pathNumber(text: string): string {
  let hash = 14695981039346656037n;
  for (const byte of new TextEncoder().encode(text.toLowerCase())) {
    hash ^= BigInt(byte);
    hash = BigInt.asUintN(64, hash * 1099511628211n);
  }
  return hash.toString();
}

export function decrypt(key: Buffer, counter: Buffer, bytes: Buffer): Buffer {
  const cipher = createDecipheriv(`aes-${8 * key.length}-ctr`, key, counter);
  return Buffer.concat([cipher.update(bytes), cipher.final()]);
}

/** What the engine asks of a mounted hold, whatever its version. */
export interface EngineHold {
  readonly name: string;
  readonly rank: number;
  readonly count: number;
  has(wanted: string): boolean;
  hasHash(hash: bigint): boolean;
  /** The bytes of an entry, unkeyed, unpacked and checked. */
  take(wanted: string): Buffer;
  /** As `take`, of an entry that only its hash is known of. */
  takeHash(hash: bigint): Buffer;
}

/** What holds of all versions of the engine have in common: entries by number, their bytes checked when they are taken. */
export abstract class MountedHold implements EngineHold {
  readonly name: string;
  abstract readonly rank: number;
  protected readonly length: number;
  private readonly slots = new Map<string, Slot>();

  constructor(private readonly file: string) {
    this.name = path.basename(file);
    this.length = fs.statSync(file).size;
  }

  /** The bytes of an entry without its key. */
  protected abstract unkeyed(number: string, bytes: Buffer, what: string): Buffer;
  /** The bytes of a packed entry unpacked. */
  protected abstract unpacked(bytes: Buffer, size: number, what: string): Buffer;

  get count(): number {
    return this.slots.size;
  }

  has(wanted: string): boolean {
    return this.slots.has(pathNumber(wanted));
  }

  hasHash(hash: bigint): boolean {
    return this.slots.has(hash.toString());
  }

  take(wanted: string): Buffer {
    return this.takeNumber(pathNumber(wanted), wanted);
  }

  takeHash(hash: bigint): Buffer {
    return this.takeNumber(hash.toString(), `#${hash.toString(16)}`);
  }

  protected addSlot(number: bigint, slot: Slot): void {
    if (slot.place + slot.stored > this.length)
      throw new Stall(this.name, 'place', `an entry points outside the file, to ${slot.place}`);
    this.slots.set(number.toString(), slot);
  }

  private takeNumber(number: string, wanted: string): Buffer {
    const slot = this.slots.get(number);
    const what = `${this.name}, ${wanted}`;
    if (!slot) throw new Stall(what, 'name', 'no entry has this name');
    let bytes = this.bytes(slot.place, slot.stored, 'payload');
    if (slot.flags & 2) bytes = this.unkeyed(number, bytes, what);
    if (slot.flags & 1) bytes = this.unpacked(bytes, slot.size, what);
    if (bytes.length !== slot.size)
      throw new Stall(what, 'size', `${bytes.length} bytes instead of ${slot.size}`);
    if (zlib.crc32(bytes) !== slot.check) throw new Stall(what, 'check', 'the bytes do not check');
    return bytes;
  }

  /** The end of a hold is its head from behind. */
  protected checkMirror(head: Buffer): void {
    const mirror = this.bytes(this.length - head.length, head.length, 'mirror');
    if (!Buffer.from(head).reverse().equals(mirror))
      throw new Stall(this.name, 'mirror', 'the end does not mirror the head');
  }

  protected bytes(at: number, length: number, what: string): Buffer {
    if (at + length > this.length)
      throw new Stall(this.name, what, `it would lie at ${at}, outside the file`);
    const out = Buffer.alloc(length);
    const fd = fs.openSync(this.file, 'r');
    try {
      fs.readSync(fd, out, 0, length, at);
    } finally {
      fs.closeSync(fd);
    }
    return out;
  }

  protected expect(field: string, found: number, wanted: number): void {
    if (found !== wanted) throw new Stall(this.name, field, `${found} instead of ${wanted}`);
  }
}
