import { decode as decodePack } from '@msgpack/msgpack';
import { decode as decodeCbor, Tagged, type TagDecodeControl } from 'cborg';
import { parse as parseIni } from 'ini';
import Papa from 'papaparse';
import { parse as parseYaml } from 'yaml';
import { FormatError } from '@/core/bytes';
import { decodeAnyText } from '@/media/text/core/encoding';
import type { Cell } from './cell';
import { tableOfRows, tablesIn, type DataTable } from './data-table';
import { beginsAsJson, readJson } from './read-json';

/** Forms of tables that are open, as they are called. */
const FORMS = ['CBOR', 'MessagePack', 'JSON', 'YAML', 'CSV', 'INI'] as const;
export type TableForm = (typeof FORMS)[number];

/** Whether a form is read and written here without a script. */
export const isOpenForm = (form: string): boolean => (FORMS as readonly string[]).includes(form);

export interface ReadTables {
  readonly form: TableForm;
  readonly tables: readonly DataTable[];
  /** All that the file says, whether its tables have it or not. */
  readonly document: Cell;
}

/** Records within records beyond this are no table of a game. */
const MOST_DEPTH = 100;

const tooDeep = (file: string): FormatError =>
  new FormatError('budget', {
    ...{ file, expected: `at most ${MOST_DEPTH} records within each other`, actual: 'more' },
    remedy: 'Nothing of a game is nested so deep; look at its bytes',
  });

/** What packages give as cells; records become maps, so that no name in them has a meaning of its own. */
function cellOf(value: unknown, file: string, depth = 0): Cell {
  if (depth > MOST_DEPTH) throw tooDeep(file);
  switch (typeof value) {
    case 'boolean':
    case 'number':
    case 'string':
      return value;
    case 'bigint':
      return value <= BigInt(Number.MAX_SAFE_INTEGER) && value >= BigInt(Number.MIN_SAFE_INTEGER)
        ? Number(value)
        : value;
    case 'object':
      break;
    default:
      return null;
  }
  if (value === null) return null;
  if (value instanceof Uint8Array) return value;
  if (value instanceof Date) return value.toISOString();
  if (Array.isArray(value)) {
    // What the package made is ours: it is changed where it stands, since copies of all rows take as long as reading them.
    const list = value as unknown[];
    for (let i = 0; i < list.length; i++) list[i] = cellOf(list[i], file, depth + 1);
    return list as Cell[];
  }
  if (value instanceof Tagged) return cellOf(value.value, file, depth + 1);
  if (value instanceof Map && hasNames(value)) {
    for (const [key, one] of value) {
      const cell = cellOf(one, file, depth + 1);
      if (cell !== one) value.set(key, cell);
    }
    return value as Map<string, Cell>;
  }
  const pairs: Iterable<readonly [unknown, unknown]> =
    value instanceof Map ? (value as Map<unknown, unknown>) : Object.entries(value);
  const record = new Map<string, Cell>();
  for (const [key, one] of pairs) record.set(keyOf(key), cellOf(one, file, depth + 1));
  return record;
}

function hasNames(map: Map<unknown, unknown>): map is Map<string, unknown> {
  for (const key of map.keys()) if (typeof key !== 'string') return false;
  return true;
}

const keyOf = (key: unknown): string =>
  typeof key === 'string' ? key : typeof key === 'object' ? JSON.stringify(key) : String(key);

/** Tags of CBOR say what a value is meant as; the value itself is what counts here. */
const ANY_TAG: Record<number, (decode: TagDecodeControl) => unknown> = new Proxy(
  {},
  { get: () => (decode: TagDecodeControl) => decode(), has: () => true },
);

/** Whether bytes begin as CBOR that says so itself (RFC 8949, section 3.4.6). */
const saysCbor = (bytes: Uint8Array): boolean => bytes[0] === 0xd9 && bytes[1] === 0xd9 && bytes[2] === 0xf7;

const endingOf = (name: string): string => /\.([^./]*)$/.exec(name)?.[1]?.toLowerCase() ?? '';

const broken = (file: string, form: string, error: unknown): FormatError =>
  error instanceof FormatError
    ? error
    : // Told by its words: where the stack ends, the error may be of another realm.
      /call stack size exceeded|too much recursion/i.test(String(error))
      ? tooDeep(file)
      : new FormatError('bad-value', {
          ...{
            file,
            expected: form,
            actual: error instanceof Error ? error.message.slice(0, 200) : String(error),
          },
        });

function fromCbor(bytes: Uint8Array, file: string): Cell {
  try {
    // Names in records may be anything, and repeat; numbers may be large.
    return cellOf(
      decodeCbor(bytes, {
        useMaps: true,
        allowBigInt: true,
        rejectDuplicateMapKeys: false,
        tags: ANY_TAG as never,
      }),
      file,
    );
  } catch (error) {
    throw broken(file, 'CBOR (RFC 8949)', error);
  }
}

function fromPack(bytes: Uint8Array, file: string): Cell {
  try {
    return cellOf(decodePack(bytes, { useBigInt64: true, mapKeyConverter: (key) => keyOf(key) }), file);
  } catch (error) {
    throw broken(file, 'MessagePack', error);
  }
}

const ofDocument = (form: TableForm, document: Cell): ReadTables => ({
  form,
  tables: tablesIn(document),
  document,
});

/** Tables of an open form; undefined where the bytes are none. Throws FormatError where they say that they are one and are broken. */
export function readOpenTables(bytes: Uint8Array, name: string): ReadTables | undefined {
  const ending = endingOf(name);
  if (saysCbor(bytes) || ending === 'cbor') return ofDocument('CBOR', fromCbor(bytes, name));
  if (ending === 'msgpack' || ending === 'mpk') return ofDocument('MessagePack', fromPack(bytes, name));
  const text = decodeAnyText(bytes)?.text;
  if (text === undefined) return undefined;
  const written = fromText(text, ending, name);
  return written && written.tables.length > 0 ? written : undefined;
}

/** Texts with these endings are no JSON, whatever they begin with. */
const OTHERS = new Set(['yaml', 'yml', 'csv', 'tsv', 'ini', 'cfg']);

function fromText(text: string, ending: string, name: string): ReadTables | undefined {
  if (ending === 'json' || (!OTHERS.has(ending) && beginsAsJson(text))) {
    try {
      return ofDocument(
        'JSON',
        cellOf(
          readJson(text, MOST_DEPTH, () => tooDeep(name)),
          name,
        ),
      );
    } catch (error) {
      if (error instanceof FormatError) throw error;
      if (ending === 'json') throw broken(name, 'JSON (RFC 8259)', error);
      return undefined;
    }
  }
  if (ending === 'yaml' || ending === 'yml') {
    try {
      return ofDocument('YAML', cellOf(parseYaml(text, { maxAliasCount: 100, intAsBigInt: true }), name));
    } catch (error) {
      throw broken(name, 'YAML', error);
    }
  }
  if (ending === 'csv' || ending === 'tsv') return fromCsv(text);
  if (ending === 'ini' || ending === 'cfg') return ofDocument('INI', cellOf(parseIni(text), name));
  return undefined;
}

/** A number as tables write it; others, as 007, are texts. */
const NUMBER = /^-?(?:0|[1-9]\d{0,14})(?:\.\d{1,12})?$/;

/** Whether rows of columns begin with what these are called. */
export const hasHeading = ([first = []]: readonly (readonly string[])[]): boolean =>
  first.every((cell) => cell.trim() !== '' && !NUMBER.test(cell)) && new Set(first).size === first.length;

function fromCsv(text: string): ReadTables | undefined {
  const { data } = Papa.parse<string[]>(text, { skipEmptyLines: 'greedy' });
  const [first, ...rest] = data;
  if (!first || rest.length === 0 || first.length < 2) return undefined;
  const isHead = hasHeading(data);
  const rows = isHead ? rest : data;
  const width = Math.max(...data.slice(0, 1000).map(({ length }) => length));
  const names = Array.from(
    { length: width },
    (_, i) => (isHead ? (first[i] ?? '').trim() : '') || `column ${i + 1}`,
  );
  const isNumber = names.map((_, i) => {
    const cells = rows.map((row) => row[i] ?? '').filter((cell) => cell !== '');
    return cells.length > 0 && cells.every((cell) => NUMBER.test(cell));
  });
  const cells = rows.map((row) =>
    names.map((_, i): Cell => {
      const cell = row[i] ?? '';
      return isNumber[i] ? (cell === '' ? null : Number(cell)) : cell;
    }),
  );
  return { form: 'CSV', tables: [tableOfRows(names, cells)], document: data };
}
