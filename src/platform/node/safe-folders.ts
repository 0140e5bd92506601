import fs from 'node:fs';
import { FormatError } from '@/core/bytes';
import { isInside } from './inside';
import { makeFolders } from './make-folders';

/** Makes folders below a root, each once, and makes sure that no link leads one of them out of it. */
export class SafeFolders {
  private readonly safe = new Set<string>();

  /** `root` as its real path. */
  constructor(private readonly root: string) {}

  make(folder: string): void {
    if (this.safe.has(folder)) return;
    const refuse = (): never => {
      throw new FormatError('unsafe-path', {
        actual: folder,
        why: 'a link in the target leads out of it',
        remedy: 'Choose another folder',
      });
    };
    makeFolders(folder, (real) => isInside(this.root, real), refuse);
    // What was made may have been swapped for a link meanwhile.
    if (!isInside(this.root, fs.realpathSync(folder))) refuse();
    this.safe.add(folder);
  }
}
