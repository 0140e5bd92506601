import { FormatError } from '@/core/bytes';
import {
  cuesOf,
  formOf,
  isMark,
  loopsOf,
  movedMarks,
  otherChunks,
  readWave,
  readWaveFacts,
  withChunks,
  writeWave,
  type NewChunk,
  type WaveFacts,
} from '../audio';
import type { Finding, Mend, Prepared } from '@/core/fit';
import { foundInSound, type WaveForm } from '../wording';
import { heard } from './heard';

/** What decodes and resamples, beside whoever asks. */
export interface SoundTools {
  /** Any common sound as a wave file of floats, at a rate and with so many channels. Throws FormatError where it is none. */
  decode(
    given: Uint8Array,
    name: string,
    shape: { readonly rate: number; readonly channels: number; readonly from: number },
  ): Promise<Uint8Array>;
  /** What a sound that is no wave file says of itself; undefined for what is no sound. */
  about(given: Uint8Array): Promise<{ rate: number; channels: number; codec: string } | undefined>;
}

const waveForm = ({ rate, channels, sort, bits }: WaveFacts): WaveForm => ({ rate, channels, sort, bits });

/** The head of a wave file; undefined where it is none, or packed in a way that is not read here. */
function waveOf(bytes: Uint8Array): WaveFacts | undefined {
  try {
    return readWaveFacts(bytes);
  } catch (error) {
    if (error instanceof FormatError && error.code !== 'truncated') return undefined;
    throw error;
  }
}

/**
 * Makes a given sound ready for the slot of a wave file: its rate, channels and form of samples become the slot's when that is asked for.
 * Loops, cues and labels are those of the given file, moved with its rate, or the slot's where it has none.
 */
export async function fitSound(
  slot: Uint8Array,
  given: Uint8Array,
  name: string,
  mends: ReadonlySet<Mend>,
  tools: SoundTools,
): Promise<Prepared> {
  const wanted = readWaveFacts(slot);
  const got = waveOf(given);
  const about = got ? undefined : await tools.about(given);
  if (!got && !about) readWaveFacts(given);
  const forms = { given: got ? waveForm(got) : about!, slot: waveForm(wanted) };
  const isSame =
    got?.rate === wanted.rate &&
    got.channels === wanted.channels &&
    got.bits === wanted.bits &&
    got.sort === wanted.sort;
  const findings: Finding[] = [];
  const slotMarks = otherChunks(slot, wanted).filter(isMark);
  let marks = got ? otherChunks(given, got).filter(isMark) : [];
  let bytes = given;
  let frames = got?.frames ?? 0;
  if (!isSame) {
    if (!mends.has('convert sound'))
      return {
        bytes: undefined,
        findings: [foundInSound('does not fit', 'other-form', forms, { mend: 'convert sound' })],
      };
    const { rate, channels } = wanted;
    const from = (got ?? about!).channels;
    const sound = readWave(await tools.decode(given, name, { rate, channels, from }));
    frames = sound.channels[0]!.length;
    const kept = marks.length > 0 ? movedMarks(marks, { from: got!.rate, to: wanted.rate, frames }) : [];
    const all =
      kept.length > 0 ? kept : movedMarks(slotMarks, { from: wanted.rate, to: wanted.rate, frames });
    bytes = writeWave(sound.channels, formOf(slot, wanted), all);
    findings.push(foundInSound('fits', 'converted', forms));
    const clipped = wanted.sort === 'float' ? 0 : beyond(sound.channels);
    if (clipped > 0) findings.push(foundInSound('look', 'clipped', { samples: clipped }));
    marks = kept;
  } else findings.push(foundInSound('fits', 'same-form', { form: forms.slot }));
  // The samples themselves stay byte by byte.
  if (isSame && marks.length === 0 && slotMarks.length > 0) {
    const kept = movedMarks(slotMarks, { from: wanted.rate, to: wanted.rate, frames });
    const own = otherChunks(given, got).filter((chunk) => chunk.name !== 'fact');
    bytes = withChunks(given, got, [...own, ...kept]);
  }
  findings.push(...marksFound(slotMarks, marks, wanted, frames));
  findings.push(...heard(readWave(slot), readWave(bytes)));
  const before = wanted.frames / wanted.rate;
  const after = frames / wanted.rate;
  if (Math.abs(after - before) > Math.max(0.5, before * 0.5))
    findings.push(foundInSound('look', 'length', { is: after, was: before }));
  return { bytes, findings };
}

function beyond(channels: readonly Float32Array[]): number {
  let count = 0;
  for (const channel of channels) for (const value of channel) if (Math.abs(value) > 1) count++;
  return count;
}

/** What becomes of loops and cues. */
function marksFound(
  slot: readonly NewChunk[],
  given: readonly NewChunk[],
  { rate }: WaveFacts,
  frames: number,
): Finding[] {
  const [loop] = loopsOf(given.length > 0 ? given : slot);
  const cues = cuesOf(given.length > 0 ? given : slot);
  if (!loop && cues.length === 0) return [];
  const marks = {
    ...(loop && { from: loop.from / rate, to: loop.to / rate }),
    cues: cues.length,
  };
  if (given.length > 0) return [foundInSound('fits', 'own-marks', { marks })];
  const isBehind = (loop !== undefined && loop.to >= frames) || cues.some((place) => place >= frames);
  return [foundInSound(isBehind ? 'look' : 'fits', 'slot-marks', { marks, isBehind })];
}
