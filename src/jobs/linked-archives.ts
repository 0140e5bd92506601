import fs from 'node:fs';
import { LRUCache } from 'lru-cache';
import type { EntryStore } from '@/core/archive';
import { resolveInside } from '@/platform/node/inside';
import { sayWays } from '@/platform/node/media-scripts';
import { keysWith, openFile, openWithin } from '@/server/opening/open-file';
import type { ArchiveLink } from '@/server/opening/opened';
import { scriptById } from '@/server/opening/scripts';
import { UserError } from '@/platform/user-error';

interface Held {
  readonly archive: EntryStore;
  readonly close: () => void;
}

/** So many chains of archives stay open. */
const MOST_OPEN = 4;

/** Archives that are opened from what is sent with the work, so that a thread needs no database; the last ones stay open. */
export class LinkedArchives {
  private readonly open = new LRUCache<string, readonly Held[]>({ max: MOST_OPEN, dispose: closeAll });

  /** The innermost archive of a chain. Throws FormatError or UserError where one cannot be opened. */
  archive(gameFolder: string, links: readonly ArchiveLink[]): EntryStore {
    const file = resolveInside(gameFolder, links[0]!.path);
    const stat = fs.statSync(file, { throwIfNoEntry: false });
    if (!stat)
      throw new UserError(
        410,
        `${links[0]!.path} is no longer in the game folder. Put it back and scan the folder again.`,
      );
    const stamp = JSON.stringify([
      ...[file, stat.ino, stat.size, stat.mtimeMs],
      ...links.map(({ path, script, key, parentEntry }) => [path, script, key && [...key], parentEntry]),
    ]);
    let chain = this.open.get(stamp);
    if (!chain) this.open.set(stamp, (chain = openChain(file, links)));
    return sayWays(chain.at(-1)!.archive, links.at(-1)!.ways);
  }
}

function closeAll(chain: readonly Held[]): void {
  for (const { close } of [...chain].reverse()) close();
}

function openChain(file: string, links: readonly ArchiveLink[]): readonly Held[] {
  const chain: Held[] = [];
  try {
    for (const { path, script: id, key, parentEntry } of links) {
      const script = scriptById(id);
      if (!script) throw new UserError(409, `The script ${id} that opens ${path} is no longer there.`);
      const keys = keysWith(script, key);
      const outer = chain.at(-1);
      chain.push(
        outer
          ? openWithin(outer.archive, parentEntry, path, script, keys)
          : openFile(file, path, script, keys),
      );
    }
  } catch (error) {
    closeAll(chain);
    throw error;
  }
  return chain;
}
