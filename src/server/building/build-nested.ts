import { Readable } from 'node:stream';
import { openArchive } from '@/core/archive';
import { planArchive, proveBuild, refuseFalse, type FilePlan } from '@/core/mod';
import { ArchiveRow, ChangeRow } from '@/db';
import { openFileSource } from '@/platform/node/file-source';
import { nodePrimitives } from '@/platform/node/primitives';
import { UserError } from '@/platform/user-error';
import type { GameView } from '../games/games';
import type { JobContext } from '../running/job-context';
import { blobFile, receiveBlob } from '../storage/storage';
import { keysOf } from '../opening/keys-of';
import { entryFor, prepareWork } from './build-work';

/** What parts the paths of archives that lie in each other. */
const WITHIN = '//';
const depthOf = ({ archivePath }: ChangeRow): number => archivePath.split(WITHIN).length;

/**
 * Changes in archives that lie in others become changes of the entries that those archives are: each inner archive is written anew and proved, the innermost first. What comes of it are
 * changes of files of the game folder alone.
 */
export async function foldNested(
  game: GameView,
  changes: readonly ChangeRow[],
  job: JobContext,
): Promise<ChangeRow[]> {
  let now = [...changes];
  for (let depth = Math.max(1, ...now.map(depthOf)); depth > 1; depth--) {
    const inner = now.filter((change) => depthOf(change) === depth);
    now = now.filter((change) => depthOf(change) < depth);
    for (const archivePath of [...new Set(inner.map((change) => change.archivePath))].sort()) {
      const own = inner.filter((change) => change.archivePath === archivePath);
      const folded = await foldOne(game, archivePath, own, job);
      const also = now.find(
        (change) =>
          change.archivePath === folded.archivePath &&
          change.entryIndex === folded.entryIndex &&
          change.action !== 'add',
      );
      if (also)
        throw new UserError(
          409,
          `${also.path} of ${also.archivePath} is ${also.action === 'remove' ? 'taken out' : 'replaced as a whole'}, and ${own[0]!.path} in it is changed. Take one of the two out of the mod.`,
        );
      now.push(folded);
    }
  }
  return now;
}

async function foldOne(
  game: GameView,
  archivePath: string,
  own: readonly ChangeRow[],
  job: JobContext,
): Promise<ChangeRow> {
  job.check();
  const work = await prepareWork(game, own, archivePath);
  try {
    const { planned, edited, changes, archive, row } = work;
    const parent = row.parentId === null ? null : await ArchiveRow.findByPk(row.parentId);
    if (!parent)
      throw new UserError(410, `${archivePath} is no longer in its archive. Scan the folder again.`);
    const plan = planArchive(planned, changes, { way: 'shifted', ...(edited && { edits: edited.marks }) });
    try {
      const [file, ...others] = plan.files;
      if (others.length > 0)
        throw new UserError(
          422,
          `${archivePath} is an archive of several files within another one, which is not rebuilt here. Extract it, repack it with bin/latch, and replace its files.`,
        );
      const { sha256, size } = await receiveBlob(Readable.from(chunksOf(file!)), Infinity);
      const written = openFileSource(blobFile(sha256), archivePath);
      try {
        const built = openArchive(archive.script, written, {
          primitives: nodePrimitives,
          keys: keysOf(archive),
        });
        const proof = proveBuild(
          archive,
          built,
          { changes, edited },
          {
            progress(done, total, item) {
              job.check();
              job.progress(done, total, 'bytes', `proving ${item} of ${archivePath}`);
            },
          },
        );
        refuseFalse(proof, archivePath);
      } finally {
        written.close();
      }
      const outer = await prepareWork(game, [], parent.path);
      try {
        const entryIndex = entryFor(outer.archive, row) ?? -1;
        const entry = outer.archive.entries[entryIndex];
        if (!entry)
          throw new UserError(410, `${archivePath} is no longer in its archive. Scan the folder again.`);
        return ChangeRow.build({
          ...{
            modId: own[0]!.modId,
            archivePath: parent.path,
            entryIndex,
            action: 'replace',
            likeIndex: null,
          },
          ...{ path: entry.path, kind: 'archive', givenName: entry.path, givenBlob: sha256, givenSize: size },
          ...{ preparedBlob: sha256, preparedSize: size, originalSize: entry.size },
          ...{ mends: [], findings: [], fit: 'fits', note: '' },
        });
      } finally {
        outer.close();
      }
    } finally {
      plan.discard();
    }
  } finally {
    work.close();
  }
}

/** The bytes of a planned file; each chunk is valid until the next one is asked for, so that it is copied. */
function* chunksOf({ segments }: FilePlan): Generator<Buffer> {
  for (const { bytes } of segments) for (const chunk of bytes.chunks()) yield Buffer.from(chunk);
}
