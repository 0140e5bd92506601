import { containerOf, typeOfHead } from '../kinds';
import { isIvf, readIvfHead, readTracks, type FilmHead, type SoundHead } from '../media/head';
import type { Finding, Prepared } from './finding';

/** What is known of a file by its bytes. */
interface Known {
  /** What both files have to have in common: container and codec. */
  readonly format: string;
  readonly tracks: SoundHead | FilmHead | undefined;
}

/** Reads what a container of sound or film tells; elsewhere, perhaps, since it may not come to an end. */
export type TracksOf = (bytes: Uint8Array) => Promise<SoundHead | FilmHead | undefined>;

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
  tracksOf = tracksHere,
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
  if (got.format !== wanted.format)
    return refused(
      `${spelled(got)} given, the slot holds ${spelled(wanted)}`,
      `The game reads what it finds by one codec only, and it is not changed into another here yet; give ${spelled(wanted)}`,
    );
  const findings: Finding[] = [];
  const [before, now] = [numbersOf(wanted.tracks), numbersOf(got.tracks)];
  if (before.join() !== now.join())
    findings.push({
      state: 'look',
      what: `${now.join(', ')} given, the slot has ${before.join(', ')}`,
      why: 'The file says so itself; whether the game goes by that cannot be known here',
    });
  const [long, short] = [wanted.tracks?.seconds, got.tracks?.seconds];
  if (long && short && Math.abs(long - short) > Math.max(0.5, long * 0.5))
    findings.push({
      state: 'look',
      what: `${short.toFixed(2)} s instead of ${long.toFixed(2)} s`,
      why: 'What runs beside it may have ended or not yet begun',
    });
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
