import { errorSaid, findingsOf, type ErrorKept, type Words } from '@/core/fit';
import type { WaveFacts } from './audio';

/** A wave file's form, as findings keep it. */
export type WaveForm = Pick<WaveFacts, 'rate' | 'channels' | 'sort' | 'bits'>;
/** A sound in another format. */
export interface CodedForm {
  readonly codec: string;
  readonly rate: number;
  readonly channels: number;
}
/** A file of sound or film by its format, and what its container tells. */
export interface PlayedForm {
  readonly format: string;
  readonly width?: number | undefined;
  readonly height?: number | undefined;
  readonly pictureRate?: number | undefined;
  readonly rate?: number | undefined;
  readonly channels?: number | undefined;
}
/** Loops in seconds and the number of cues. */
export interface MarksKept {
  readonly from?: number;
  readonly to?: number;
  readonly cues: number;
}

const FORMS: Readonly<Record<WaveFacts['sort'], (bits: number) => string>> = {
  whole: (bits) => `${bits} bits`,
  float: (bits) => `floats of ${bits} bits`,
  'a-law': () => 'A-law',
  'mu-law': () => 'µ-law',
};
const AS_SLOT = 'As the slot has it';
const channelsSaid = (channels: number): string => (channels === 1 ? 'mono' : `${channels} channels`);
const waveSaid = ({ rate, channels, sort, bits }: WaveForm): string =>
  `${rate} Hz, ${channelsSaid(channels)}, ${FORMS[sort](bits)}`;
const formSaid = (form: WaveForm | CodedForm): string =>
  'codec' in form ? `${form.codec}, ${form.rate} Hz, ${channelsSaid(form.channels)}` : waveSaid(form);

const round = (number: number): number => Math.round(number * 100) / 100;
/** What its container tells of it, in words. */
export const numbersSaid = ({ width, height, pictureRate, rate, channels }: PlayedForm): string[] => [
  ...(width && height ? [`${width} x ${height}`] : []),
  ...(pictureRate ? [`${round(pictureRate)} pictures a second`] : []),
  ...(rate ? [`${rate} Hz`] : []),
  ...(channels ? [channelsSaid(channels)] : []),
];
/** A file of sound or film in words. */
export const playedSaid = (form: PlayedForm): string => [form.format, ...numbersSaid(form)].join(', ');
const seconds = (length: number): string => `${length.toFixed(2)} s`;

const marksSaid = ({ from, to, cues }: MarksKept): string =>
  [
    ...(from !== undefined && to !== undefined ? [`loops from ${seconds(from)} to ${seconds(to)}`] : []),
    ...(cues > 0 ? [`${cues} ${cues === 1 ? 'cue' : 'cues'}`] : []),
  ].join(', ');

interface Played {
  readonly given: PlayedForm;
  readonly slot: PlayedForm;
}

export const soundWording = {
  'same-form': ({ form }: { form: WaveForm }): Words => ({ what: waveSaid(form), why: AS_SLOT }),
  'other-form': ({ given, slot }: { given: WaveForm | CodedForm; slot: WaveForm }): Words => ({
    what: `${formSaid(given)} given, the slot has ${waveSaid(slot)}`,
    why: 'A game plays samples at the rate that it expects; others run fast, slow or not at all',
    mend: `Convert to ${waveSaid(slot)}`,
  }),
  converted: ({ given, slot }: { given: WaveForm | CodedForm; slot: WaveForm }): Words => ({
    what: `${formSaid(given)} converted to ${waveSaid(slot)}`,
    why: AS_SLOT,
  }),
  clipped: ({ samples }: { samples: number }): Words => ({
    what: `${samples} samples are clipped`,
    why: 'They are louder than samples of this form can be; make the sound quieter before it is given',
  }),
  'other-codec': ({ codec, isOwn }: { codec: string; isOwn: boolean }): Words => ({
    what: isOwn ? `it may be ${codec} again, as the slot has it` : `it may be kept as ${codec} as well`,
    why: isOwn
      ? 'That is what the archive says of it now'
      : 'The archive has others that are, and its row can say so',
    mend: isOwn ? `Keep as ${codec} again` : `Keep as ${codec}`,
  }),
  'taken-codec': ({ codec, path, was }: { codec: string; path: string; was: string }): Words => ({
    what: `kept as ${codec}, in the place of ${was}`,
    why:
      path === was
        ? 'The archive says so of it, as it does of others that are'
        : `The archive says so of it, and calls it ${path} from then on; what asks for it under the old name does not find it, what asks by its number does`,
  }),
  length: ({ is, was }: { is: number; was: number }): Words => ({
    what: `${seconds(is)} instead of ${seconds(was)}`,
    why: 'What runs beside the sound, lips or a cut, may have ended or not yet begun',
  }),
  silent: (): Words => ({ what: 'nothing is heard in it', why: 'The slot holds something that is heard' }),
  level: ({ is, was }: { is: number; was: number }): Words => ({
    what: `${Math.abs(is - was).toFixed(0)} dB ${is > was ? 'louder' : 'softer'} than the slot (${is.toFixed(1)} dB, ${was.toFixed(1)} dB)`,
    why: 'Beside the other sounds of the game it stands out, or is not heard',
  }),
  silence: ({ at, is, was }: { at: 'start' | 'end'; is: number; was: number }): Words => ({
    what: `${seconds(is)} of silence ${at === 'start' ? 'before it begins' : 'behind its end'}, the slot has ${seconds(was)}`,
    why: 'What is heard comes late, or something waits for its end',
  }),
  'own-marks': ({ marks }: { marks: MarksKept }): Words => ({
    what: `with marks of its own: ${marksSaid(marks)}`,
    why: 'They are moved with the rate',
  }),
  'slot-marks': ({ marks, isBehind }: { marks: MarksKept; isBehind: boolean }): Words => ({
    what: `the marks of the slot are kept: ${marksSaid(marks)}`,
    why: isBehind
      ? 'The new sound is shorter, so that those behind its end stand at its end'
      : 'The given file has none',
  }),
  'no-loop': ({ marks }: { marks: MarksKept }): Words => ({
    what: `the slot ${marksSaid(marks)}, what is given says nothing of a loop`,
    why: 'Played again and again it begins at its start, or ends; give it with a loop of its own (a WAV with one, or comments LOOPSTART and LOOPLENGTH)',
  }),
  'for-no-sound': ({ given }: { given: PlayedForm }): Words => ({
    what: `${playedSaid(given)} given, and what the slot holds is none`,
    why: 'The game reads something else here; give a file of the same format as the slot, as it comes out of the archive',
  }),
  'unknown-given': ({ name, slot }: { name: string; slot: PlayedForm }): Words => ({
    what: `${name} is of no format that is known here; the slot holds ${playedSaid(slot)}`,
    why: `Give a file of ${playedSaid(slot)}`,
  }),
  'other-format': ({ given, slot, isMade }: Played & { isMade: boolean }): Words => ({
    what: `${playedSaid(given)} given, the slot holds ${playedSaid(slot)}`,
    why: `The game reads what it finds by one codec only${isMade ? '' : `, and it is not changed into another here yet; give ${playedSaid(slot)}`}`,
    mend: `Convert to ${playedSaid(slot)}`,
  }),
  'other-numbers': ({ given, slot }: Played): Words => ({
    what: `${numbersSaid(given).join(', ')} given, the slot has ${numbersSaid(slot).join(', ')}`,
    why: 'The file says so itself; whether the game goes by that cannot be known here',
    mend: `Convert to ${playedSaid(slot)}`,
  }),
  'same-format': ({ format }: { format: string }): Words => ({
    what: `${format}, taken as given`,
    why: 'Container and codec are those of the slot',
  }),
  'same-outside': ({ format }: { format: string }): Words => ({
    what: `both are ${format}`,
    why: 'What is inside is not compared, so whether it fits cannot be known here',
  }),
  'played-length': ({ is, was }: { is: number; was: number }): Words => ({
    what: `${seconds(is)} instead of ${seconds(was)}`,
    why: 'What runs beside it may have ended or not yet begun',
  }),
  packed: ({ given, made }: { given: PlayedForm; made: PlayedForm }): Words => ({
    what: `${playedSaid(given)} converted to ${playedSaid(made)}`,
    why: AS_SLOT,
  }),
  'packed-otherwise': (facts: Played & { made: PlayedForm | null }): Words => ({
    what: `${playedSaid(facts.given)} became ${facts.made ? playedSaid(facts.made) : 'something that cannot be read'}, the slot holds ${playedSaid(facts.slot)}`,
    why: 'It could not be made just as the slot has it; give a file of that format',
  }),
  'wrapped-unknown': ({ is, was, title }: { is: number; was: number; title: string }): Words => ({
    what: `${is} bytes in the place of ${was}`,
    why: `Nothing is known about what lies in ${title}, so its fit cannot be checked`,
  }),
  wrapped: ({ title }: { title: string }): Words => ({
    what: `put into ${title}`,
    why: 'What its head says of the sound is worked out anew',
  }),
  /** Signal to noise in dB; null where nothing is lost. */
  coded: ({ codec, ratio, isGood }: { codec: string; ratio: number | null; isGood: boolean }): Words => ({
    what: `coded as ${codec}, ${ratio === null ? 'nothing lost' : `signal to noise ${ratio.toFixed(1)} dB`}`,
    why: isGood ? AS_SLOT : 'The codec is heard in this sound; a smoother one would lose less',
  }),
  'lips-apart': ({ is, was }: { is: number; was: number }): Words => ({
    what: `${seconds(is)}; the mouth moves for ${seconds(was)}`,
    why: 'The game moves it for as long as it was told, whatever is heard. Cut the sound, or fill it up with silence',
  }),
  'too-long': ({ is, most }: { is: number; most: number }): Words => ({
    what: `${seconds(is)}; the game takes ${seconds(most)} at most`,
    why: 'What is behind that is cut off, or ends the game. Cut the sound',
  }),
  'only-read': ({ form, title, error }: { form: string; title: string; error?: ErrorKept }): Words => ({
    what: error ? errorSaid(error) : `the slot has a sound in ${form}`,
    why: `${title} keeps it in ${form}, which is only read here. Give a file that another program has written in that form, without anything around it`,
  }),
  'as-coded': ({ form, seconds: is, was }: { form: string; seconds: number; was: number }): Words => ({
    what: `${form}, ${seconds(is)} instead of ${seconds(was)}`,
    why: 'It was decoded to its end in the form of the slot',
  }),
  'wrapped-refused': ({ error }: { error: ErrorKept }): Words => ({
    what: errorSaid(error),
    why: 'What is given does not go into it',
  }),
  'wave-refused': ({ error }: { error: ErrorKept }): Words => ({
    what: errorSaid(error),
    why: 'The slot holds a wave file',
  }),
  'broken-given': ({ error }: { error: ErrorKept }): Words => ({
    what: errorSaid(error),
    why: 'What is given cannot be read whole',
  }),
};

export const foundInSound = findingsOf<typeof soundWording>('sound');
