import { createDecipheriv, createHash } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import zlib from 'node:zlib';
import { Stall } from '../common/stall';

const UNIT = 16;
const HEAD = 64;
const ROW = 48;
const BLOCK = 65536;

interface Slot {
  place: number;
  check: number;
  size: number;
  stored: number;
  flags: number;
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

function decrypt(key: Buffer, counter: Buffer, bytes: Buffer): Buffer {
  const cipher = createDecipheriv(key.length === 32 ? 'aes-256-ctr' : 'aes-128-ctr', key, counter);
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

/** A hold as the engine mounts it: all pages at once, payloads when they are asked for. */
export class Hold implements EngineHold {
  readonly name: string;
  readonly rank: number;
  private readonly slots = new Map<string, Slot>();
  private readonly salt: Buffer;
  private readonly length: number;

  constructor(
    private readonly file: string,
    private readonly key: Buffer,
  ) {
    this.name = path.basename(file);
    this.length = fs.statSync(file).size;
    const head = this.head();
    this.salt = head.subarray(32, 48);
    this.rank = head.readUInt32LE(52);
    const pages = this.readPages(head);
    this.expect('entry count', head.readUInt32LE(12), this.slots.size);
    this.expect('page count', head.readUInt32LE(16), pages);
    if (head.readUInt16LE(10) & 2) this.checkRoll(head);
  }

  get count(): number {
    return this.slots.size;
  }

  private head(): Buffer {
    if (this.length < 2 * HEAD) throw new Stall(this.name, 'length', `${this.length} bytes are too few`);
    const head = this.bytes(0, HEAD, 'head');
    if (head.toString('latin1', 0, 8) !== 'PEATHOLD') throw new Stall(this.name, 'tag', 'this is no hold');
    this.expect('version', head.readUInt16LE(8), 3);
    this.expect('head check', head.readUInt32LE(60), zlib.crc32(head.subarray(0, 60)));
    this.expect('file size', Number(head.readBigUInt64LE(24)), this.length);
    const mirror = this.bytes(this.length - HEAD, HEAD, 'mirror');
    if (!Buffer.from(head).reverse().equals(mirror))
      throw new Stall(this.name, 'mirror', 'the end does not mirror the head');
    return head;
  }

  private readPages(head: Buffer): number {
    const keyed = (head.readUInt16LE(10) & 1) === 1;
    let number = 0;
    for (let place = head.readUInt32LE(20); place !== 0; number++) {
      const at = place * UNIT;
      const lead = this.bytes(at, 16, `page ${number}`);
      if (lead.toString('latin1', 0, 4) !== 'DECK')
        throw new Stall(this.name, `page ${number} tag`, 'this is no page');
      this.expect(`page ${number} number`, lead.readUInt16LE(6), number);
      const rows = lead.readUInt16LE(4);
      let body = this.bytes(at + 16, rows * ROW, `page ${number} rows`);
      if (keyed) {
        const counter = Buffer.alloc(16);
        this.salt.copy(counter, 0, 0, 8);
        counter.writeUInt32BE(number, 8);
        body = decrypt(this.key, counter, body);
      }
      this.expect(`page ${number} check`, lead.readUInt32LE(12), zlib.crc32(body));
      for (let i = 0; i < rows; i++) this.addSlot(body.subarray(i * ROW, (i + 1) * ROW));
      place = lead.readUInt32LE(8);
    }
    return number;
  }

  private addSlot(row: Buffer): void {
    const slot: Slot = {
      place: row.readUInt32LE(8) * UNIT,
      check: row.readUInt32LE(12),
      size: Number(row.readBigUInt64LE(16)),
      stored: Number(row.readBigUInt64LE(24)),
      flags: row.readUInt32LE(32),
    };
    if (slot.place + slot.stored > this.length)
      throw new Stall(this.name, 'place', `an entry points outside the file, to ${slot.place}`);
    this.slots.set(row.readBigUInt64LE(0).toString(), slot);
  }

  private checkRoll(head: Buffer): void {
    const at = head.readUInt32LE(48) * UNIT;
    const lead = this.bytes(at, 16, 'roll');
    if (lead.toString('latin1', 0, 4) !== 'ROLL') throw new Stall(this.name, 'roll tag', 'this is no roll');
    let body = this.bytes(at + 16, lead.readUInt32LE(8), 'roll names');
    if (head.readUInt16LE(10) & 1) {
      const counter = Buffer.alloc(16);
      this.salt.copy(counter, 0, 8, 16);
      body = decrypt(this.key, counter, body);
    }
    const names = this.inflate(body, lead.readUInt32LE(4), 'roll');
    this.expect('roll check', lead.readUInt32LE(12), zlib.crc32(names));
  }

  has(wanted: string): boolean {
    return this.slots.has(pathNumber(wanted));
  }

  hasHash(hash: bigint): boolean {
    return this.slots.has(hash.toString());
  }

  /** The bytes of an entry, unkeyed, unpacked and checked. */
  take(wanted: string): Buffer {
    return this.takeNumber(pathNumber(wanted), wanted);
  }

  /** As `take`, of an entry that only its hash is known of. */
  takeHash(hash: bigint): Buffer {
    return this.takeNumber(hash.toString(), `#${hash.toString(16)}`);
  }

  private takeNumber(number: string, wanted: string): Buffer {
    const slot = this.slots.get(number);
    const what = `${this.name}, ${wanted}`;
    if (!slot) throw new Stall(what, 'name', 'no entry has this name');
    let bytes = this.bytes(slot.place, slot.stored, 'payload');
    if (slot.flags & 2) {
      const tail = Buffer.alloc(8);
      tail.writeBigUInt64LE(BigInt(number));
      const own = createHash('sha256')
        .update(Buffer.concat([this.key, tail]))
        .digest()
        .subarray(0, 16);
      bytes = decrypt(own, this.salt, bytes);
    }
    if (slot.flags & 1) bytes = this.unpack(bytes, slot.size, what);
    if (bytes.length !== slot.size)
      throw new Stall(what, 'size', `${bytes.length} bytes instead of ${slot.size}`);
    if (zlib.crc32(bytes) !== slot.check) throw new Stall(what, 'check', 'the bytes do not check');
    return bytes;
  }

  private unpack(bytes: Buffer, size: number, what: string): Buffer {
    const count = Math.ceil(size / BLOCK);
    if (count * 4 > bytes.length) throw new Stall(what, 'block table', 'it is longer than the payload');
    const out: Buffer[] = [];
    let at = count * 4;
    for (let i = 0; i < count; i++) {
      const word = bytes.readUInt32LE(4 * i);
      const length = word & 0x7fffffff;
      const block = bytes.subarray(at, at + length);
      const plain = Math.min(BLOCK, size - i * BLOCK);
      out.push(word >>> 31 ? block : this.inflate(block, plain, `${what}, block ${i}`));
      at += length;
    }
    if (at !== bytes.length) throw new Stall(what, 'block table', 'it does not add up to the payload');
    return Buffer.concat(out);
  }

  private inflate(bytes: Buffer, size: number, what: string): Buffer {
    try {
      return zlib.inflateRawSync(bytes, { maxOutputLength: size + 1 });
    } catch (error) {
      throw new Stall(what, 'packing', error instanceof Error ? error.message : 'broken');
    }
  }

  private bytes(at: number, length: number, what: string): Buffer {
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

  private expect(field: string, found: number, wanted: number): void {
    if (found !== wanted) throw new Stall(this.name, field, `${found} instead of ${wanted}`);
  }
}
