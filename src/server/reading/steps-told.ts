import { createHash } from 'node:crypto';
import { isList, isOpenForm, spelledCell, type Cell } from '@/media/table/core';
import type { GameTable } from './reading';

/** Whether steps of a field are changed here: in open forms, and where a script says that rows carry it. */
export const maySteps = ({ form, table }: GameTable, field: string): boolean =>
  isOpenForm(form) || (table.writable?.has(field) ?? false);

/** Steps as they are told apart, whatever is said of them. */
export const stampOfSteps = (cell: Cell | undefined): string =>
  createHash('sha256')
    .update(cell instanceof Uint8Array ? cell : JSON.stringify(isList(cell) ? cell.map(spelledCell) : null))
    .digest('hex')
    .slice(0, 16);
