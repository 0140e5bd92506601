import { spawnSync } from 'node:child_process';
import { createDecipheriv, createHash } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import zlib from 'node:zlib';
import { Stall } from '../common/stall';
import { pathNumber, type EngineHold } from './hold';

const UNIT = 16;
const HEAD = 96;
const PAGE = 32;
const ROW = 40;
const BLOCK = 131072;

interface Slot {
  place: number;
  check: number;
  size: number;
  stored: number;
  flags: number;
}

const sha = (...parts: Buffer[]): Buffer => createHash('sha256').update(Buffer.concat(parts)).digest();

function decrypt(key: Buffer, counter: Buffer, bytes: Buffer): Buffer {
  const cipher = createDecipheriv(`aes-${8 * key.length}-ctr`, key, counter);
  return Buffer.concat([cipher.update(bytes), cipher.final()]);
}

/** A hold as Peatfire 4 mounts it: the key by its ring, all pages at once, payloads when they are asked for. */
export class Hold4 implements EngineHold {
  readonly name: string;
  readonly rank: number;
  private readonly slots = new Map<string, Slot>();
  private readonly salt: Buffer;
  private readonly length: number;
  private readonly key: Buffer | undefined;

  /** `keys` are those of the game and of its expansions. */
  constructor(
    private readonly file: string,
    keys: readonly Buffer[],
  ) {
    this.name = path.basename(file);
    this.length = fs.statSync(file).size;
    const head = this.head();
    this.salt = head.subarray(32, 48);
    this.rank = head.readUInt32LE(60);
    const flags = head.readUInt16LE(10);
    if (flags & 1) {
      this.key = keys.find((key) =>
        sha(Buffer.from('ring'), key).subarray(0, 8).equals(head.subarray(64, 72)),
      );
      if (!this.key) throw new Stall(this.name, 'ring', 'no key of the game or its expansions fits');
    }
    const pages = this.readPages(head);
    this.expect('entry count', Number(head.readBigUInt64LE(16)), this.slots.size);
    this.expect('page count', head.readUInt32LE(52), pages);
    if (flags & 2) this.checkRoll(head);
  }

  get count(): number {
    return this.slots.size;
  }

  private head(): Buffer {
    if (this.length < 2 * HEAD) throw new Stall(this.name, 'length', `${this.length} bytes are too few`);
    const head = this.bytes(0, HEAD, 'head');
    if (head.toString('latin1', 0, 8) !== 'PEATHOLD') throw new Stall(this.name, 'tag', 'this is no hold');
    this.expect('version', head.readUInt16LE(8), 4);
    this.expect('head length', head.readUInt32LE(12), HEAD);
    const unchecked = Buffer.from(head);
    unchecked.writeUInt32LE(0, 92);
    this.expect('head check', head.readUInt32LE(92), zlib.crc32(unchecked));
    this.expect('file size', Number(head.readBigUInt64LE(24)), this.length);
    const title = head.subarray(72, 88).toString('latin1').replace(/\0+$/, '');
    this.expect('title check', head.readUInt32LE(88), zlib.crc32(Buffer.from(title)));
    const mirror = this.bytes(this.length - HEAD, HEAD, 'mirror');
    if (!Buffer.from(head).reverse().equals(mirror))
      throw new Stall(this.name, 'mirror', 'the end does not mirror the head');
    return head;
  }

  private readPages(head: Buffer): number {
    let number = 0;
    for (let place = head.readUInt32LE(48); place !== 0; number++) {
      const at = place * UNIT;
      const lead = this.bytes(at, PAGE, `page ${number}`);
      if (lead.toString('latin1', 0, 4) !== 'DECK')
        throw new Stall(this.name, `page ${number} tag`, 'this is no page');
      this.expect(`page ${number} number`, lead.readUInt32LE(8), number);
      const rows = lead.readUInt32LE(4);
      let body = this.bytes(at + PAGE, rows * ROW, `page ${number} rows`);
      if (this.key) body = decrypt(this.key, Buffer.concat([lead.subarray(20, 32), Buffer.alloc(4)]), body);
      this.expect(`page ${number} check`, lead.readUInt32LE(16), zlib.crc32(body));
      for (let i = 0; i < rows; i++) this.addSlot(body.subarray(i * ROW, (i + 1) * ROW));
      place = lead.readUInt32LE(12);
    }
    return number;
  }

  private addSlot(row: Buffer): void {
    const slot: Slot = {
      place: row.readUInt32LE(8) * UNIT,
      check: row.readUInt32LE(12),
      size: row.readUInt32LE(16),
      stored: row.readUInt32LE(20),
      flags: row.readUInt16LE(24),
    };
    if (slot.place + slot.stored > this.length)
      throw new Stall(this.name, 'place', `an entry points outside the file, to ${slot.place}`);
    this.slots.set(row.readBigUInt64LE(0).toString(), slot);
  }

  private checkRoll(head: Buffer): void {
    const at = head.readUInt32LE(56) * UNIT;
    const lead = this.bytes(at, 20, 'roll');
    if (lead.toString('latin1', 0, 4) !== 'ROLL') throw new Stall(this.name, 'roll tag', 'this is no roll');
    this.expect('roll count', lead.readUInt32LE(4), this.slots.size);
    let body = this.bytes(at + 20, lead.readUInt32LE(12), 'roll names');
    if (this.key) body = decrypt(this.key, Buffer.from(this.salt).reverse(), body);
    const names = unpacked(body, `${this.name}, roll`);
    this.expect('roll length', names.length, lead.readUInt32LE(8));
    this.expect('roll check', lead.readUInt32LE(16), zlib.crc32(names));
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

  private takeNumber(number: string, wanted: string): Buffer {
    const slot = this.slots.get(number);
    const what = `${this.name}, ${wanted}`;
    if (!slot) throw new Stall(what, 'name', 'no entry has this name');
    let bytes = this.bytes(slot.place, slot.stored, 'payload');
    if (slot.flags & 2) {
      if (!this.key) throw new Stall(what, 'flags', 'it is keyed, and the hold is not');
      const tail = Buffer.alloc(8);
      tail.writeBigUInt64LE(BigInt(number));
      bytes = decrypt(sha(tail, this.key, this.salt), Buffer.concat([tail, Buffer.alloc(8)]), bytes);
    }
    if (slot.flags & 1) bytes = unpackBlocks(bytes, slot.size, what);
    if (bytes.length !== slot.size)
      throw new Stall(what, 'size', `${bytes.length} bytes instead of ${slot.size}`);
    if (zlib.crc32(bytes) !== slot.check) throw new Stall(what, 'check', 'the bytes do not check');
    return bytes;
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

/** Blocks behind their sizes; those that are packed go through the tool together, since each call costs a process. */
function unpackBlocks(bytes: Buffer, size: number, what: string): Buffer {
  const blocks: { readonly data: Buffer; readonly isPacked: boolean; readonly length: number }[] = [];
  let at = 0;
  for (let left = size; left > 0;) {
    if (at + 4 > bytes.length) throw new Stall(what, 'block size', 'it lies outside the payload');
    const word = bytes.readUInt32LE(at);
    const stored = word & 0x7fffffff;
    const length = Math.min(BLOCK, left);
    if (at + 4 + stored > bytes.length) throw new Stall(what, 'block', 'it is longer than the payload');
    blocks.push({ data: bytes.subarray(at + 4, at + 4 + stored), isPacked: word >>> 31 === 0, length });
    at += 4 + stored;
    left -= length;
  }
  if (at !== bytes.length) throw new Stall(what, 'blocks', 'they do not add up to the payload');
  const packed = blocks.filter(({ isPacked }) => isPacked).map(({ data }) => data);
  const plain = packed.length > 0 ? unpacked(Buffer.concat(packed), what) : Buffer.alloc(0);
  let from = 0;
  return Buffer.concat(
    blocks.map(({ data, isPacked, length }) => (isPacked ? plain.subarray(from, (from += length)) : data)),
  );
}

/** Zstandard frames, one after the other, by the tool of that name. */
function unpacked(bytes: Buffer, what: string): Buffer {
  const { status, stdout, stderr } = spawnSync('zstd', ['-dcq'], { input: bytes, maxBuffer: 1 << 28 });
  if (status !== 0) throw new Stall(what, 'packing', stderr.toString().trim() || 'broken');
  return stdout;
}
