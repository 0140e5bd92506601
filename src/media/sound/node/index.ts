import { memorySource } from '@/core/bytes';
import { typeOfHead } from '@/core/kinds';
import { trackHead } from '@/media/film/node/track-head';
import type { Head } from '@/media/head';
import type { Look } from '@/media/look';
import type { HeadFile, LookFile, MediumNode } from '@/media/medium';
import { wrappedSoundOf, type MediaScripts } from '@/platform/node/media-scripts';
import { isAdpcmWave, readWaveFacts } from '../core/audio';
import { prepareSound } from './fit';
import { soundConverters } from './sounds';

/** What a container needs of its beginning. */
const FIRST_BYTES = 256 << 10;

/** The head of a sound that a script describes: that of what it wraps; or of one in an open format. */
async function soundHead(
  { source, first, name, held, describedKind }: HeadFile,
  scripts: MediaScripts,
): Promise<Head | undefined> {
  const isWrapped =
    describedKind === 'sound' || scripts(source ?? memorySource(first, name), 'sound') !== undefined;
  if (!isWrapped && !isAdpcmWave(first)) return undefined;
  const bytes = held();
  if (!bytes) return { sort: 'large' };
  const sound = wrappedSoundOf(bytes, name, scripts);
  const head =
    sound && (await trackHead(memorySource(sound.inner, name), sound.inner.subarray(0, FIRST_BYTES)));
  return head?.sort === 'sound' && sound?.lossy ? { ...head, codec: sound.lossy, bits: undefined } : head;
}

/** Codecs of samples that are whole numbers, lowest byte first; those are looked at more closely. */
const WHOLE_NUMBERS = /^PCM-[SU]\d+$/;

/** Of a wave file the head is held against the samples, so that one that is cut short says so. */
function lookAtSound(head: Head, file: LookFile): Look | undefined {
  if (head.sort !== 'sound' || !WHOLE_NUMBERS.test(head.codec)) return undefined;
  const bytes = file.bytes();
  return typeOfHead(bytes)?.ending === 'wav' ? { ...head, bits: readWaveFacts(bytes).bits } : undefined;
}

/** Sounds, where there is Node. */
export const soundNode: MediumNode = {
  kind: 'sound',
  converters: soundConverters,
  head: soundHead,
  look: (head, file) => Promise.resolve(lookAtSound(head, file)),
  fit: prepareSound,
};
