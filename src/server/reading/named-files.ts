import type { HashIndex } from '@/core/catalogue';
import type { Field } from '@/media/table/core';
import { recordOf, type EntryRecord, type GameCatalogue } from '../entries/catalogue';
import { hashIndexOf } from '../entries/links';
import { entryNamer } from './named-entries';
import { madeTable, type NamedRows } from './named-rows';
import type { GameLink, GameTable } from './reading';

/** The table of files that others name. */
export const NAMED_FILES = 'Files that are named';

/** What somebody says of a field: that it names files, or that it means nothing. */
export type SaidOfFiles = 'said' | 'refused';

/** So many values tell whether a field says files at all. */
const FIRST_VALUES = 200;
const LEAST_SHARE = 0.8;
const LIKELY_SHARE = 0.3;
/** Smaller numbers are counts and places, and no hashes. */
const LEAST_HASH = 1 << 20;
const HEX = /^(?:0x)?([0-9a-f]{8}|[0-9a-f]{16})$/i;
const DECIMAL = /^[0-9]{7,20}$/;

/** Tells the row of the catalogue that a value means: a path, or the hash that an entry is kept by, as a number or in hexadecimal digits. */
function rowNamer(game: GameCatalogue): (value: number | string) => number | undefined {
  const byPath = entryNamer(game);
  const hashes: HashIndex = hashIndexOf(game);
  const byHash = (value: bigint): number | undefined => {
    if (value < LEAST_HASH || value >= 1n << 64n || hashes.narrow + hashes.wide === 0) return undefined;
    const row = hashes.find(Number(value >> 32n), Number(value & 0xffffffffn));
    return row < 0 ? undefined : row;
  };
  return (value) => {
    if (typeof value === 'number')
      return Number.isSafeInteger(value) && value >= LEAST_HASH ? byHash(BigInt(value)) : undefined;
    if (/[/\\]/.test(value)) return byPath(value);
    const [, digits] = HEX.exec(value) ?? [];
    if (digits !== undefined) return byHash(BigInt(`0x${digits}`));
    return DECIMAL.test(value) ? byHash(BigInt(value)) : undefined;
  };
}

const NONE = new Set<number | string>([0, -1, '']);

/** Different values of a field, of a long one only the first if so many are asked for. */
function valuesOf({ numbers, texts }: Field, most = Number.POSITIVE_INFINITY): Set<number | string> {
  const found = new Set<number | string>();
  for (const all of [numbers, texts])
    for (const value of all) {
      if (found.size >= most) return found;
      if (!NONE.has(value)) found.add(value);
    }
  return found;
}

/**
 * Fields whose values are files of the game, by their paths or by the hashes that they are kept by, with these files as rows of a table of their own. Four in five different values have to be files; where
 * fewer are, it is likely and not followed.
 */
export function filesNamed(
  game: GameCatalogue,
  tables: readonly GameTable[],
  /** Whether rows are meant by the field. */
  isTaken: (table: number, field: number) => boolean,
  saidOf: (table: number, field: number) => SaidOfFiles | undefined,
): NamedRows | undefined {
  const namer = rowNamer(game);
  const known = new Map<number | string, number>();
  const files: number[] = [];
  const byRow = new Map<number, number>();
  const fileOf = (row: number): number => {
    let file = byRow.get(row);
    if (file === undefined) {
      byRow.set(row, (file = files.length));
      files.push(row);
    }
    return file;
  };
  const links: GameLink[] = [];
  for (const [from, { fields }] of tables.entries())
    for (const [field, one] of fields.entries()) {
      if (isTaken(from, field)) continue;
      const said = saidOf(from, field);
      const isAny = [...valuesOf(one, FIRST_VALUES)].some((value) => namer(value) !== undefined);
      if (!isAny && !said) continue;
      const values = valuesOf(one);
      const hits = [...values].flatMap((value): (readonly [number | string, number])[] => {
        const row = namer(value);
        return row === undefined ? [] : [[value, row]];
      });
      const share = hits.length / Math.max(1, values.size);
      if (share < LIKELY_SHARE && !said) continue;
      const isSure = share >= LEAST_SHARE;
      const source = said ?? (isSure ? 'found' : 'likely');
      links.push({
        ...{ from, field, to: tables.length, by: 0, values: values.size, hits: hits.length, chance: 0 },
        ...{ isSure, source },
      });
      if (source === 'found' || source === 'said')
        for (const [value, row] of hits) known.set(value, fileOf(row));
    }
  if (links.length === 0) return undefined;
  const records: EntryRecord[] = files.map((row) => recordOf(game, row));
  const table = madeTable(NAMED_FILES, records, {
    path: records.map(({ path }) => path),
    kind: records.map(({ kind }) => kind),
    archive: records.map(({ archive }) => archive),
  });
  return { table, key: { table: tables.length, field: 0, rows: known }, links };
}
