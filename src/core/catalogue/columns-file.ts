import { FormatError } from '../bytes';

/** Columns of numbers and bytes under their names. */
export type Column = Uint8Array | Uint16Array | Uint32Array | Float64Array;

interface Place {
  readonly name: string;
  readonly type: keyof typeof TYPES;
  readonly offset: number;
  readonly length: number;
}

const TYPES = {
  u8: Uint8Array,
  u16: Uint16Array,
  u32: Uint32Array,
  f64: Float64Array,
} as const;

/** Its number goes up whenever columns come or go, so that older files are made anew. */
const MARK = 'ZLCOLS04';
const encoder = new TextEncoder();

const typeOf = (column: Column): keyof typeof TYPES =>
  column instanceof Uint8Array
    ? 'u8'
    : column instanceof Uint16Array
      ? 'u16'
      : column instanceof Uint32Array
        ? 'u32'
        : 'f64';

const padded = (length: number): number => Math.ceil(length / 8) * 8;

/**
 * A file of columns as pieces to be written one after the other: a mark of 8 bytes, the length of a head in JSON (32 bits,
 * little), the head, then the columns, each at a multiple of 8 bytes, in the byte order of the machine. It is a cache of
 * this application, made anew when it cannot be read.
 */
export function packColumns(head: unknown, columns: Readonly<Record<string, Column>>): Uint8Array[] {
  const places: Place[] = [];
  let offset = 0;
  for (const [name, column] of Object.entries(columns)) {
    places.push({ name, type: typeOf(column), offset, length: column.length });
    offset += padded(column.byteLength);
  }
  const text = encoder.encode(JSON.stringify({ head, places }));
  const start = new Uint8Array(padded(MARK.length + 4 + text.length));
  start.set(encoder.encode(MARK));
  new DataView(start.buffer).setUint32(MARK.length, text.length, true);
  start.set(text, MARK.length + 4);
  const pieces: Uint8Array[] = [start];
  for (const column of Object.values(columns)) {
    pieces.push(new Uint8Array(column.buffer, column.byteOffset, column.byteLength));
    pieces.push(new Uint8Array(padded(column.byteLength) - column.byteLength));
  }
  return pieces.filter(({ length }) => length > 0);
}

/** Where the columns of a file lie, so that each can be read where it is wanted. */
export interface ColumnsHead {
  readonly head: unknown;
  /** Offset in the file, length in bytes and kind of each column. */
  readonly places: ReadonlyMap<string, { offset: number; byteLength: number; type: keyof typeof TYPES }>;
}

/** How much of the file's start tells the length of its head. */
export const COLUMNS_START_BYTES = MARK.length + 4;

/** How long the file's start with the head is. Throws FormatError where it is no such file. */
export function columnsHeadLength(start: Uint8Array): number {
  if (start.length < COLUMNS_START_BYTES || new TextDecoder().decode(start.subarray(0, 8)) !== MARK)
    throw new FormatError('fixed-mismatch', { byteOffset: 0, expected: MARK });
  return MARK.length + 4 + new DataView(start.buffer, start.byteOffset).getUint32(MARK.length, true);
}

/** Reads the head; `start` holds as many bytes as `columnsHeadLength` says. */
export function readColumnsHead(start: Uint8Array, fileLength: number): ColumnsHead {
  const length = columnsHeadLength(start);
  if (start.length < length) throw new FormatError('truncated', { expected: `${length} bytes` });
  const { head, places } = JSON.parse(
    new TextDecoder().decode(start.subarray(COLUMNS_START_BYTES, length)),
  ) as { head: unknown; places: Place[] };
  const base = padded(length);
  const found = new Map<string, { offset: number; byteLength: number; type: keyof typeof TYPES }>();
  for (const { name, type, offset, length: count } of places) {
    const byteLength = count * TYPES[type].BYTES_PER_ELEMENT;
    if (base + offset + byteLength > fileLength)
      throw new FormatError('truncated', { fieldPath: name, expected: `${byteLength} bytes` });
    found.set(name, { offset: base + offset, byteLength, type });
  }
  return { head, places: found };
}

/** Bytes of a column, at a multiple of 8 in their buffer, as its numbers. */
export function columnOver(bytes: Uint8Array<ArrayBuffer>, type: keyof typeof TYPES): Column {
  return new TYPES[type](bytes.buffer, bytes.byteOffset, bytes.byteLength / TYPES[type].BYTES_PER_ELEMENT);
}
