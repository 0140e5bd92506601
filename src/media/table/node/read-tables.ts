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
  type DataTable,
  type MergedCells,
  type TableEdit,
} from '../core';

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
  return readOpenTables(bytes, name);
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
  return writeCells(bytes, name, edits);
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
