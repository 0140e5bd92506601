import fs from 'node:fs';
import path from 'node:path';
import { FormatError } from '@/core/bytes';
import { pathProblem } from '@/core/archive';

/** Whether `target` is `root` or lies below it; both absolute and already resolved. */
export function isInside(root: string, target: string): boolean {
  const relative = path.relative(root, target);
  return relative === '' || (!relative.startsWith('..') && !path.isAbsolute(relative));
}

/**
 * The real path of something below a root. Refuses paths that are unsafe by their spelling and links that
 * lead out.
 */
export function resolveInside(root: string, relative: string): string {
  const problem = pathProblem(relative);
  const realRoot = fs.realpathSync(root);
  const target = path.join(realRoot, relative);
  const real = problem ? target : realOf(target);
  if (problem ?? !isInside(realRoot, real))
    throw new FormatError('unsafe-path', {
      actual: JSON.stringify(relative),
      why: problem ?? 'a link leads out of the registered folder',
    });
  return real;
}

/** The real path, of the nearest existing folder where the thing itself is not there yet. */
function realOf(target: string): string {
  try {
    return fs.realpathSync(target);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
    const parent = path.dirname(target);
    return parent === target ? target : path.join(realOf(parent), path.basename(target));
  }
}
