import type { Archive, Entry } from '@/core/archive';
import type { Finding, Mend } from '@/core/fit';
import { withRecoded } from '@/core/mod';
import { codecAsked, codecsFound } from '@/media/sound/node/recoded';
import { besideEntry, describedIn, withBeside } from '@/platform/node/media-scripts';
import { nodePrimitives } from '@/platform/node/primitives';
import { wholeEntry, MOST_PICTURE_BYTES } from '../looking/preview';
import { keysOf } from '../opening/keys-of';
import type { OpenedEntry } from '../opening/opened';

/** What something that is given has to be like: the entry as it is, or as it would be in the codec that mends ask for. */
export interface FitSlot {
  readonly bytes: Uint8Array;
  readonly path: string;
  readonly findings: readonly Finding[];
}

/** The slot that an entry of an original is under these mends. */
export function slotUnder(original: OpenedEntry, mends: readonly Mend[]): FitSlot {
  const isDescribed = (original.entry as Partial<Entry>).group?.sound !== undefined;
  const archive = original.archive as Archive;
  const entry = original.entry as Entry;
  const word = isDescribed ? codecAsked(entry, mends) : undefined;
  if (word !== undefined) return recodedSlot(archive, entry, word);
  return {
    bytes: wholeEntry(original, MOST_PICTURE_BYTES),
    path: entry.path,
    findings: isDescribed ? codecsFound(archive, entry, undefined) : [],
  };
}

const recodedSlot = (archive: Archive, entry: Entry, word: string): FitSlot =>
  withRecoded(archive, entry, word, { primitives: nodePrimitives, keys: keysOf(archive) }, (made, one) => {
    const plain = wholeEntry({ archive: made, entry: one }, MOST_PICTURE_BYTES);
    // Told while it is open.
    const described = describedIn(made, one)?.();
    const bytes = withBeside(plain, besideEntry(archive, entry.path), () => described);
    const findings = codecsFound(archive, entry, { word, path: one.path });
    return { bytes, path: one.path, findings };
  });
