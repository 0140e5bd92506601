import type { Finding } from '@/core/fit';
import { areHalves, relatedPaths, roleOf } from '@/core/mod';
import { findStack } from '../entries/catalogue';
import { tongueTakes } from '../entries/tongues';
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

/** Where a change stands: archive and path. */
export interface ChangedSlot {
  readonly archivePath: string;
  readonly path: string;
}

export const slotOf = ({ archivePath, path }: ChangedSlot): string => JSON.stringify([archivePath, path]);

/** The takes of a changed line in languages in which it stays as it is. */
export async function leftTakes(
  gameId: number,
  own: ChangedSlot,
  changed: ReadonlySet<string>,
): Promise<Finding[]> {
  const { takes } = await tongueTakes(gameId, own.archivePath, own.path);
  return takes
    .filter(({ entry }) => !changed.has(slotOf({ archivePath: entry.archive, path: entry.path })))
    .map(({ name, tongue, entry }) =>
      foundInChange('fits', 'left-take', {
        name: `${entry.path} in ${entry.archive}`,
        tongue: tongue === '' ? '' : name,
      }),
    );
}
