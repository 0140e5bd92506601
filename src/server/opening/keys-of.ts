import type { Archive } from '@/core/archive';
import { FormatError } from '@/core/bytes';

/** The keys that the source archive was opened with. */
export function keysOf(archive: Archive): Map<string, Uint8Array> {
  const keys = new Map<string, Uint8Array>();
  for (const name of archive.script.keys.keys()) {
    try {
      keys.set(name, archive.context.key(name));
    } catch (error) {
      // An open archive of a script that knows keys needs none.
      if (!(error instanceof FormatError)) throw error;
    }
  }
  return keys;
}
