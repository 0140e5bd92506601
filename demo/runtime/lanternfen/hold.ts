import { createHash } from 'node:crypto';
import zlib from 'node:zlib';
import { Stall } from '../common/stall';
import { decrypt, MountedHold, UNIT } from './mounted-hold';

const HEAD = 64;
const ROW = 48;
const BLOCK = 65536;

/** A hold as the engine mounts it: all pages at once, payloads when they are asked for. */
export class Hold extends MountedHold {
  readonly rank: number;
  private readonly salt: Buffer;

  constructor(
    file: string,
    private readonly key: Buffer,
  ) {
    super(file);
    const head = this.head();
    this.salt = head.subarray(32, 48);
    this.rank = head.readUInt32LE(52);
    const pages = this.readPages(head);
    this.expect('entry count', head.readUInt32LE(12), this.count);
    this.expect('page count', head.readUInt32LE(16), pages);
    if (head.readUInt16LE(10) & 2) this.checkRoll(head);
  }

  private head(): Buffer {
    if (this.length < 2 * HEAD) throw new Stall(this.name, 'length', `${this.length} bytes are too few`);
    const head = this.bytes(0, HEAD, 'head');
    if (head.toString('latin1', 0, 8) !== 'PEATHOLD') throw new Stall(this.name, 'tag', 'this is no hold');
    this.expect('version', head.readUInt16LE(8), 3);
    this.expect('head check', head.readUInt32LE(60), zlib.crc32(head.subarray(0, 60)));
    this.expect('file size', Number(head.readBigUInt64LE(24)), this.length);
    this.checkMirror(head);
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
      for (let i = 0; i < rows; i++) this.addRow(body.subarray(i * ROW, (i + 1) * ROW));
      place = lead.readUInt32LE(8);
    }
    return number;
  }

  private addRow(row: Buffer): void {
    this.addSlot(row.readBigUInt64LE(0), {
      place: row.readUInt32LE(8) * UNIT,
      check: row.readUInt32LE(12),
      size: Number(row.readBigUInt64LE(16)),
      stored: Number(row.readBigUInt64LE(24)),
      flags: row.readUInt32LE(32),
    });
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

  protected unkeyed(number: string, bytes: Buffer): Buffer {
    const tail = Buffer.alloc(8);
    tail.writeBigUInt64LE(BigInt(number));
    const own = createHash('sha256')
      .update(Buffer.concat([this.key, tail]))
      .digest()
      .subarray(0, 16);
    return decrypt(own, this.salt, bytes);
  }

  protected unpacked(bytes: Buffer, size: number, what: string): Buffer {
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
}
