import { openArchive } from '@/core/archive';
import { FormatError, memorySource } from '@/core/bytes';
import { keptError, type Finding } from '@/core/fit';
import { ArchiveRow } from '@/db';
import { nodePrimitives } from '@/platform/node/primitives';
import { keysWith } from '../opening/open-file';
import { keyBytes, type OpenedEntry } from '../opening/opened';
import { scriptById } from '../opening/scripts';
import { foundInChange } from './wording';

/**
 * Of something that is put in the place of an entry that is an archive: whether it opens by the same script and key, as the game will open it, and all in it holds. Undefined where
 * the entry is none that was opened.
 */
export async function innerFinding(
  { gameId, row, entry }: OpenedEntry,
  given: Uint8Array,
): Promise<Finding | undefined> {
  const inner = await ArchiveRow.findOne({ where: { gameId, parentId: row.id, parentEntry: entry.index } });
  const script = inner?.script ? scriptById(inner.script) : undefined;
  if (inner?.state !== 'open' || !script) return undefined;
  const keys = keysWith(script, await keyBytes(inner.keyId));
  const { title } = script;
  try {
    const archive = openArchive(script, memorySource(given, entry.path), {
      primitives: nodePrimitives,
      keys,
    });
    try {
      const broken = archive.entries.find(({ problem }) => problem)?.problem;
      if (broken) throw broken;
      return foundInChange('fits', 'opens', { title, count: archive.entries.length });
    } finally {
      archive.discard();
    }
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    // A wrong key may show in whatever is read first with it.
    const isKey = error.code === 'key-wrong' || inner.keyId !== null;
    return foundInChange('does not fit', 'does-not-open', { title, isKey, error: keptError(error) });
  }
}
