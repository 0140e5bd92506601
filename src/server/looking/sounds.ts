import { FormatError } from '@/core/bytes';
import { wrappedSoundOf } from '@/platform/node/media-scripts';
import { MOST_LOOK_BYTES, wholeEntry } from './preview';
import type { OpenedEntry } from '../opening/opened';
import { mediaScriptFor } from '../opening/scripts';

/** What a player gets of bytes that are held: the sound that a script unwraps, or what they are. */
export function heardBytes(bytes: Uint8Array, name: string): Uint8Array {
  return wrappedSoundOf(bytes, name, mediaScriptFor)?.inner ?? bytes;
}

/** The sound in an entry that a script describes; undefined where it is none, or cannot be read as one. */
export function unwrappedSound(opened: OpenedEntry): Uint8Array | undefined {
  const { entry } = opened;
  if (entry.size > MOST_LOOK_BYTES) return undefined;
  try {
    return wrappedSoundOf(wholeEntry(opened), entry.path, mediaScriptFor)?.inner;
  } catch (error) {
    if (error instanceof FormatError) return undefined;
    throw error;
  }
}

/** In which of several ways the sound of an entry is read; undefined where there is one way only, or it is none. */
export function wayRead({ archive, entry }: Pick<OpenedEntry, 'archive' | 'entry'>): number | undefined {
  if (entry.size > MOST_LOOK_BYTES) return undefined;
  try {
    return wrappedSoundOf(wholeEntry({ archive, entry }), entry.path, mediaScriptFor)?.way?.taken;
  } catch (error) {
    if (error instanceof FormatError) return undefined;
    throw error;
  }
}
