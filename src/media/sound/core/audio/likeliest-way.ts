import type { Archive, Entry } from '@/core/archive';
import { FormatError, type BytesRef } from '@/core/bytes';
import { asText, type SoundType } from '@/core/script';
import { unlikeliness } from '../variants';
import { codecOf, samplesOf } from './described-samples';
import { sampleReader } from './samples';
import {
  blockFrames,
  bytesOf,
  formTitle,
  frameBytes,
  framesIn,
  toWaveData,
  type SampleForm,
} from './stored-samples';

/** Which of several ways to read the same bytes was taken. */
export interface WayTaken {
  /** Its number, from 0. */
  readonly taken: number;
  /** Whether that was said by somebody, and not told by how they sound. */
  readonly isSaid: boolean;
  /** Each in words, and how unlike a sound it is; null for one that cannot be. */
  readonly ways: readonly { readonly title: string; readonly unlikeliness: number | null }[];
}

/** So many frames are tried of each way, which take at most so many bytes. */
const TRIED_FRAMES = 16_384;
const TRIED_BYTES = 1 << 20;

/**
 * Of the ways in which a script says that a sound may have to be read the one that sounds most like one: each is tried on the first blocks. `plain` is
 * the entry, or enough of its beginning. The first where there is one only, or none can be; that which somebody `said`, by its number, where it can be.
 */
export function likeliestWay(
  sound: SoundType,
  archive: Archive,
  entry: Entry,
  plain: Uint8Array,
  file: string,
  said: number | undefined,
): { readonly sound: SoundType; readonly said: WayTaken | undefined } {
  if (sound.others.length === 0) return { sound, said: undefined };
  const all = [sound, ...sound.others];
  const ways = all.map((way) => triedWay(way, archive, entry, plain, file));
  const score = (i: number): number => ways[i]?.unlikeliness ?? Infinity;
  const isSaid = said !== undefined && score(said) < Infinity;
  const taken = isSaid ? said : ways.reduce((best, _way, i) => (score(i) < score(best) ? i : best), 0);
  return { sound: all[taken]!, said: { taken, isSaid, ways } };
}

function triedWay(
  way: SoundType,
  archive: Archive,
  entry: Entry,
  plain: Uint8Array,
  file: string,
): WayTaken['ways'][number] {
  try {
    const codec = codecOf(asText(way.codec.run(archive.context, entry.row)), file);
    if (codec === 'file' || codec === 'ffmpeg') return { title: 'a file', unlikeliness: null };
    const samples = samplesOf(way, archive, entry, codec, entry.size, file);
    const room = framesIn(samples, Math.max(0, plain.length - samples.first));
    const frames = Math.min(samples.frames, room, TRIED_FRAMES);
    const bytes = bytesOf(samples, frames, plain.length - samples.first);
    const data = toWaveData(samples, plain.subarray(samples.first, samples.first + bytes), frames);
    const score = unlikeliness(firstChannel(samples, data, frames), blockFrames(samples));
    return { title: formTitle(samples), unlikeliness: score };
  } catch (error) {
    if (error instanceof FormatError) return { title: error.message, unlikeliness: null };
    throw error;
  }
}

/** The samples of the first channel of the data of a wave file, as if they were of 16 bits. */
function firstChannel(form: SampleForm, data: Uint8Array, frames: number): Float64Array {
  const view = new DataView(data.buffer, data.byteOffset, data.length);
  const read = sampleReader(form.sort, form.bits);
  const step = frameBytes(form);
  return Float64Array.from({ length: frames }, (_, i) => 32_768 * read(view, i * step));
}

/** So much of an entry as the ways are tried on. */
export function beginningOf(plain: BytesRef): Uint8Array {
  const most = Math.min(plain.length, TRIED_BYTES);
  const beginning = new Uint8Array(most);
  let length = 0;
  for (const chunk of plain.chunks()) {
    const part = chunk.subarray(0, most - length);
    beginning.set(part, length);
    length += part.length;
    if (length >= most) break;
  }
  return beginning.subarray(0, length);
}
