import { firstDifference, refOfSpan } from '@/core/bytes';
import { pathProblem } from '@/core/archive';
import type { ChangeRow } from '@/db';
import { openFileSource } from '@/platform/node/file-source';
import type { ArchiveReport } from './build-files';
import type { GameView } from '../games/games';
import { hashFile } from './hash-file';
import { copyFlushed } from '../installing/placing';
import type { JobContext } from '../running/job-context';
import { blobFile } from '../storage/storage';
import { UserError } from '@/platform/user-error';

/** Where a loose file of a game goes. Throws UserError where the game is not known to read any, or the change is none. */
export function looseNameOf({ looseFolder }: GameView, { action, path }: ChangeRow): string {
  if (looseFolder === '')
    throw new UserError(
      409,
      'Nothing is noted of where this game looks for loose files. Say so on the Installed screen, under what is known of it.',
    );
  if (action === 'remove')
    throw new UserError(
      409,
      `${path} is taken out, which a loose file cannot do. Build its archive anew instead.`,
    );
  const problem = path.startsWith('unnamed/') ? 'the name of this entry is not known' : pathProblem(path);
  if (problem) throw new UserError(409, `${path} cannot be a loose file: ${problem}.`);
  return `${looseFolder}/${path}`;
}

/** A path that is changed in several archives is one file. Throws UserError where it would have two contents. */
function withoutTwins(game: GameView, changes: readonly ChangeRow[]): ChangeRow[] {
  const files = new Map<string, ChangeRow>();
  for (const change of changes) {
    const name = looseNameOf(game, change).toLowerCase();
    const other = files.get(name);
    if (other && other.preparedBlob !== change.preparedBlob)
      throw new UserError(
        409,
        `${change.path} is changed in ${other.archivePath} and in ${change.archivePath} to different things, but can only be one loose file. Take one of them out.`,
      );
    files.set(name, other ?? change);
  }
  return [...files.values()];
}

/** Writes every change as a file of its own, and proves each by reading it back. */
export function buildLoose(
  game: GameView,
  changes: readonly ChangeRow[],
  targetOf: (file: string) => string,
  job: JobContext,
): ArchiveReport[] {
  return withoutTwins(game, changes).map((change, i) => {
    const name = looseNameOf(game, change);
    job.check();
    job.progress(i, changes.length, 'items', `writing ${name}`);
    const { length, ...written } = writeFile(change, name, targetOf(name));
    return {
      ...{ archive: name, sourceSha256: null, sizeBefore: 0, sizeAfter: length, ...written },
      bar: [{ sort: 'changed entry', length }],
      changes: [{ path: change.path, storedBefore: null, storedAfter: length }],
    };
  });
}

/** Writes what a change puts into a file of its own, and proves it by reading it back. */
export function writeFile(
  { preparedBlob, givenName }: ChangeRow,
  name: string,
  target: string,
): Pick<ArchiveReport, 'sha256' | 'proof'> & { readonly length: number } {
  const blob = blobFile(preparedBlob!);
  copyFlushed(blob, target);
  const [made, given] = [openFileSource(target, name), openFileSource(blob, givenName)];
  try {
    const at =
      made.length === given.length
        ? firstDifference(refOfSpan(made, 0, made.length), refOfSpan(given, 0, given.length))
        : Math.min(made.length, given.length);
    const holds = at === undefined;
    const detail = holds ? `${made.length} bytes exact` : `differs at byte ${at}`;
    return {
      ...{ length: made.length, sha256: hashFile(target)! },
      proof: { holds, claims: [{ claim: 'The file equals what was given', holds, detail }] },
    };
  } finally {
    made.close();
    given.close();
  }
}
