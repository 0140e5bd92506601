import v8 from 'node:v8';
import type { DataTable, FormedTables } from '@/media/table/core';
import { tablesOf } from '@/media/table/node';
import { tableOf } from '../desk/read-tables';
import { mediaScriptFor } from '../opening/scripts';
import { LINES_FORM, lineRows } from './line-rows';

/** Larger files are not read as tables. */
export const MOST_TABLE_BYTES = 64 << 20;

/** Larger ones are read and written beside the server, which answers others meanwhile. */
export const BESIDE_BYTES = 1 << 20;

/** What was read of a file; without tables where it has none. */
export type FileRead = Pick<FormedTables, 'form' | 'tables'>;

/** The tables of a file, or its lines under keys as one. Throws FormatError where it says that it has some and they are broken. */
export function readBytes(bytes: Uint8Array, path: string, isLines: boolean): FileRead {
  if (!isLines) return tablesOf(bytes, path, mediaScriptFor) ?? { form: '', tables: [] };
  const lines = tableOf(bytes, path);
  return {
    form: lines ? LINES_FORM : '',
    tables: lines && lines.lines.length > 0 ? [lineRows(lines)] : [],
  };
}

/** Tables as the engine lays values down, which goes between threads and on disk. Where a cell stands in its document is not among it; that is found again when it is written. */
export const layDown = ({ form, tables }: FileRead): Uint8Array =>
  v8.serialize({
    form,
    tables: tables.map(({ name, columns, count, said, writable }): DataTable => ({
      ...{ name, columns, count },
      ...(said && { said }),
      ...(writable && { writable }),
    })),
  });

/** Tables that were laid down here. */
export const takeUp = (laid: Uint8Array): FileRead => v8.deserialize(laid) as FileRead;
