import type { ChangeRow } from '@/db';
import { isOfFolder } from '../mods/change-slot';
import type { GameView } from '../games/games';
import { broughtFiles } from '../installing/installations';
import { sourceFiles } from '../installing/source-files';
import type { JobContext } from '../running/job-context';
import { UserError } from '@/platform/user-error';
import type { ArchiveReport } from './build-files';
import { writeFile } from './build-loose';
import { hashFile } from './hash-file';

/** Changes of files of the game folder that are in no archive, and all others. */
export function partedChanges(changes: readonly ChangeRow[]): {
  readonly files: readonly ChangeRow[];
  readonly entries: readonly ChangeRow[];
} {
  return {
    files: changes.filter(({ archivePath }) => isOfFolder(archivePath)),
    entries: changes.filter(({ archivePath }) => !isOfFolder(archivePath)),
  };
}

/** Writes files of the game folder as they are to be, and proves each by reading it back. */
export async function buildFilesOfFolder(
  game: GameView,
  changes: readonly ChangeRow[],
  targetOf: (file: string) => string,
  job: JobContext,
): Promise<ArchiveReport[]> {
  if (changes.length === 0) return [];
  const sourceOf = await sourceFiles(game);
  const brought = await broughtFiles(game.id);
  return changes.map((change, i) => {
    const { path: name, originalSize } = change;
    job.check();
    job.progress(i, changes.length, 'items', `writing ${name}`);
    const isAdded = change.action === 'add';
    // What is only there because of what is installed has no original.
    const isBrought = brought.has(name);
    const sourceSha256 = isBrought ? null : (hashFile(sourceOf(name)) ?? null);
    if (isAdded && sourceSha256 !== null)
      throw new UserError(
        409,
        `${name} is in the game folder already, and the mod adds it. Take the change out, and replace the file instead.`,
      );
    if (!isAdded && sourceSha256 === null)
      throw new UserError(
        409,
        `${name} is no longer in the game folder. Take the change out, or put the file back.`,
      );
    const { length, ...written } = writeFile(change, name, targetOf(name));
    return {
      ...{ archive: name, sourceSha256, sizeBefore: originalSize, sizeAfter: length, ...written },
      bar: [{ sort: 'changed entry', length }],
      changes: [{ path: name, storedBefore: isAdded ? null : originalSize, storedAfter: length }],
    };
  });
}
