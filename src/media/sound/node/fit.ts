import { FormatError } from '@/core/bytes';
import { keptError, type Finding, type Mend, type Prepared } from '@/core/fit';
import { typeOfHead } from '@/core/kinds';
import type { MediaTools, MediumFile } from '@/media/medium';
import { likeBytes, readInWay, wrappedSoundOf } from '@/platform/node/media-scripts';
import { readWave, readWaveFacts, signalToNoise, type WrappedSound } from '../core/audio';
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
  if (sound?.asCoded) return onlyRead(sound, given);
  return orRefused('wrapped-refused', async () => {
    const inner = wrappedSoundOf(given.bytes, given.name, tools.scripts)?.inner;
    const plain = inner ? { bytes: inner, name: given.name } : given;
    return sound ? wrapped(sound, slot, plain, mends, tools) : open(slot.bytes, plain, mends, tools);
  });
}

/** A sound in a form that is read here and not written: what is given has to be in it already. */
function onlyRead(
  { asCoded, lossy, title, bounds, inner: old }: WrappedSound,
  { bytes }: MediumFile,
): Prepared {
  const form = lossy ?? title;
  // Forms without a mark of their own would take anything.
  if (typeOfHead(bytes)?.kind === 'sound')
    return { bytes: undefined, findings: [foundInSound('does not fit', 'only-read', { form, title })] };
  try {
    const { made, inner } = asCoded!(bytes);
    const facts = { form, seconds: secondsOf(inner), was: secondsOf(old) };
    const findings = [...boundsFound(bounds, facts.seconds), foundInSound('fits', 'as-coded', facts)];
    return { bytes: unless(findings, made), findings };
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    const kept = { form, title, error: keptError(error) };
    return { bytes: undefined, findings: [foundInSound('does not fit', 'only-read', kept)] };
  }
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
  const isWave = typeOfHead(inner)?.ending === 'wav';
  const seconds = isWave ? secondsOf(inner) : (await tools.tracksOf?.(inner))?.seconds;
  const bounds = seconds === undefined ? [] : boundsFound(sound.bounds, seconds);
  return {
    bytes: unless(bounds, made),
    findings: [
      ...bounds,
      ...findings,
      ...lossOf(sound, inner, made, slot, tools),
      foundInSound('fits', 'wrapped', { title }),
    ],
  };
}

const secondsOf = (wave: Uint8Array): number => {
  const { frames, rate } = readWaveFacts(wave);
  return frames / rate;
};
/** What is made, unless it does not fit. */
const unless = (findings: readonly Finding[], made: Uint8Array): Uint8Array | undefined =>
  findings.some(({ state }) => state === 'does not fit') ? undefined : made;

/** A mouth that stands still, or moves on, for so long is seen. */
const SEEN_SECONDS = 0.25;

/** What the length of a sound is held against, where its script says so. */
function boundsFound(bounds: WrappedSound['bounds'], seconds: number): Finding[] {
  const { lips, longest } = bounds ?? {};
  return [
    ...(longest !== undefined && seconds > longest
      ? [foundInSound('does not fit', 'too-long', { is: seconds, most: longest })]
      : []),
    ...(lips !== undefined && Math.abs(seconds - lips) > SEEN_SECONDS
      ? [foundInSound('look', 'lips-apart', { is: seconds, was: lips })]
      : []),
  ];
}

/** Below this the noise of a codec is heard beside the sound. */
const GOOD_RATIO = 20;

/** What coding costs: what was made is decoded again and held against what was given. */
function lossOf(
  { lossy, way }: WrappedSound,
  inner: Uint8Array,
  made: Uint8Array,
  slot: MediumFile,
  { scripts }: MediaTools,
): Finding[] {
  if (lossy === undefined) return [];
  const back = wrappedSoundOf(
    // Whatever the new one sounds like, it was written in this way.
    readInWay(likeBytes(made, slot.bytes), way?.taken),
    slot.name,
    scripts,
  );
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
