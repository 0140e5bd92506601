import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import zlib from 'node:zlib';
import { Stall } from '../common/stall';
import { decrypt, MountedHold, UNIT } from './mounted-hold';

const HEAD = 96;
const PAGE = 32;
const ROW = 40;
const BLOCK = 131072;

const sha = (...parts: Buffer[]): Buffer => createHash('sha256').update(Buffer.concat(parts)).digest();

/** A hold as Peatfire 4 mounts it: the key by its ring, all pages at once, payloads when they are asked for. */
export class Hold4 extends MountedHold {
  readonly rank: number;
  private readonly salt: Buffer;
  private readonly key: Buffer | undefined;

  /** `keys` are those of the game and of its expansions. */
  constructor(file: string, keys: readonly Buffer[]) {
    super(file);
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
    this.expect('entry count', Number(head.readBigUInt64LE(16)), this.count);
    this.expect('page count', head.readUInt32LE(52), pages);
    if (flags & 2) this.checkRoll(head);
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
    this.checkMirror(head);
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
      for (let i = 0; i < rows; i++) this.addRow(body.subarray(i * ROW, (i + 1) * ROW));
      place = lead.readUInt32LE(12);
    }
    return number;
  }

  private addRow(row: Buffer): void {
    this.addSlot(row.readBigUInt64LE(0), {
      place: row.readUInt32LE(8) * UNIT,
      check: row.readUInt32LE(12),
      size: row.readUInt32LE(16),
      stored: row.readUInt32LE(20),
      flags: row.readUInt16LE(24),
    });
  }

  private checkRoll(head: Buffer): void {
    const at = head.readUInt32LE(56) * UNIT;
    const lead = this.bytes(at, 20, 'roll');
    if (lead.toString('latin1', 0, 4) !== 'ROLL') throw new Stall(this.name, 'roll tag', 'this is no roll');
    this.expect('roll count', lead.readUInt32LE(4), this.count);
    let body = this.bytes(at + 20, lead.readUInt32LE(12), 'roll names');
    if (this.key) body = decrypt(this.key, Buffer.from(this.salt).reverse(), body);
    const names = unpacked(body, `${this.name}, roll`);
    this.expect('roll length', names.length, lead.readUInt32LE(8));
    this.expect('roll check', lead.readUInt32LE(16), zlib.crc32(names));
  }

  protected unkeyed(number: string, bytes: Buffer, what: string): Buffer {
    if (!this.key) throw new Stall(what, 'flags', 'it is keyed, and the hold is not');
    const tail = Buffer.alloc(8);
    tail.writeBigUInt64LE(BigInt(number));
    return decrypt(sha(tail, this.key, this.salt), Buffer.concat([tail, Buffer.alloc(8)]), bytes);
  }

  protected unpacked(bytes: Buffer, size: number, what: string): Buffer {
    return unpackBlocks(bytes, size, what);
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
