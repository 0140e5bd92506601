import { FormatError } from '@/core/bytes';
import { typeOfHead } from '@/core/kinds';
import {
  cuesOf,
  loopsOf,
  markChunks,
  otherChunks,
  plainForm,
  readWave,
  readWaveFacts,
  writeWave,
} from '../core/audio';
import { editedSound, type EditedSound, type SoundEdit } from '../core/edit';
import type { TracksOf } from '../core/fit';
import { shapedSound } from './packed';

/** More samples than this, over all channels, are not held for an edit. */
const MOST_SAMPLES = 100_000_000;

/** A sound after some edits, as a wave file of floats with its loop and cues where they are by then. Throws FormatError for what is no sound. */
export async function editSound(
  bytes: Uint8Array,
  name: string,
  edits: readonly SoundEdit[],
  tracksOf: TracksOf,
): Promise<Uint8Array> {
  const { rate, channels, loop, cues } = editedSound(await openedSound(bytes, name, tracksOf), edits);
  const form = plainForm(rate, channels.length, 'float', 32);
  return writeWave(channels, form, markChunks(rate, loop, cues));
}

/** A sound as its samples, with its loop and, of a wave file, its cues. Throws FormatError for what is no sound, and for what is too long to be held. */
export async function openedSound(bytes: Uint8Array, name: string, tracksOf: TracksOf): Promise<EditedSound> {
  const isWave = typeOfHead(bytes)?.ending === 'wav';
  const plain = isWave ? plainWave(bytes) : undefined;
  if (plain) return plain;
  const head = await tracksOf(bytes);
  if (head?.sort !== 'sound' || !head.rate || !head.channels)
    throw new FormatError('not-recognised', { file: name, expected: 'a sound', actual: 'something else' });
  refuseLong(name, (head.seconds ?? 0) * head.rate * head.channels);
  const shape = { rate: head.rate, channels: head.channels, from: head.channels };
  const sound = readWave(await shapedSound(bytes, name, shape));
  const { rate, channels } = sound;
  const loop = head.loop && {
    from: Math.round(head.loop.from * rate),
    to: Math.round(head.loop.to * rate) - 1,
  };
  return { rate, channels, loop, cues: [] };
}

/** A wave file of plain samples with its marks; undefined for one that is packed. */
function plainWave(bytes: Uint8Array): EditedSound | undefined {
  let facts: ReturnType<typeof readWaveFacts>;
  try {
    facts = readWaveFacts(bytes);
  } catch (error) {
    if (error instanceof FormatError && error.code !== 'truncated') return undefined;
    throw error;
  }
  refuseLong('the sound', facts.frames * facts.channels);
  const chunks = otherChunks(bytes, facts);
  const { rate, channels } = readWave(bytes);
  return { rate, channels, loop: loopsOf(chunks)[0], cues: cuesOf(chunks) };
}

function refuseLong(file: string, samples: number): void {
  if (samples > MOST_SAMPLES)
    throw new FormatError('budget', {
      ...{ file, expected: `at most ${MOST_SAMPLES} samples`, actual: `${Math.round(samples)}` },
      remedy: 'Take it out, edit it in another program and give it back',
    });
}
