import fs from 'node:fs';
import path from 'node:path';
import { GameRow, models } from '@/db';
import type { Evidence, Findings, FirstSeen, Note } from '../scan/findings';
import { notFound } from '@/platform/user-error';

export interface FolderFindings {
  readonly versions: readonly Evidence[];
  readonly notes: readonly Note[];
  /** Files that have changed, come or gone since the last scan, as far as a quick look tells. */
  readonly changedSince: readonly string[];
  readonly files: number;
  readonly bytes: number;
}

/** A look at more files than this would take longer than a page may. */
const MOST_LOOKED_AT = 2000;

/** What the last scan found out about the folder, and what has changed since. */
export async function folderFindings(gameId: number): Promise<FolderFindings> {
  models();
  const game = await GameRow.findByPk(gameId);
  if (!game) throw notFound('The game');
  const kept = (game.findings ?? {}) as Partial<Findings & { last: Record<string, FirstSeen> }>;
  const changedSince: string[] = [];
  for (const [name, { size, modifiedMs }] of Object.entries(kept.last ?? {}).slice(0, MOST_LOOKED_AT)) {
    const stat = fs.statSync(path.join(game.folder, name), { throwIfNoEntry: false });
    if (!stat || stat.size !== size || Math.round(stat.mtimeMs) !== modifiedMs) changedSince.push(name);
  }
  return {
    versions: kept.versions ?? [],
    notes: kept.notes ?? [],
    files: kept.files ?? 0,
    bytes: kept.bytes ?? 0,
    changedSince: changedSince.slice(0, 50),
  };
}
