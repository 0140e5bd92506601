import { FormatError } from '@/core/bytes';
import type { ModelType } from '@/core/script';
import { TRACK_SORTS, type Clip, type Track, type TrackSort } from '../form/form';
import { readField } from '../streams/vertex-stream';
import type { Asking } from './asking';
import type { Stream } from './streams';

/** A track as it was read: the stream that it is, and the number of its clip. */
export interface ReadTrack {
  readonly stream: Stream;
  readonly clip: number;
  readonly track: Track;
}

export interface ReadClips {
  readonly clips: readonly Clip[];
  readonly tracks: readonly ReadTrack[];
}

/** Clips and their tracks, in the file's own space. Throws FormatError for clips that there are not. */
export function clipsOf(streams: readonly Stream[], { clips }: ModelType, asking: Asking): ReadClips {
  if (!clips) return { clips: [], tracks: [] };
  const bare = asking.rows('clips.each', clips.each).map((row, i) => ({
    name: asking.text('clips.name', clips.name, row, `clip ${i}`),
    group: asking.text('clips.group', clips.group, row, ''),
    rate: clips.rate ? Math.max(0, asking.number('clips.rate', clips.rate, row)) : 0,
    isLoop: asking.truth('clips.loop', clips.loop, row, false),
    ...(clips.frames && {
      frames: {
        first: clips.frames.first ? asking.count('clips.frames.first', clips.frames.first, row) : 0,
        count: asking.count('clips.frames.count', clips.frames.count, row),
      },
    }),
  }));
  // Of two streams for one movement of a bone the last counts; the other's bytes stay.
  const byMovement = new Map<string, ReadTrack>();
  for (const stream of streams.filter(({ type }) => type.stream === 'keys')) {
    const read = trackOf(stream, bare, asking);
    byMovement.set(`${read.clip} ${read.track.bone} ${read.track.sort}`, read);
  }
  const tracks = [...byMovement.values()];
  return {
    tracks,
    clips: bare.map((clip, i) => ({
      ...clip,
      tracks: tracks.filter((one) => one.clip === i).map(({ track }) => track),
    })),
  };
}

function trackOf(
  stream: Stream,
  clips: readonly { readonly name: string; readonly rate: number }[],
  asking: Asking,
): ReadTrack {
  const { entry, type, fields, bytes, layout } = stream;
  const of = { file: asking.file, fieldPath: `model of ${entry.path}` };
  const clip = asking.count('clip', type.clip!, entry.row);
  if (clip >= clips.length)
    throw new FormatError('bad-value', {
      ...{ ...of, expected: `a clip below ${clips.length}`, actual: `${clip}` },
    });
  const word = asking.text('moves', type.moves, entry.row, '');
  const sort = TRACK_SORTS.find((one) => one === word);
  if (!sort)
    throw new FormatError('script-wrong', {
      ...{ ...of, expected: TRACK_SORTS.join(', '), actual: `'${word}'` },
    });
  const bone = asking.count('bone', type.bone!, entry.row);
  const values = readField(bytes, layout, fields.get('value')!, numbersOf(sort));
  const time = fields.get('time');
  const { rate } = clips[clip]!;
  if (!time && rate <= 0)
    throw new FormatError('script-wrong', {
      ...of,
      expected: "'time', or the rate of its clip",
      actual: 'neither',
    });
  const times = time
    ? readField(bytes, layout, time, 1)
    : Float32Array.from({ length: layout.count }, (_, frame) => frame / rate);
  return { stream, clip, track: { bone, sort, times, values } };
}

export const numbersOf = (sort: TrackSort): 3 | 4 => (sort === 'turn' ? 4 : 3);
