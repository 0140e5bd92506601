import { encode } from '@msgpack/msgpack';
import { FormatError } from '@/core/bytes';
import { splice, wantedOf, type CellEdit, type ValueSpan, type Wanted } from './wanted';

/** What begins at a byte of a MessagePack document: a list or record of so many, or a value that ends somewhere. */
type Head =
  | { readonly list: number; readonly at: number }
  | { readonly record: number; readonly at: number }
  | { readonly to: number };

/** Bytes of numbers, and bytes of lengths, by the first byte; from the specification of MessagePack. */
const PLAIN: Readonly<Record<number, number>> = {
  ...{ 0xc0: 0, 0xc2: 0, 0xc3: 0, 0xca: 4, 0xcb: 8, 0xcc: 1, 0xcd: 2, 0xce: 4, 0xcf: 8 },
  ...{ 0xd0: 1, 0xd1: 2, 0xd2: 4, 0xd3: 8, 0xd4: 2, 0xd5: 3, 0xd6: 5, 0xd7: 9, 0xd8: 17 },
};
const COUNTED: Readonly<Record<number, readonly [size: number, more: number]>> = {
  ...{ 0xc4: [1, 0], 0xc5: [2, 0], 0xc6: [4, 0], 0xd9: [1, 0], 0xda: [2, 0], 0xdb: [4, 0] },
  ...{ 0xc7: [1, 1], 0xc8: [2, 1], 0xc9: [4, 1] },
};

function headAt(view: DataView, at: number, file: string): Head {
  const number = (from: number, size: number): number =>
    size === 1 ? view.getUint8(from) : size === 2 ? view.getUint16(from) : view.getUint32(from);
  const first = view.getUint8(at);
  if (first <= 0x7f || first >= 0xe0) return { to: at + 1 };
  if (first <= 0x8f) return { record: first & 15, at: at + 1 };
  if (first <= 0x9f) return { list: first & 15, at: at + 1 };
  if (first <= 0xbf) return { to: at + 1 + (first & 31) };
  if (first === 0xdc || first === 0xdd) {
    const size = first === 0xdc ? 2 : 4;
    return { list: number(at + 1, size), at: at + 1 + size };
  }
  if (first === 0xde || first === 0xdf) {
    const size = first === 0xde ? 2 : 4;
    return { record: number(at + 1, size), at: at + 1 + size };
  }
  const plain = PLAIN[first];
  if (plain !== undefined) return { to: at + 1 + plain };
  const counted = COUNTED[first];
  if (!counted)
    throw new FormatError('bad-value', {
      file,
      byteOffset: at,
      expected: 'MessagePack',
      actual: 'byte 0xc1',
    });
  const [size, more] = counted;
  return { to: at + 1 + size + more + number(at + 1, size) };
}

/** Where values of a MessagePack document stand. Throws FormatError where its bytes are none. */
export function packSpans(bytes: Uint8Array, edits: readonly CellEdit[], file: string): ValueSpan[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const found = new Map<CellEdit, ValueSpan>();
  const utf8 = new TextDecoder();
  const keyOf = (from: number, to: number): string => {
    const first = bytes[from]!;
    if (first >= 0xa0 && first <= 0xbf) return utf8.decode(bytes.subarray(from + 1, to));
    const size = COUNTED[first]?.[0];
    if (size !== undefined && first >= 0xd9) return utf8.decode(bytes.subarray(from + 1 + size, to));
    if (first <= 0x7f) return String(first);
    if (first >= 0xe0) return String(first - 0x100);
    return '';
  };
  const item = (from: number, wanted: Wanted | undefined): number => {
    const head = headAt(view, from, file);
    let to: number;
    if ('list' in head) {
      to = head.at;
      for (let i = 0; i < head.list; i++) to = item(to, wanted?.below.get(String(i)));
    } else if ('record' in head) {
      to = head.at;
      for (let i = 0; i < head.record; i++) {
        const value = item(to, undefined);
        to = item(value, wanted?.below.get(keyOf(to, value)));
      }
    } else ({ to } = head);
    if (wanted?.edit) found.set(wanted.edit, { from, to, edit: wanted.edit });
    return to;
  };
  item(0, wantedOf(edits));
  return [...found.values()];
}

/** A MessagePack document with other values at places of it; floats stay floats. */
export const writePackCells = (bytes: Uint8Array, spans: readonly ValueSpan[]): Uint8Array =>
  splice(bytes, spans, ({ from, edit: { value } }) => {
    const isFloat = bytes[from] === 0xca || bytes[from] === 0xcb;
    const isShort = bytes[from] === 0xca && typeof value === 'number' && Math.fround(value) === value;
    return encode(value, {
      useBigInt64: typeof value === 'bigint',
      forceIntegerToFloat: isFloat,
      forceFloat32: isShort,
    });
  });
