import { memorySource, type ByteSource } from '@/core/bytes';
import type { MediaScripts } from '@/platform/node/media-scripts';
import { nodePrimitives } from '@/platform/node/primitives';
import { describedData, readOpenTables, type DataTable } from '../core';

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
