import { containerOf, typeOfHead } from '@/core/kinds';
import { isIvf, readIvfHead, readTracks } from '@/media/film/core';
import type { FilmHead, SoundHead } from '@/media/head';
import type { Finding, Mend, MendOffer, Prepared } from '@/core/fit';

/** What is known of a file by its bytes. */
interface Known {
  /** What both files have to have in common: container and codec. */
  readonly format: string;
  readonly tracks: SoundHead | FilmHead | undefined;
}

/** Reads what a container of sound or film tells; elsewhere, perhaps, since it may not come to an end. */
export type TracksOf = (bytes: Uint8Array) => Promise<SoundHead | FilmHead | undefined>;

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
}

/** What fitting asks others for. */
export interface MediaTools {
  readonly tracksOf?: TracksOf;
  /** Packs any common sound anew; elsewhere, since it takes its time. Throws FormatError where it cannot be read. */
  readonly pack?: (given: Uint8Array, name: string, wanted: WantedSound) => Promise<Uint8Array>;
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

function numbersOf(tracks: Known['tracks']): string[] {
  if (!tracks) return [];
  if (tracks.sort === 'film')
    return [
      `${tracks.width} x ${tracks.height}`,
      ...(tracks.pictureRate ? [`${round(tracks.pictureRate)} pictures a second`] : []),
    ];
  return [
    ...(tracks.rate ? [`${tracks.rate} Hz`] : []),
    ...(tracks.channels ? [tracks.channels === 1 ? 'mono' : `${tracks.channels} channels`] : []),
  ];
}

const round = (number: number): number => Math.round(number * 100) / 100;
const spelled = ({ format, tracks }: Known): string => [format, ...numbersOf(tracks)].join(', ');

const refused = (what: string, why: string): Prepared => ({
  bytes: undefined,
  findings: [{ state: 'does not fit', what, why }],
});

/**
 * Whether a file of sound, film or anything else that is known by its first bytes suits a slot that holds one: what is in another container
 * or codec is refused with what the slot needs. Undefined where neither of them is known.
 */
export async function fitMedia(
  slot: Uint8Array,
  given: Uint8Array,
  name: string,
  mends: ReadonlySet<Mend> = new Set(),
  { tracksOf = tracksHere, pack }: MediaTools = {},
): Promise<Prepared | undefined> {
  const [wanted, got] = [await knownOf(slot, tracksOf), await knownOf(given, tracksOf)];
  if (!wanted && !got) return undefined;
  if (!wanted)
    return refused(
      `${spelled(got!)} given, and what the slot holds is none`,
      `The game reads something else here; give a file of the same format as the slot, as it comes out of the archive`,
    );
  if (!got)
    return refused(
      `${name} is of no format that is known here; the slot holds ${spelled(wanted)}`,
      `Give a file of ${spelled(wanted)}`,
    );
  const sound = pack && wantedSound(slot, wanted, got);
  const mend: MendOffer | undefined = sound && {
    name: 'convert sound',
    label: `Convert to ${spelled(wanted)}`,
  };
  const isOther = numbersOf(wanted.tracks).join() !== numbersOf(got.tracks).join();
  if (sound && mends.has('convert sound') && (got.format !== wanted.format || isOther)) {
    const bytes = await pack(given, name, sound);
    return packedAnew(bytes, { wanted, got, made: await knownOf(bytes, tracksOf) });
  }
  if (got.format !== wanted.format)
    return {
      bytes: undefined,
      findings: [
        {
          state: 'does not fit',
          what: `${spelled(got)} given, the slot holds ${spelled(wanted)}`,
          why: `The game reads what it finds by one codec only${mend ? '' : `, and it is not changed into another here yet; give ${spelled(wanted)}`}`,
          ...(mend && { mend }),
        },
      ],
    };
  const findings: Finding[] = [];
  const [before, now] = [numbersOf(wanted.tracks), numbersOf(got.tracks)];
  if (before.join() !== now.join())
    findings.push({
      state: 'look',
      what: `${now.join(', ')} given, the slot has ${before.join(', ')}`,
      why: 'The file says so itself; whether the game goes by that cannot be known here',
      ...(mend && { mend }),
    });
  findings.push(...lengthFound(wanted, got));
  findings.push(
    wanted.tracks
      ? {
          state: 'fits',
          what: `${wanted.format}, taken as given`,
          why: 'Container and codec are those of the slot',
        }
      : {
          state: 'look',
          what: `both are ${wanted.format}`,
          why: 'What is inside is not compared, so whether it fits cannot be known here',
        },
  );
  return { bytes: given, findings };
}

/** Whether the given one is much longer or shorter. */
function lengthFound(wanted: Known, got: Known): Finding[] {
  const [long, short] = [wanted.tracks?.seconds, got.tracks?.seconds];
  if (!long || !short || Math.abs(long - short) <= Math.max(0.5, long * 0.5)) return [];
  return [
    {
      state: 'look',
      what: `${short.toFixed(2)} s instead of ${long.toFixed(2)} s`,
      why: 'What runs beside it may have ended or not yet begun',
    },
  ];
}

/** What was packed anew, looked at as any file is that is given. */
function packedAnew(
  bytes: Uint8Array,
  { wanted, got, made }: { readonly wanted: Known; readonly got: Known; readonly made: Known | undefined },
): Prepared {
  if (!made || spelled(made) !== spelled(wanted))
    return refused(
      `${spelled(got)} became ${made ? spelled(made) : 'something that cannot be read'}, the slot holds ${spelled(wanted)}`,
      'It could not be made just as the slot has it; give a file of that format',
    );
  return {
    bytes,
    findings: [
      { state: 'fits', what: `${spelled(got)} converted to ${spelled(made)}`, why: 'As the slot has it' },
      ...lengthFound(wanted, made),
    ],
  };
}
