import fs from 'node:fs';
import path from 'node:path';
import {
  MEASURES,
  noMeasures,
  noteMeasured,
  type Catalogue,
  type Column,
  type Measure,
  type Measured,
  type Measures,
} from '@/core/catalogue';
import { FormatError } from '@/core/bytes';
import { codeOfKind, type Kind } from '@/core/kinds';
import { MEDIA_NODE } from '@/media/node';
import { scriptsStamp } from '../opening/scripts';
import { readColumns, writeColumns } from '@/platform/node/catalogue-files';
import { storageFolder } from '../storage/storage';

/** An archive whose entries are measured; `made` changes with its file, its script and its key. */
export interface MeasuredArchive {
  readonly id: number;
  readonly made: string;
}

/** Kinds whose entries are measured, which takes decoding them. */
export const MEASURED_KINDS: readonly Kind[] = MEDIA_NODE.filter(({ measure }) => measure).map(
  ({ kind }) => kind,
);
const NAMES = Object.keys(MEASURES) as Measure[];
const folderOf = (gameId: number): string => storageFolder('measured', String(gameId));
/** A file for each kind of entry, since each is measured by a job of its own. */
const fileOf = (gameId: number, archiveId: number, kind: Kind): string =>
  path.join(folderOf(gameId), `${archiveId}-${kind}.columns`);

/** An entry that was measured: its number, and what it was like then. */
export type MeasuredEntry = Measured & {
  readonly number: number;
  readonly size: number;
  /** NaN where nothing says it. */
  readonly modified: number;
};

/** Keeps what was measured of an archive as entries of a kind, in place of what was kept of those before. */
export function keepMeasured(
  gameId: number,
  { id, made }: MeasuredArchive,
  kind: Kind,
  entries: readonly MeasuredEntry[],
): void {
  const column = (of: (entry: MeasuredEntry) => number): Float64Array => Float64Array.from(entries, of);
  const columns: Record<string, Column> = {
    numbers: Uint32Array.from(entries, ({ number }) => number),
    sizes: column(({ size }) => size),
    modified: column(({ modified }) => modified),
    found: Uint8Array.from(entries, ({ found }) => found),
  };
  for (const name of NAMES)
    if (entries.some((entry) => !Number.isNaN(entry[name] ?? Number.NaN)))
      columns[name] = column((entry) => entry[name] ?? Number.NaN);
  const width = entries.find(({ print }) => print)?.print?.length ?? 0;
  const prints = new Uint8Array(width * entries.length);
  for (const [i, { print }] of entries.entries()) if (print) prints.set(print, i * width);
  columns.prints = prints;
  writeColumns(fileOf(gameId, id, kind), { made, scripts: scriptsStamp(kind) }, columns);
}

/** What is kept of an archive as columns, by the names of fields; of one that is another by now nothing. */
export function keptColumns(
  gameId: number,
  { id, made }: MeasuredArchive,
  kind: Kind,
): Readonly<Record<string, Column>> | undefined {
  let read: ReturnType<typeof readColumns>;
  try {
    read = readColumns(fileOf(gameId, id, kind));
  } catch (error) {
    const isGone = (error as NodeJS.ErrnoException).code === 'ENOENT';
    // What is not whole is measured anew.
    if (isGone || error instanceof FormatError || error instanceof SyntaxError) return undefined;
    throw error;
  }
  const { columns, head } = read;
  const of = head as { made?: string; scripts?: string };
  // By other scripts, another thing may come of the same bytes.
  if (of.made !== made || of.scripts !== scriptsStamp(kind)) return undefined;
  const all = ['numbers', 'sizes', 'modified', 'found', 'prints'];
  return all.some((name) => columns[name] === undefined) ? undefined : columns;
}

/** What is kept of an archive, entry by entry. */
export function keptMeasured(gameId: number, archive: MeasuredArchive, kind: Kind): MeasuredEntry[] {
  const columns = keptColumns(gameId, archive, kind);
  if (!columns) return [];
  const at = (name: string, i: number): number => columns[name]![i]!;
  const prints = columns.prints as Uint8Array;
  const width = prints.length / columns.numbers!.length;
  const printOf = (i: number): Uint8Array | undefined => {
    const print = prints.subarray(i * width, (i + 1) * width);
    return print.some((value) => value > 0) ? print : undefined;
  };
  const known = NAMES.filter((name) => columns[name] !== undefined);
  return Array.from({ length: columns.numbers!.length }, (_, i) => ({
    number: at('numbers', i),
    size: at('sizes', i),
    modified: at('modified', i),
    found: at('found', i),
    print: printOf(i),
    ...Object.fromEntries(known.map((name) => [name, at(name, i)])),
  }));
}

function* keptOfAll(gameId: number, archive: MeasuredArchive): Generator<[Kind, MeasuredEntry]> {
  for (const kind of MEASURED_KINDS)
    for (const entry of keptMeasured(gameId, archive, kind)) yield [kind, entry];
}

/** Forgets what was measured of a game, which is then measured anew. */
export function forgetMeasured(gameId: number): void {
  const folder = folderOf(gameId);
  for (const name of fs.readdirSync(folder)) fs.rmSync(path.join(folder, name), { force: true });
}

/** Forgets what was measured of one entry of an archive. */
export function forgetEntry(gameId: number, archive: MeasuredArchive, number: number): void {
  for (const kind of MEASURED_KINDS) {
    const kept = keptMeasured(gameId, archive, kind);
    const others = kept.filter((one) => one.number !== number);
    if (others.length < kept.length) keepMeasured(gameId, archive, kind, others);
  }
}

/** Tells whether anything was measured since. */
export function measuredStamp(gameId: number): string {
  const folder = folderOf(gameId);
  return fs
    .readdirSync(folder)
    .filter((name) => name.endsWith('.columns'))
    .map((name) => {
      const stat = fs.statSync(path.join(folder, name), { throwIfNoEntry: false });
      return stat ? `${name} ${stat.size} ${stat.mtimeMs}` : name;
    })
    .sort()
    .concat(MEASURED_KINDS.map((kind) => scriptsStamp(kind)))
    .join();
}

/** What was measured of the rows of a catalogue; undefined where nothing was. An entry that is another by now is as good as not measured. */
export function measuresOf(
  gameId: number,
  catalogue: Catalogue,
  archives: readonly MeasuredArchive[],
): Measures | undefined {
  let measures: Measures | undefined;
  const { sizes, modified, kinds } = catalogue.columns;
  for (const [position, archive] of archives.entries())
    for (const [kind, entry] of keptOfAll(gameId, archive)) {
      const row = catalogue.rowOf(position, entry.number);
      if (row < 0 || kinds[row] !== codeOfKind(kind)) continue;
      if (sizes[row] !== entry.size || !Object.is(modified[row], entry.modified)) continue;
      measures ??= noMeasures(catalogue.count);
      noteMeasured(measures, row, entry);
    }
  return measures;
}
