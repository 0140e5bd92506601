import { memorySource } from '@/core/bytes';
import { trackHead } from '@/media/film/node/track-head';
import type { Head } from '@/media/head';
import type { HeadFile, MediumNode } from '@/media/medium';
import { wrappedSoundOf, type MediaScripts } from '@/platform/node/media-scripts';
import { prepareSound } from './fit';
import { toWave } from './sounds';

/** What a container needs of its beginning. */
const FIRST_BYTES = 256 << 10;

/** The head of a sound that a script describes: that of what it wraps; or of one in an open format. */
async function soundHead(
  { source, first, name, held }: HeadFile,
  scripts: MediaScripts,
): Promise<Head | undefined> {
  if (!scripts(source ?? memorySource(first, name), 'sound')) return undefined;
  const bytes = held();
  if (!bytes) return { sort: 'large' };
  const sound = wrappedSoundOf(bytes, name, scripts);
  return sound && trackHead(memorySource(sound.inner, name), sound.inner.subarray(0, FIRST_BYTES));
}

/** Sounds, where there is Node. */
export const soundNode: MediumNode = {
  kind: 'sound',
  converters: { wav: toWave },
  head: soundHead,
  fit: prepareSound,
};
