import type { Bone, Clip, Form, Part, Quadruple, Track, Triple } from './form';

/** How a file's space lies: which way is up, whether it is left-handed, and metres a unit. */
export interface Space {
  readonly up: 'x' | 'y' | 'z';
  readonly isLeftHanded: boolean;
  /** Metres that one unit is. */
  readonly unit: number;
}

/** For each axis here the axis of the file that it is, and its sign. */
interface Axes {
  readonly from: Triple;
  readonly sign: Triple;
}

/** A turn about one axis, and a mirror of the last one where the file's space is left-handed. */
function axesOf({ up, isLeftHanded }: Space): Axes {
  const mirror = isLeftHanded ? -1 : 1;
  if (up === 'z') return { from: [0, 2, 1], sign: [1, 1, -mirror] };
  if (up === 'x') return { from: [1, 0, 2], sign: [-1, 1, mirror] };
  return { from: [0, 1, 2], sign: [1, 1, mirror] };
}

/** The way back. */
function turned({ from, sign }: Axes): Axes {
  const back: [number, number, number] = [0, 0, 0];
  const signs: [number, number, number] = [0, 0, 0];
  from.forEach((axis, i) => {
    back[axis] = i;
    signs[axis] = sign[i]!;
  });
  return { from: back, sign: signs };
}

const isMirror = ({ isLeftHanded }: Space): boolean => isLeftHanded;

/** A form out of a file's space, as it is worked with here. */
export const hereFrom = (form: Form, space: Space): Form =>
  moved(form, axesOf(space), space.unit, isMirror(space));
/** A form of here, in a file's space. */
export const thereFrom = (form: Form, space: Space): Form =>
  moved(form, turned(axesOf(space)), 1 / space.unit, isMirror(space));

function moved(form: Form, axes: Axes, scale: number, mirrors: boolean): Form {
  if (axes.from.every((axis, i) => axis === i && axes.sign[i] === 1) && scale === 1) return form;
  return {
    ...form,
    parts: form.parts.map((part) => movedPart(part, axes, scale, mirrors)),
    bones: form.bones.map((bone) => movedBone(bone, axes, scale, mirrors)),
    clips: form.clips.map((clip) => movedClip(clip, axes, scale, mirrors)),
  };
}

/** Vectors with their axes changed; what stands behind the third number is kept, times `last`. */
function vectors(
  values: Float32Array,
  each: 3 | 4,
  { from, sign }: Axes,
  scale: number,
  last = 1,
): Float32Array {
  const out = new Float32Array(values.length);
  const [x, y, z] = from;
  const [sx, sy, sz] = [sign[0] * scale, sign[1] * scale, sign[2] * scale];
  for (let i = 0; i < values.length; i += each) {
    // Zeros stay plain ones, so that what is compared later is the same.
    out[i] = values[i + x]! * sx + 0;
    out[i + 1] = values[i + y]! * sy + 0;
    out[i + 2] = values[i + z]! * sz + 0;
    if (each === 4) out[i + 3] = values[i + 3]! * last;
  }
  return out;
}

function movedPart(part: Part, axes: Axes, scale: number, mirrors: boolean): Part {
  return {
    ...part,
    places: vectors(part.places, 3, axes, scale),
    normals: part.normals && vectors(part.normals, 3, axes, 1),
    tangents: part.tangents && vectors(part.tangents, 4, axes, 1, mirrors ? -1 : 1),
    morphs: part.morphs.map((morph) => ({ ...morph, places: vectors(morph.places, 3, axes, scale) })),
    triangles: mirrors ? turnedOver(part.triangles) : part.triangles,
  };
}

/** Triangles seen from the other side. */
export function turnedOver(triangles: Uint32Array): Uint32Array {
  const out = new Uint32Array(triangles.length);
  for (let i = 0; i + 2 < triangles.length; i += 3) {
    out[i] = triangles[i]!;
    out[i + 1] = triangles[i + 2]!;
    out[i + 2] = triangles[i + 1]!;
  }
  return out;
}

const triple = (value: Triple, { from, sign }: Axes, scale: number): Triple => [
  sign[0] * value[from[0]]! * scale,
  sign[1] * value[from[1]]! * scale,
  sign[2] * value[from[2]]! * scale,
];

/** A turn about an axis goes the other way in a mirror. */
function quaternion(value: Quadruple, axes: Axes, mirrors: boolean): Quadruple {
  const [x, y, z] = triple([value[0], value[1], value[2]], axes, mirrors ? -1 : 1);
  return [x, y, z, value[3]];
}

const sizes = (value: Triple, { from }: Axes): Triple => [value[from[0]]!, value[from[1]]!, value[from[2]]!];

function movedBone(bone: Bone, axes: Axes, scale: number, mirrors: boolean): Bone {
  return {
    ...bone,
    place: triple(bone.place, axes, scale),
    turn: quaternion(bone.turn, axes, mirrors),
    size: sizes(bone.size, axes),
    inverse: bone.inverse && matrix(bone.inverse, axes, scale),
  };
}

/** C times the matrix times the inverse of C, where C is the change of axes; places are scaled. */
function matrix(m: readonly number[], { from, sign }: Axes, scale: number): number[] {
  const out = [...m];
  for (let column = 0; column < 3; column++)
    for (let row = 0; row < 3; row++)
      out[4 * column + row] =
        sign[column as 0]! * sign[row as 0]! * m[4 * from[column as 0]! + from[row as 0]!]!;
  for (let row = 0; row < 3; row++) out[12 + row] = sign[row as 0]! * m[12 + from[row as 0]!]! * scale;
  return out;
}

const movedClip = (clip: Clip, axes: Axes, scale: number, mirrors: boolean): Clip => ({
  ...clip,
  tracks: clip.tracks.map((track) => movedTrack(track, axes, scale, mirrors)),
});

function movedTrack(track: Track, axes: Axes, scale: number, mirrors: boolean): Track {
  const { sort, values } = track;
  if (sort === 'turn') return { ...track, values: vectors(values, 4, axes, mirrors ? -1 : 1) };
  if (sort === 'place') return { ...track, values: vectors(values, 3, axes, scale) };
  return { ...track, values: vectors(values, 3, { from: axes.from, sign: [1, 1, 1] }, 1) };
}
