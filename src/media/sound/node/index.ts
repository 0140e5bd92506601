import { FormatError, memorySource, type BytesRef } from '@/core/bytes';
import { FOUND, type Measured } from '@/core/catalogue';
import { typeOfHead } from '@/core/kinds';
import { trackHead } from '@/media/film/node/track-head';
import type { Head } from '@/media/head';
import type { Look } from '@/media/look';
import type { HeadFile, LookFile, LookTools, MediumNode } from '@/media/medium';
import { wrappedSoundOf, type MediaScripts } from '@/platform/node/media-scripts';
import {
  cuesOf,
  isAdpcmWave,
  loopsOf,
  measureWave,
  otherChunks,
  readWaveFacts,
  type WrappedSound,
} from '../core/audio';
import { prepareSound } from './fit';
import { soundConverters } from './sounds';

/** Larger ones are played without their marks. */
const MOST_LOOK_BYTES = 64 << 20;
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

/** Codecs of samples that are whole numbers, lowest byte first; the heads of those are held against their samples. */
const WHOLE_NUMBERS = /^PCM-[SU]\d+$/;

/** Of a wave file, also of one that a script unwraps, its marks; and whether it is cut short, which it then says. */
function lookAtSound(head: Head, file: LookFile, { scripts }: LookTools): Look | undefined {
  if (head.sort !== 'sound' || file.size > MOST_LOOK_BYTES) return undefined;
  const bytes = file.bytes();
  let wrapped: WrappedSound | undefined;
  try {
    wrapped = wrappedSoundOf(bytes, file.name, scripts);
  } catch (error) {
    // What is wrong with it, whoever plays it says.
    if (!(error instanceof FormatError)) throw error;
  }
  const { inner, way, title = '' } = wrapped ?? {};
  const wave = inner ?? bytes;
  if (typeOfHead(wave)?.ending !== 'wav') return undefined;
  const isPlain = inner !== undefined || WHOLE_NUMBERS.test(head.codec);
  if (!isPlain) return undefined;
  const facts = readWaveFacts(wave);
  const chunks = otherChunks(wave, facts);
  const [loop] = loopsOf(chunks);
  const cues = cuesOf(chunks).map((place) => place / facts.rate);
  return {
    ...head,
    ...(!inner && { bits: facts.bits }),
    ...(loop && { loop: { from: loop.from / facts.rate, to: (loop.to + 1) / facts.rate } }),
    ...(cues.length > 0 && { cues }),
    ...(way && { ways: { ...way, script: title } }),
  };
}

/** What a sound is measured as, from the wave file that it becomes. */
function measured(wave: BytesRef): Measured {
  const { seconds, rate, channels, level, isClipped, print } = measureWave(wave);
  const isSilent = level === Number.NEGATIVE_INFINITY;
  return {
    ...{ length: seconds, level, rate, channels, print },
    found: FOUND.measured | (isSilent ? FOUND.silent : 0) | (isClipped ? FOUND.clipped : 0),
  };
}

/** Sounds, where there is Node. */
export const soundNode: MediumNode = {
  kind: 'sound',
  converters: soundConverters,
  measure: {
    words: {
      job: 'Listen to the sounds of',
      done: 'sounds were listened to',
      known: 'length and level',
    },
    by: soundConverters.wav!,
    of: measured,
  },
  head: soundHead,
  look: (head, file, tools) => Promise.resolve(lookAtSound(head, file, tools)),
  fit: prepareSound,
};
