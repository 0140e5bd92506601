import { FormatError } from '@/core/bytes';
import { keptError, type Finding, type Mend, type Prepared } from '@/core/fit';
import { typeOfHead } from '@/core/kinds';
import type { MediaTools, MediumFile } from '@/media/medium';
import { likeBytes, wrappedSoundOf } from '@/platform/node/media-scripts';
import { readWave, signalToNoise, type WrappedSound } from '../core/audio';
import { fitMedia, fitSound, type SoundTools } from '../core/fit';
import { foundInSound } from '../core/wording';
import { packedSound, shapedSound } from './packed';

/** Makes a sound or film ready for a slot: one that a script wraps, or one in an open format. */
export async function prepareSound(
  slot: MediumFile,
  given: MediumFile,
  mends: ReadonlySet<Mend>,
  tools: MediaTools,
): Promise<Prepared | undefined> {
  let sound: WrappedSound | undefined;
  try {
    sound = wrappedSoundOf(slot.bytes, slot.name, tools.scripts);
  } catch (error) {
    // A slot that cannot be read is none of ours; what is put into it is taken as it is.
    if (!(error instanceof FormatError)) throw error;
  }
  if (!sound && typeOfHead(slot.bytes)?.ending !== 'wav') return open(slot.bytes, given, mends, tools);
  return orRefused('wrapped-refused', async () => {
    const inner = wrappedSoundOf(given.bytes, given.name, tools.scripts)?.inner;
    const plain = inner ? { bytes: inner, name: given.name } : given;
    return sound ? wrapped(sound, slot, plain, mends, tools) : open(slot.bytes, plain, mends, tools);
  });
}

/** Sounds are decoded and resampled by a process beside the server, and their heads read by whoever lends the tools. */
const soundTools = ({ tracksOf }: MediaTools): SoundTools => ({
  decode: shapedSound,
  async about(given) {
    const head = typeOfHead(given)?.kind === 'sound' ? await tracksOf(given) : undefined;
    return head?.sort === 'sound' && head.rate && head.channels
      ? { rate: head.rate, channels: head.channels, codec: head.codec }
      : undefined;
  },
});

/** A sound or film in an open format. Undefined where the slot holds none. */
const open = (
  slot: Uint8Array,
  { bytes, name }: MediumFile,
  mends: ReadonlySet<Mend>,
  tools: MediaTools,
): Promise<Prepared | undefined> =>
  typeOfHead(slot)?.ending === 'wav'
    ? orRefused('wave-refused', () => fitSound(slot, bytes, name, mends, soundTools(tools)))
    : orRefused('broken-given', () =>
        fitMedia(slot, bytes, name, mends, {
          tracksOf: tools.tracksOf,
          pack: packedSound,
          hear: shapedSound,
        }),
      );

/** A sound that a script describes: what it wraps is fitted, and wrapped again. */
async function wrapped(
  sound: WrappedSound,
  slot: MediumFile,
  given: MediumFile,
  mends: ReadonlySet<Mend>,
  tools: MediaTools,
): Promise<Prepared> {
  const { bytes } = given;
  const ready = await open(sound.inner, given, mends, tools);
  if (ready && !ready.bytes) return ready;
  const { title } = sound;
  const sizes = { is: bytes.length, was: sound.inner.length, title };
  const findings = ready?.findings ?? [foundInSound('look', 'wrapped-unknown', sizes)];
  const inner = ready?.bytes ?? bytes;
  const made = sound.rewrap(inner);
  return {
    bytes: made,
    findings: [
      ...findings,
      ...lossOf(sound, inner, made, slot, tools),
      foundInSound('fits', 'wrapped', { title }),
    ],
  };
}

/** Below this the noise of a codec is heard beside the sound. */
const GOOD_RATIO = 20;

/** What coding costs: what was made is decoded again and held against what was given. */
function lossOf(
  { lossy }: WrappedSound,
  inner: Uint8Array,
  made: Uint8Array,
  slot: MediumFile,
  { scripts }: MediaTools,
): Finding[] {
  if (lossy === undefined) return [];
  const back = wrappedSoundOf(likeBytes(made, slot.bytes), slot.name, scripts);
  if (!back) return [];
  const [given, heard] = [readWave(inner).channels, readWave(back.inner).channels];
  const ratio = signalToNoise(given, heard);
  const isGood = ratio >= GOOD_RATIO;
  const facts = { codec: lossy, ratio: ratio === Infinity ? null : ratio, isGood };
  return [foundInSound(isGood ? 'fits' : 'look', 'coded', facts)];
}

/** What is given and cannot be read does not fit, in the words of whoever tried. */
async function orRefused<T>(
  code: 'wrapped-refused' | 'wave-refused' | 'broken-given',
  work: () => Promise<T>,
): Promise<T | Prepared> {
  try {
    return await work();
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    const kept = { error: keptError(error) };
    return { bytes: undefined, findings: [foundInSound('does not fit', code, kept)] };
  }
}
