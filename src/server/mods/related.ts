import type { Finding } from '@/core/fit';
import { areHalves, relatedPaths, roleOf } from '@/core/mod';
import { findStack } from '../entries/catalogue';
import { foundInChange } from './wording';

/** A sheet of the same set as one that is changed, which the mod leaves as it is. */
export interface LeftSheet {
  readonly path: string;
  readonly role: string;
  readonly archiveId: number;
  readonly index: number;
  /** Whether it shows the same thing, so that it can be given the same picture. */
  readonly isHalf: boolean;
}

/** Sheets that belong to a changed one and are not changed themselves. */
export async function leftSheets(
  gameId: number,
  path: string,
  changed: ReadonlySet<string>,
): Promise<LeftSheet[]> {
  const own = roleOf(path);
  if (!own) return [];
  const left: LeftSheet[] = [];
  for (const { path: other, role } of relatedPaths(path)) {
    if (changed.has(other)) continue;
    const winner = (await findStack(gameId, other)).find(({ wins }) => wins);
    if (!winner) continue;
    const { archiveId, index } = winner;
    left.push({ path: other, role, archiveId, index, isHalf: areHalves(own.role, role) });
  }
  return left;
}

export const leftFinding = ({ path, role, isHalf }: LeftSheet): Finding => {
  const sheet = { name: path.slice(path.lastIndexOf('/') + 1), role };
  return isHalf ? foundInChange('look', 'left-half', sheet) : foundInChange('fits', 'left-sheet', sheet);
};
