import { z } from 'zod';
import { FormatError } from '@/core/bytes';
import { loudnessOf, type Loop } from '../audio';

/** A place in a sound, in seconds. */
const Place = z.number().min(0).max(86_400);
const stretch = { from: Place, to: Place };
/** Where it holds; the whole sound where nothing is said. */
const anywhere = { from: Place.optional(), to: Place.optional() };

/** A small edit of a sound, or of a stretch of it. */
export const SoundEdit = z.discriminatedUnion('sort', [
  /** Leaves the stretch alone, without what is around it. */
  z.object({ sort: z.literal('keep'), ...stretch }),
  /** Takes the stretch out; what is behind it follows what was before. */
  z.object({ sort: z.literal('cut'), ...stretch }),
  z.object({ sort: z.literal('silence'), ...stretch }),
  /** Puts silence in. */
  z.object({ sort: z.literal('pause'), at: Place, seconds: z.number().min(0.001).max(3600) }),
  /** From nothing to all, or from all to nothing. */
  z.object({ sort: z.literal('fade in'), ...anywhere }),
  z.object({ sort: z.literal('fade out'), ...anywhere }),
  z.object({ sort: z.literal('gain'), db: z.number().min(-60).max(60), ...anywhere }),
  /** Makes what is heard as loud as this, in dB below full scale, as far as no peak is cut off. */
  z.object({ sort: z.literal('level'), db: z.number().min(-60).max(0) }),
  z.object({ sort: z.literal('reverse'), ...anywhere }),
]);
export type SoundEdit = z.infer<typeof SoundEdit>;

/** A sound that is worked on: a number from -1 to 1 for each sample of each channel, and places in it in samples. */
export interface EditedSound {
  readonly rate: number;
  readonly channels: readonly Float32Array[];
  readonly loop: Loop | undefined;
  readonly cues: readonly number[];
}

/** A sound after some edits, one after the other. Throws FormatError where a stretch lies outside, or nothing would be left. */
export const editedSound = (sound: EditedSound, edits: readonly SoundEdit[]): EditedSound =>
  edits.reduce((now, edit) => apply(now, edit), sound);

const lengthOf = ({ channels }: EditedSound): number => channels[0]?.length ?? 0;

/** The samples that a stretch is, from and to before. */
function samplesOf(
  sound: EditedSound,
  {
    sort,
    from = 0,
    to,
  }: { readonly sort: string; readonly from?: number | undefined; readonly to?: number | undefined },
): readonly [number, number] {
  const length = lengthOf(sound);
  const first = Math.round(from * sound.rate);
  const last = to === undefined ? length : Math.min(length, Math.round(to * sound.rate));
  if (first < last) return [first, last];
  throw new FormatError('bad-value', {
    ...{ fieldPath: sort, expected: `a stretch within ${(length / sound.rate).toFixed(2)} s` },
    actual: `${from} to ${to ?? 'the end'}`,
  });
}

function apply(sound: EditedSound, edit: SoundEdit): EditedSound {
  switch (edit.sort) {
    case 'keep': {
      const [from, to] = samplesOf(sound, edit);
      return moved(
        sound,
        (channel) => channel.slice(from, to),
        (place) => (place < from || place >= to ? undefined : place - from),
      );
    }
    case 'cut':
      return withoutStretch(sound, edit);
    case 'pause': {
      const at = Math.min(lengthOf(sound), Math.round(edit.at * sound.rate));
      const count = Math.max(1, Math.round(edit.seconds * sound.rate));
      const put = (channel: Float32Array): Float32Array => {
        const out = new Float32Array(channel.length + count);
        out.set(channel.subarray(0, at));
        out.set(channel.subarray(at), at + count);
        return out;
      };
      return moved(sound, put, (place) => (place < at ? place : place + count));
    }
    case 'reverse': {
      const [from, to] = samplesOf(sound, edit);
      const turn = (channel: Float32Array): Float32Array => {
        const out = channel.slice();
        out.subarray(from, to).reverse();
        return out;
      };
      return moved(sound, turn, (place) => (place < from || place >= to ? place : to - 1 - (place - from)));
    }
    default:
      return { ...sound, channels: sound.channels.map(louder(sound, edit)) };
  }
}

function withoutStretch(sound: EditedSound, edit: SoundEdit & { sort: 'cut' }): EditedSound {
  const [from, to] = samplesOf(sound, edit);
  if (to - from === lengthOf(sound))
    throw new FormatError('bad-value', {
      ...{ fieldPath: 'cut', expected: 'a stretch with something around it', actual: 'the whole sound' },
      remedy: 'Silence it instead, or take the change out',
    });
  const cut = (channel: Float32Array): Float32Array => {
    const out = new Float32Array(channel.length - (to - from));
    out.set(channel.subarray(0, from));
    out.set(channel.subarray(to), from);
    return out;
  };
  return moved(sound, cut, (place) => (place < from ? place : place < to ? undefined : place - (to - from)));
}

/** The samples of all channels changed in one way, and what becomes of places; a loop that loses an end is none any more. */
function moved(
  { rate, channels, loop, cues }: EditedSound,
  change: (channel: Float32Array) => Float32Array,
  placeOf: (place: number) => number | undefined,
): EditedSound {
  const ends = loop && [placeOf(loop.from), placeOf(loop.to)];
  const [a, b] = ends ?? [];
  return {
    ...{ rate, channels: channels.map(change) },
    loop:
      a === undefined || b === undefined || a === b
        ? undefined
        : { from: Math.min(a, b), to: Math.max(a, b) },
    cues: cues.flatMap((place) => placeOf(place) ?? []).sort((x, y) => x - y),
  };
}

type Louder = Extract<SoundEdit, { sort: 'silence' | 'fade in' | 'fade out' | 'gain' | 'level' }>;

/** What a sample of a channel becomes where only how loud it is changes. */
function louder(sound: EditedSound, edit: Louder): (channel: Float32Array) => Float32Array {
  const [from, to] = samplesOf(sound, edit);
  const by = factorOf(sound, edit, from, to);
  return (channel) => {
    const out = channel.slice();
    for (let i = from; i < to; i++) out[i]! *= by(i);
    return out;
  };
}

function factorOf(sound: EditedSound, edit: Louder, from: number, to: number): (i: number) => number {
  switch (edit.sort) {
    case 'silence':
      return () => 0;
    case 'fade in':
      return (i) => (i - from) / (to - from);
    case 'fade out':
      return (i) => (to - 1 - i) / (to - from);
    case 'gain': {
      const factor = 10 ** (edit.db / 20);
      return () => factor;
    }
    case 'level': {
      const { level } = loudnessOf(sound.channels, sound.rate);
      if (level === Number.NEGATIVE_INFINITY)
        throw new FormatError('bad-value', {
          fieldPath: 'level',
          expected: 'something that is heard',
          actual: 'silence',
        });
      let peak = 0;
      for (const channel of sound.channels)
        for (const value of channel) peak = Math.max(peak, Math.abs(value));
      const factor = Math.min(10 ** ((edit.db - level) / 20), 1 / peak);
      return () => factor;
    }
  }
}
