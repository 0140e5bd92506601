/** For tests only: puts together the bytes of made-up archives, without anything of the core. */
export class BytesBuilder {
  private readonly parts: Buffer[] = [];
  length = 0;

  constructor(private readonly little = true) {}

  raw(bytes: Uint8Array | string): this {
    const part = Buffer.from(bytes as string);
    this.parts.push(part);
    this.length += part.length;
    return this;
  }

  number(value: number | bigint, size: 1 | 2 | 3 | 4 | 8): this {
    const part = Buffer.alloc(size);
    for (let i = 0; i < size; i++)
      part[this.little ? i : size - 1 - i] = Number((BigInt(value) >> BigInt(8 * i)) & 0xffn);
    return this.raw(part);
  }

  /** A text with zeros behind it up to `size` bytes. */
  padded(text: string, size: number): this {
    const part = Buffer.alloc(size);
    part.write(text, 'utf8');
    return this.raw(part);
  }

  fill(to: number, byte = 0): this {
    return this.raw(Buffer.alloc(Math.max(0, to - this.length), byte));
  }

  bytes(): Uint8Array {
    return new Uint8Array(Buffer.concat(this.parts));
  }
}
