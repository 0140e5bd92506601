import { isOfAnother, type Conversion } from '@/core/recipe';
import type { BatchTask } from './run-batch';
import type { WrittenFolder } from './written-folder';

/** A file that is to be written, before anything is looked at. */
export interface FileWanted {
  readonly index: number;
  readonly path: string;
  readonly storedSize: number;
  /** Path below the output folder. */
  readonly file: string;
  /** Game and recipe, as `game:recipe`. */
  readonly by: string;
  readonly source: string;
  readonly conversion: Conversion;
}

/** Told at once, or to be done. */
export type Planned = BatchTask | { readonly told: 'skipped' | 'kept'; readonly reason: string };

/**
 * Looks at what stands in the place of a file: tells what is known without reading anything, and gives a task for the rest.
 * With `edited` as `replace`, files that somebody changed are written over.
 */
export function planTask(out: WrittenFolder, wanted: FileWanted, edited: 'keep' | 'replace'): Planned {
  const { index, path, storedSize, file, by, source, conversion } = wanted;
  const known = out.known.get(file);
  const { standing: there, seen, isFile } = out.standing(file);
  const standing = there === 'ours' && known && isOfAnother(known, { by, path }) ? 'foreign' : there;
  if (seen && !isFile) return { told: 'kept', reason: 'a folder or a link has the name of the file' };
  if (standing === 'edited' && edited === 'keep')
    return { told: 'kept', reason: 'somebody changed the file' };
  if (standing === 'foreign' && edited === 'keep')
    return { told: 'kept', reason: 'the file is not of this recipe' };
  const old = standing === 'ours' ? known : undefined;
  if (old?.source === source && old.settings === conversion && old.path === path)
    return { told: 'skipped', reason: 'the archive is as it was' };
  return {
    ...{ index, path, file, conversion, storedSize, seen },
    ...(old && {
      old: {
        ...{ source: old.source, stated: old.stated, stored: old.stored, settings: old.settings },
        ...{ content: old.content, size: old.size, modifiedMs: old.modifiedMs, path: old.path },
      },
    }),
  };
}
