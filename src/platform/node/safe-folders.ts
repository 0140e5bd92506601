import fs from 'node:fs';
import { FormatError } from '@/core/bytes';
import { isInside } from './inside';

/** Makes folders below a root, each once, and makes sure that no link leads one of them out of it. */
export class SafeFolders {
  private readonly safe = new Set<string>();

  /** `root` as its real path. */
  constructor(private readonly root: string) {}

  make(folder: string): void {
    if (this.safe.has(folder)) return;
    fs.mkdirSync(folder, { recursive: true });
    if (!isInside(this.root, fs.realpathSync(folder)))
      throw new FormatError('unsafe-path', {
        actual: folder,
        why: 'a link in the target leads out of it',
        remedy: 'Choose another folder',
      });
    this.safe.add(folder);
  }
}
