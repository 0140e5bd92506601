/**
 * A model as it is worked with here, whatever file it came from: places in metres, x to the right, y up and z towards whoever looks, as in
 * glTF 2.0 (Khronos, section 3.4). All arrays of a part are as long as it has vertices, times what stands behind them.
 */
export interface Form {
  readonly parts: readonly Part[];
  readonly materials: readonly Material[];
  readonly bones: readonly Bone[];
  readonly clips: readonly Clip[];
}

/** Triangles of one material. */
export interface Part {
  readonly name: string;
  /** Its level of detail: 0 is the finest. */
  readonly level: number;
  /** Number of its material; -1 for none. */
  readonly material: number;
  /** 3 a vertex. */
  readonly places: Float32Array;
  /** 3 a vertex, of length 1. */
  readonly normals?: Float32Array | undefined;
  /** 4 a vertex: direction, and 1 or -1 for the side of the third axis. */
  readonly tangents?: Float32Array | undefined;
  /** Sets of texture coordinates, 2 a vertex: from the left, and from the top. */
  readonly coordinates: readonly Float32Array[];
  /** 4 a vertex, 0 to 1. */
  readonly colours?: Float32Array | undefined;
  /** Numbers of bones, and how much each of them moves the vertex: 4 a vertex. */
  readonly joints?: Uint16Array | undefined;
  readonly weights?: Float32Array | undefined;
  /** 3 a triangle, counter-clockwise from in front. */
  readonly triangles: Uint32Array;
  readonly morphs: readonly Morph[];
}

/** Another shape of a part: by how much each vertex is moved. */
export interface Morph {
  readonly name: string;
  readonly places: Float32Array;
}

export interface Bone {
  readonly name: string;
  /** Number of the bone that it hangs on; -1 for none. */
  readonly parent: number;
  /** In terms of its parent: 3 metres, a turn as x, y, z, w of a unit quaternion, and 3 sizes. */
  readonly place: Triple;
  readonly turn: Quadruple;
  readonly size: Triple;
  /** From the model into the bone as it was when the vertices were bound to it: 16, column by column. Undefined where it follows from the bones as they stand. */
  readonly inverse?: readonly number[] | undefined;
}

export type Triple = readonly [number, number, number];
export type Quadruple = readonly [number, number, number, number];

/** What a material's pictures are for. */
export const PICTURE_ROLES = ['colour', 'normal', 'grey', 'glow', 'mask'] as const;
export type PictureRole = (typeof PICTURE_ROLES)[number];

export interface Material {
  readonly name: string;
  /** Red, green, blue and alpha, 0 to 1. */
  readonly colour: Quadruple;
  /** Paths as the file spells them. */
  readonly pictures: Readonly<Partial<Record<PictureRole, string>>>;
  readonly isTwoSided: boolean;
}

export const TRACK_SORTS = ['place', 'turn', 'size'] as const;
export type TrackSort = (typeof TRACK_SORTS)[number];

/** How one bone moves. */
export interface Track {
  readonly bone: number;
  readonly sort: TrackSort;
  /** Seconds, rising. */
  readonly times: Float32Array;
  /** 3 a time, or 4 for turns. */
  readonly values: Float32Array;
}

export interface Clip {
  readonly name: string;
  /** The group that it belongs to; empty for none. */
  readonly group: string;
  /** Frames a second that it was made with; 0 where nothing says so. */
  readonly rate: number;
  readonly isLoop: boolean;
  readonly tracks: readonly Track[];
  /** Other shapes of the parts that are shown one after the other, a frame each: the number of the first, and how many there are. */
  readonly frames?: { readonly first: number; readonly count: number } | undefined;
}

export const EMPTY_FORM: Form = { parts: [], materials: [], bones: [], clips: [] };

/** The finest level of detail that there is. */
export const finestLevel = (parts: readonly Pick<Part, 'level'>[]): number =>
  parts.reduce((least, { level }) => Math.min(least, level), parts[0]?.level ?? 0);

export const verticesOf = ({ places }: Pick<Part, 'places'>): number => places.length / 3;
export const trianglesOf = ({ triangles }: Pick<Part, 'triangles'>): number => triangles.length / 3;
/** How long a clip is, in seconds. */
export const secondsOf = ({ tracks, rate, frames }: Pick<Clip, 'tracks' | 'rate' | 'frames'>): number =>
  tracks.reduce(
    (most, { times }) => Math.max(most, times.at(-1) ?? 0),
    frames && rate > 0 ? Math.max(0, frames.count - 1) / rate : 0,
  );
/** Frames of a clip with a rate: both ends count. */
export const framesOf = (clip: Pick<Clip, 'tracks' | 'rate' | 'frames'>): number =>
  clip.rate > 0 ? Math.round(secondsOf(clip) * clip.rate) + 1 : 0;

export interface Box {
  readonly low: Triple;
  readonly high: Triple;
}

/** The box around vertices; undefined where there are none. */
export function boxOf(parts: readonly Pick<Part, 'places'>[]): Box | undefined {
  const low: [number, number, number] = [Infinity, Infinity, Infinity];
  const high: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  for (const { places } of parts)
    for (let i = 0; i < places.length; i++) {
      const axis = (i % 3) as 0 | 1 | 2;
      const value = places[i]!;
      if (value < low[axis]) low[axis] = value;
      if (value > high[axis]) high[axis] = value;
    }
  return low[0] <= high[0] ? { low, high } : undefined;
}
