import type { Archive } from '@/core/archive';
import { FormatError, refOfBytes } from '@/core/bytes';
import { keptError, type Finding } from '@/core/fit';
import { newPieces } from '@/core/mod';
import { flowFindings } from '@/media/film/core/flow';
import { flowOf } from '@/media/film/node/flow';
import type { OpenedEntry } from '../opening/opened';
import { foundInChange } from './wording';

/**
 * Of a stream that lies in pieces with times: whether what is given falls into such pieces, as it will have to when it is built. Undefined where the script of its archive says nothing of that.
 */
export function streamFinding({ archive, entry }: OpenedEntry, given: Uint8Array): Finding | undefined {
  if (!('context' in archive)) return undefined;
  try {
    const pieces = newPieces(archive as Archive, new Map([[entry.index, refOfBytes(given)]])).get(
      entry.index,
    );
    return (
      pieces && foundInChange('fits', 'pieces', { count: pieces.length, seconds: pieces.at(-1)!.seconds })
    );
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    return foundInChange('does not fit', 'no-pieces', { error: keptError(error) });
  }
}

/** Films are read ahead, and begun in the middle: what of that is harder with what is given. */
export async function flowFound({ archive, entry }: OpenedEntry, given: Uint8Array): Promise<Finding[]> {
  const made = await flowOf(refOfBytes(given));
  const old = made && (await flowOf(archive.plain(entry)));
  return made && old ? flowFindings(made, old) : [];
}
