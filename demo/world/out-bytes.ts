import zlib from 'node:zlib';

/** Bytes that are put one after the other; `big` says the byte order of numbers. */
export class OutBytes {
  private readonly pieces: Buffer[] = [];
  length = 0;

  constructor(private readonly big = false) {}

  bytes(data: Uint8Array): this {
    this.pieces.push(Buffer.from(data));
    this.length += data.length;
    return this;
  }

  number(value: number | bigint, size: number): this {
    const out = Buffer.alloc(size);
    let left = BigInt.asUintN(8 * size, BigInt(value));
    for (let i = 0; i < size; i++, left >>= 8n) out[this.big ? size - 1 - i : i] = Number(left & 255n);
    return this.bytes(out);
  }

  u8 = (value: number): this => this.number(value, 1);
  u16 = (value: number): this => this.number(value, 2);
  u32 = (value: number): this => this.number(value, 4);
  u64 = (value: number | bigint): this => this.number(value, 8);

  /** A text filled up with zeros. */
  text(value: string, size: number): this {
    const out = Buffer.alloc(size);
    out.write(value, 'utf8');
    return this.bytes(out);
  }

  /** A number of varying length, seven bits a byte, lowest first. */
  varying(value: number): this {
    let left = value;
    for (; left >= 128; left = Math.floor(left / 128)) this.u8((left % 128) | 128);
    return this.u8(left);
  }

  /** The same with a sign: the last byte's bit 6 says it. */
  varyingSigned(value: number): this {
    let left = BigInt(value);
    for (;;) {
      const low = Number(left & 127n);
      left >>= 7n;
      if ((left === 0n && !(low & 64)) || (left === -1n && low & 64)) return this.u8(low);
      this.u8(low | 128);
    }
  }

  /** Filled up to the next multiple of a unit. */
  align(unit: number, fill = 0): this {
    return this.bytes(Buffer.alloc((unit - (this.length % unit)) % unit, fill));
  }

  whole = (): Buffer => Buffer.concat(this.pieces);
}

/** Adler-32 (RFC 1950): what a zlib stream ends in. */
export function adler32(data: Buffer): number {
  const stream = zlib.deflateSync(data, { level: 0 });
  return stream.readUInt32BE(stream.length - 4);
}
