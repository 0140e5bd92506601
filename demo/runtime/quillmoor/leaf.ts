import { Stall } from '../common/stall';

/** What a table is made of: numbers, texts, bytes, lists, and records. */
export type Value = number | string | boolean | null | Buffer | Value[] | { readonly [name: string]: Value };

const MOST_DEPTH = 16;

/** Reads a table behind the tag that CBOR says itself with (RFC 8949, 3.4.6). Lengths are definite, numbers of at most 32 bits or floats of 64. */
export function readLeaf(bytes: Buffer, what: string): Value {
  const stall = (at: number, why: string): Stall => new Stall(what, `byte ${at}`, why);
  if (bytes.length < 3 || bytes.readUIntBE(0, 3) !== 0xd9d9f7)
    throw new Stall(what, 'mask', 'what comes out from under it is no table: another name or seed');
  let at = 3;
  const room = (size: number): number => {
    if (at + size > bytes.length) throw stall(at, `the table ends ${at + size - bytes.length} bytes early`);
    at += size;
    return at - size;
  };
  const count = (low: number): number => {
    if (low < 24) return low;
    if (low === 24) return bytes.readUInt8(room(1));
    if (low === 25) return bytes.readUInt16BE(room(2));
    if (low === 26) return bytes.readUInt32BE(room(4));
    throw stall(at - 1, 'a number in a form that this engine does not know');
  };
  const one = (depth: number): Value => {
    if (depth > MOST_DEPTH) throw stall(at, 'values lie too deep in each other');
    const first = bytes[room(1)]!;
    const [sort, low] = [first >> 5, first & 31];
    if (sort === 7) {
      if (low === 27) return bytes.readDoubleBE(room(8));
      if (low >= 20 && low <= 22) return low === 22 ? null : low === 21;
      throw stall(at - 1, 'a value in a form that this engine does not know');
    }
    if (sort === 6) throw stall(at - 1, 'a tag within a table');
    const number = count(low);
    if (sort === 0) return number;
    if (sort === 1) return -1 - number;
    if (sort === 2) return bytes.subarray(room(number), at);
    if (sort === 3) return bytes.toString('utf8', room(number), at);
    if (number > bytes.length - at) throw stall(at, `${number} values cannot be in what is left`);
    if (sort === 4) return Array.from({ length: number }, () => one(depth + 1));
    return Object.fromEntries(
      Array.from({ length: number }, () => {
        const name = one(depth + 1);
        if (typeof name !== 'string') throw stall(at, 'a value whose name is no text');
        return [name, one(depth + 1)] as const;
      }),
    );
  };
  const value = one(0);
  if (at !== bytes.length) throw stall(at, `${bytes.length - at} bytes behind the table`);
  return value;
}
