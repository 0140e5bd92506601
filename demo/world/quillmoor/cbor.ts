/** Concise Binary Object Representation (RFC 8949) of plain values: numbers, texts, bytes, lists and maps. */
export type Plain =
  number | boolean | string | null | Uint8Array | readonly Plain[] | { readonly [name: string]: Plain };

function head(major: number, value: number): Buffer {
  const first = major << 5;
  if (value < 24) return Buffer.from([first | value]);
  if (value < 256) return Buffer.from([first | 24, value]);
  const out = Buffer.alloc(value < 65536 ? 3 : 5);
  out[0] = first | (value < 65536 ? 25 : 26);
  if (value < 65536) out.writeUInt16BE(value, 1);
  else out.writeUInt32BE(value, 1);
  return out;
}

function cbor(value: Plain): Buffer {
  if (value === null) return Buffer.from([0xf6]);
  if (value instanceof Uint8Array) return Buffer.concat([head(2, value.length), value]);
  if (typeof value === 'boolean') return Buffer.from([value ? 0xf5 : 0xf4]);
  if (typeof value === 'string')
    return Buffer.concat([head(3, Buffer.byteLength(value)), Buffer.from(value)]);
  if (typeof value === 'number') {
    if (Number.isInteger(value)) return value < 0 ? head(1, -1 - value) : head(0, value);
    const out = Buffer.alloc(9, 0xfb);
    out.writeDoubleBE(value, 1);
    return out;
  }
  if (Array.isArray(value)) return Buffer.concat([head(4, value.length), ...value.map(cbor)]);
  const pairs = Object.entries(value);
  return Buffer.concat([head(5, pairs.length), ...pairs.flatMap(([name, one]) => [cbor(name), cbor(one)])]);
}

/** Behind the tag with which it says itself what it is (section 3.4.6). */
export const selfSaid = (value: Plain): Buffer =>
  Buffer.concat([Buffer.from([0xd9, 0xd9, 0xf7]), cbor(value)]);
