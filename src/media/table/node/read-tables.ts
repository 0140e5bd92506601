import { createHash } from 'node:crypto';
import { LRUCache } from 'lru-cache';
import { memorySource, type ByteSource } from '@/core/bytes';
import type { MediaScripts } from '@/platform/node/media-scripts';
import { nodePrimitives } from '@/platform/node/primitives';
import {
  describedData,
  describedForms,
  mergeCells,
  openForms,
  readOpenTables,
  writeCells,
  writeDescribedCells,
  writeDescribedItem,
  writeDescribedRow,
  writeItem,
  writeRow,
  type DataTable,
  type MergedCells,
  type ReadTables,
  type ItemEdit,
  type RowEdit,
  type TableEdit,
} from '../core';

let known: LRUCache<string, ReadTables> | undefined;
/** Smaller files are read sooner than they are told apart. */
const LEAST_KNOWN_BYTES = 1 << 20;

/** Has a thread know the last large files that it read, which are written, read again and fitted one after the other. */
export function knowTables(most: number): void {
  known = new LRUCache({ max: most });
}

/** Reads tables of an open form, unless the same bytes were read a moment ago. */
function readOpen(bytes: Uint8Array, name: string): ReadTables | undefined {
  if (!known || bytes.length < LEAST_KNOWN_BYTES) return readOpenTables(bytes, name);
  const id = `${createHash('sha256').update(bytes).digest('hex')} ${name}`;
  const before = known.get(id);
  if (before) return before;
  const read = readOpenTables(bytes, name);
  if (read) known.set(id, read);
  return read;
}

/** Tables of a file, and in which form it has them. */
export interface TablesRead {
  readonly form: string;
  readonly tables: readonly DataTable[];
}

/** The tables of a file, by its script or as an open form; undefined where it has none. Throws FormatError where it says that it has and they are broken. */
export function tablesOf(
  bytes: Uint8Array,
  name: string,
  scripts: MediaScripts,
  source: ByteSource = memorySource(bytes, name),
): TablesRead | undefined {
  const script = scripts(source, 'table')?.script;
  if (script) return { form: script.title, tables: [describedData(script, bytes, name, nodePrimitives)] };
  return readOpen(bytes, name);
}

/** A file of tables with other values in cells, by its script or as an open form. Throws FormatError where it cannot be written so. */
export function writeTables(
  bytes: Uint8Array,
  name: string,
  scripts: MediaScripts,
  edits: readonly TableEdit[],
): Uint8Array {
  const script = scripts(memorySource(bytes, name), 'table')?.script;
  if (script) return writeDescribedCells(script, bytes, name, nodePrimitives, edits);
  return writeCells(bytes, name, edits, readOpen);
}

/** A file of tables with a row more or less, by its script or as an open form; see `writeRow`. */
export function writeTableRow(
  bytes: Uint8Array,
  name: string,
  scripts: MediaScripts,
  edit: RowEdit,
): Uint8Array {
  const script = scripts(memorySource(bytes, name), 'table')?.script;
  if (script) return writeDescribedRow(script, bytes, name, nodePrimitives, edit);
  return writeRow(bytes, name, edit, readOpen);
}

/** A file of tables with an item more or less in a list within a cell, by its script or as an open form; see `writeItem`. */
export function writeTableItem(
  bytes: Uint8Array,
  name: string,
  scripts: MediaScripts,
  edit: ItemEdit,
): Uint8Array {
  const script = scripts(memorySource(bytes, name), 'table')?.script;
  if (script) return writeDescribedItem(script, bytes, name, nodePrimitives, edit);
  return writeItem(bytes, name, edit, readOpen);
}

/** Several changes of one file of tables put together value by value; undefined where one changes more than values. */
export function mergeTableFiles(
  base: Uint8Array,
  changes: readonly Uint8Array[],
  name: string,
  scripts: MediaScripts,
): MergedCells | undefined {
  const script = scripts(memorySource(base, name), 'table')?.script;
  const forms = script ? describedForms(script, name, nodePrimitives) : openForms(name);
  return mergeCells(base, changes, forms);
}
