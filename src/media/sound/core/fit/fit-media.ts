import { FormatError } from '@/core/bytes';
import { containerOf, typeOfHead } from '@/core/kinds';
import { isIvf, readIvfHead, readTracks } from '@/media/film/core';
import type { FilmHead, SoundHead } from '@/media/head';
import type { Finding, Mend, Prepared } from '@/core/fit';
import { loopsOf, otherChunks, readWave, readWaveFacts } from '../audio';
import type { SoundTools } from './fit-sound';
import { heard } from './heard';
import { foundInSound, numbersSaid, playedSaid, type MarksKept, type PlayedForm } from '../wording';

/** What is known of a file by its bytes. */
interface Known {
  /** What both files have to have in common: container and codec. */
  readonly format: string;
  readonly tracks: SoundHead | FilmHead | undefined;
}

/** Reads what a container of sound or film tells; elsewhere, perhaps, since it may not come to an end. */
export type TracksOf = (bytes: Uint8Array) => Promise<SoundHead | FilmHead | undefined>;

type LoopKept = NonNullable<SoundHead['loop']>;

/** What a sound is to be packed as. */
export interface WantedSound {
  readonly codec: 'vorbis' | 'opus' | 'flac' | 'mp3';
  readonly rate: number;
  readonly channels: number;
  /** Channels of what is given. */
  readonly from: number;
  /** Bits a second that the slot has, and bits of a sample. */
  readonly bitRate: number;
  readonly bits: number;
  /** Seconds; where it is to be played again from. */
  readonly loop?: LoopKept | undefined;
}

/** What fitting asks others for. */
export interface MediaTools {
  readonly tracksOf?: TracksOf;
  /** Packs any common sound anew; elsewhere, since it takes its time. Throws FormatError where it cannot be read. */
  readonly pack?: (given: Uint8Array, name: string, wanted: WantedSound) => Promise<Uint8Array>;
  /** Decodes a sound into a wave file of floats; where there is none nothing is said of how it is heard. */
  readonly hear?: SoundTools['decode'];
}

/** Formats that sounds can be packed in here, as they are spelled. */
const PACKED: Readonly<Record<string, WantedSound['codec']>> = {
  'VORBIS in OGG': 'vorbis',
  'OPUS in OGG': 'opus',
  FLAC: 'flac',
  MP3: 'mp3',
};
const LEAST_BIT_RATE = 16_000;
const MOST_BIT_RATE = 320_000;

/** What the slot wants of a sound that is given; undefined where it cannot be made here. */
function wantedSound(slot: Uint8Array, wanted: Known, got: Known): WantedSound | undefined {
  const codec = PACKED[wanted.format];
  const { tracks } = wanted;
  if (!codec || tracks?.sort !== 'sound' || got.tracks?.sort !== 'sound') return undefined;
  if (!tracks.rate || !tracks.channels || !got.tracks.channels) return undefined;
  const rate = tracks.seconds ? (8 * slot.length) / tracks.seconds : 128_000;
  return {
    codec,
    rate: tracks.rate,
    channels: tracks.channels,
    from: got.tracks.channels,
    bitRate: Math.max(LEAST_BIT_RATE, Math.min(MOST_BIT_RATE, rate)),
    bits: tracks.bits ?? 16,
  };
}

const tracksHere: TracksOf = (bytes) =>
  readTracks(bytes.length, (offset, length) => bytes.subarray(offset, offset + length));

async function knownOf(bytes: Uint8Array, tracksOf: TracksOf): Promise<Known | undefined> {
  if (isIvf(bytes) && bytes.length >= 32) {
    const tracks = readIvfHead(bytes);
    return { format: `${tracks.codec} in IVF`, tracks };
  }
  const type = typeOfHead(bytes);
  if (!type) return undefined;
  const container = containerOf(type.ending).toUpperCase();
  const isPlayed = type.kind === 'sound' || type.kind === 'film';
  const tracks = isPlayed ? await tracksOf(bytes) : undefined;
  const codec = tracks && tracks.codec !== container ? `${tracks.codec} in ` : '';
  return { format: `${codec}${container}`, tracks };
}

/** What findings keep of it. */
function formOf({ format, tracks }: Known): PlayedForm {
  if (!tracks) return { format };
  if (tracks.sort === 'film')
    return { format, width: tracks.width, height: tracks.height, pictureRate: tracks.pictureRate };
  return { format, rate: tracks.rate, channels: tracks.channels };
}

const refused = (finding: Finding): Prepared => ({ bytes: undefined, findings: [finding] });

/**
 * Whether a file of sound, film or anything else that is known by its first bytes suits a slot that holds one: what is in another container
 * or codec is refused with what the slot needs. Undefined where neither of them is known.
 */
export async function fitMedia(
  slot: Uint8Array,
  given: Uint8Array,
  name: string,
  mends: ReadonlySet<Mend> = new Set(),
  { tracksOf = tracksHere, pack, hear }: MediaTools = {},
): Promise<Prepared | undefined> {
  const [wanted, got] = [await knownOf(slot, tracksOf), await knownOf(given, tracksOf)];
  if (!wanted && !got) return undefined;
  if (!wanted) return refused(foundInSound('does not fit', 'for-no-sound', { given: formOf(got!) }));
  if (!got) return refused(foundInSound('does not fit', 'unknown-given', { name, slot: formOf(wanted) }));
  const forms = { given: formOf(got), slot: formOf(wanted) };
  const loops = loopsIn(wanted, got, given);
  const plain = pack && wantedSound(slot, wanted, got);
  const sound = plain && { ...plain, loop: loops.given ?? loops.kept };
  const offer = sound ? ({ mend: 'convert sound' } as const) : {};
  const isOther = numbersSaid(forms.given).join() !== numbersSaid(forms.slot).join();
  if (sound && mends.has('convert sound') && (got.format !== wanted.format || isOther)) {
    const bytes = await pack(given, name, sound);
    const ready = packedAnew(bytes, { wanted, got, made: await knownOf(bytes, tracksOf) });
    const marked = ready.bytes
      ? { ...ready, findings: [...ready.findings, ...loopFound(loops, true)] }
      : ready;
    return withHeard(marked, slot, name, wanted, hear);
  }
  if (got.format !== wanted.format)
    return refused(foundInSound('does not fit', 'other-format', { ...forms, isMade: !!sound }, offer));
  const ready: Prepared = {
    bytes: given,
    findings: [
      ...(isOther ? [foundInSound('look', 'other-numbers', forms, offer)] : []),
      ...lengthFound(wanted, got),
      ...loopFound(loops, false),
      wanted.tracks
        ? foundInSound('fits', 'same-format', { format: wanted.format })
        : foundInSound('look', 'same-outside', { format: wanted.format }),
    ],
  };
  return withHeard(ready, slot, name, wanted, hear);
}

/** Loops of what is given and of the slot; and the slot's as far as what is given goes. */
interface Loops {
  readonly given: LoopKept | undefined;
  readonly slot: LoopKept | undefined;
  readonly kept: LoopKept | undefined;
  readonly isBehind: boolean;
}

function loopsIn(wanted: Known, got: Known, given: Uint8Array): Loops {
  const loopOf = ({ tracks }: Known): LoopKept | undefined =>
    tracks?.sort === 'sound' ? tracks.loop : undefined;
  const slot = loopOf(wanted);
  const end = got.tracks?.seconds ?? Infinity;
  const isBehind = slot !== undefined && slot.to > end;
  // One that would begin behind the end is none.
  const kept = slot && slot.from < end ? { from: slot.from, to: Math.min(slot.to, end) } : undefined;
  return { given: loopOf(got) ?? loopOfWave(given), slot, kept, isBehind };
}

function loopOfWave(given: Uint8Array): LoopKept | undefined {
  if (typeOfHead(given)?.ending !== 'wav') return undefined;
  try {
    const facts = readWaveFacts(given);
    const [loop] = loopsOf(otherChunks(given, facts));
    return loop && { from: loop.from / facts.rate, to: (loop.to + 1) / facts.rate };
  } catch (error) {
    // What is wrong with it, whoever decodes it says.
    if (error instanceof FormatError) return undefined;
    throw error;
  }
}

/** What becomes of the loop: its own, the slot's where it is packed anew, or none. */
function loopFound({ given, slot, kept, isBehind }: Loops, isPacked: boolean): Finding[] {
  const marksOf = ({ from, to }: LoopKept): MarksKept => ({ from, to, cues: 0 });
  if (given) return [foundInSound('fits', 'own-marks', { marks: marksOf(given) })];
  if (!slot) return [];
  if (!isPacked || !kept) return [foundInSound('look', 'no-loop', { marks: marksOf(slot) })];
  return [foundInSound(isBehind ? 'look' : 'fits', 'slot-marks', { marks: marksOf(kept), isBehind })];
}

/** Longer sounds are not decoded for what is heard in them. */
const MOST_HEARD_SECONDS = 600;

/** With what is heard otherwise than in the slot, where both are sounds that can be decoded. */
async function withHeard(
  ready: Prepared,
  slot: Uint8Array,
  name: string,
  { tracks }: Known,
  hear: MediaTools['hear'],
): Promise<Prepared> {
  const { bytes, findings } = ready;
  if (!bytes || !hear || tracks?.sort !== 'sound' || !tracks.rate || !tracks.channels) return ready;
  if ((tracks.seconds ?? Infinity) > MOST_HEARD_SECONDS) return ready;
  const shape = { rate: tracks.rate, channels: tracks.channels, from: tracks.channels };
  try {
    const [was, is] = [await hear(slot, 'the slot', shape), await hear(bytes, name, shape)];
    return { bytes, findings: [...findings, ...heard(readWave(was), readWave(is))] };
  } catch (error) {
    // A slot that is damaged already says nothing about what is given.
    if (error instanceof FormatError) return ready;
    throw error;
  }
}

/** Whether the given one is much longer or shorter. */
function lengthFound(wanted: Known, got: Known): Finding[] {
  const [long, short] = [wanted.tracks?.seconds, got.tracks?.seconds];
  if (!long || !short || Math.abs(long - short) <= Math.max(0.5, long * 0.5)) return [];
  return [foundInSound('look', 'played-length', { is: short, was: long })];
}

/** What was packed anew, looked at as any file is that is given. */
function packedAnew(
  bytes: Uint8Array,
  { wanted, got, made }: { readonly wanted: Known; readonly got: Known; readonly made: Known | undefined },
): Prepared {
  const forms = { given: formOf(got), slot: formOf(wanted) };
  const form = made ? formOf(made) : null;
  if (!form || playedSaid(form) !== playedSaid(forms.slot))
    return refused(foundInSound('does not fit', 'packed-otherwise', { ...forms, made: form }));
  return {
    bytes,
    findings: [
      foundInSound('fits', 'packed', { given: forms.given, made: form }),
      ...lengthFound(wanted, made!),
    ],
  };
}
