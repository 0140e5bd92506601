import { FormatError } from '@/core/bytes';
import {
  boxOf,
  secondsOf,
  type Bone,
  type Box,
  type Clip,
  type Form,
  type Material,
  type TrackSort,
} from '../form/form';
import { inverses, standing } from '../form/turns';

/** A part as it is drawn: where its numbers lie behind the head, in units of 4 bytes. */
export interface PackedPart {
  readonly name: string;
  readonly level: number;
  readonly material: number;
  readonly vertices: number;
  readonly triangles: number;
  readonly places: number;
  readonly corners: number;
  readonly normals: number | null;
  readonly coordinates: readonly number[];
  readonly colours: number | null;
  /** Four numbers of bones, as floats, and four weights a vertex. */
  readonly joints: number | null;
  readonly weights: number | null;
  /** Other shapes: by how much each vertex is moved, 3 a vertex. */
  readonly shapes: readonly { readonly name: string; readonly places: number }[];
}

export interface PackedTrack {
  readonly bone: number;
  readonly sort: TrackSort;
  readonly keys: number;
  readonly times: number;
  readonly values: number;
}

export interface PackedClip extends Pick<Clip, 'name' | 'group' | 'rate' | 'isLoop' | 'frames'> {
  readonly seconds: number;
  readonly tracks: readonly PackedTrack[];
}

export interface PackedBone extends Omit<Bone, 'inverse'> {
  readonly inverse: readonly number[];
}

/** What a page needs to draw a form without decoding anything. */
export interface PackedForm {
  readonly parts: readonly PackedPart[];
  readonly materials: readonly Material[];
  readonly bones: readonly PackedBone[];
  readonly clips: readonly PackedClip[];
  readonly box: Box | null;
  /** Metres that a unit of the file is; 1 for open formats. */
  readonly unit: number;
  /** What else is told along with it. */
  readonly told?: unknown;
}

/** Where bones stand, for what has nothing else. */
const jointsOf = ({ bones }: Form): Float32Array =>
  Float32Array.from(standing(bones).flatMap((matrix) => matrix.slice(12, 15)));

const MARK = 0x3146505a;

/** A form as a head of JSON and arrays behind it, little-endian: mark, length of the head in bytes, the head, then numbers of 4 bytes each. */
export function packForm(form: Form, unit: number, told?: unknown): Uint8Array<ArrayBuffer> {
  const arrays: (Float32Array | Uint32Array)[] = [];
  let at = 0;
  const put = (values: Float32Array | Uint32Array): number => {
    const own = at;
    arrays.push(values);
    at += values.length;
    return own;
  };
  const maybe = (values: Float32Array | undefined): number | null => (values ? put(values) : null);
  const bound = inverses(form.bones);
  const head: PackedForm = {
    parts: form.parts.map((part) => ({
      ...{ name: part.name, level: part.level, material: part.material },
      ...{ vertices: part.places.length / 3, triangles: part.triangles.length / 3 },
      places: put(part.places),
      corners: put(part.triangles),
      normals: maybe(part.normals),
      coordinates: part.coordinates.map(put),
      colours: maybe(part.colours),
      joints: maybe(part.joints && new Float32Array(part.joints)),
      weights: maybe(part.weights),
      shapes: part.morphs.map(({ name, places }) => ({ name, places: put(places) })),
    })),
    materials: form.materials,
    bones: form.bones.map((bone, i) => ({ ...bone, inverse: bound[i]! })),
    clips: form.clips.map((clip) => ({
      ...{ name: clip.name, group: clip.group, rate: clip.rate, isLoop: clip.isLoop },
      seconds: secondsOf(clip),
      ...(clip.frames && { frames: clip.frames }),
      tracks: clip.tracks.map(({ bone, sort, times, values }) => ({
        ...{ bone, sort, keys: times.length, times: put(times), values: put(values) },
      })),
    })),
    box: boxOf(form.parts) ?? boxOf([{ places: jointsOf(form) }]) ?? null,
    unit,
    ...(told !== undefined && { told }),
  };
  const json = new TextEncoder().encode(JSON.stringify(head));
  const start = 8 + Math.ceil(json.length / 4) * 4;
  const out = new Uint8Array(start + 4 * at);
  const view = new DataView(out.buffer);
  view.setUint32(0, MARK, true);
  view.setUint32(4, json.length, true);
  out.set(json, 8);
  let to = start;
  for (const values of arrays) {
    out.set(new Uint8Array(values.buffer, values.byteOffset, values.byteLength), to);
    to += values.byteLength;
  }
  return out;
}

/** Reads what `packForm` wrote; arrays are views of the same memory. */
export function unpackForm(bytes: ArrayBuffer): {
  readonly form: PackedForm;
  floats(at: number, length: number): Float32Array<ArrayBuffer>;
  corners(at: number, length: number): Uint32Array<ArrayBuffer>;
} {
  const view = new DataView(bytes);
  if (bytes.byteLength < 8 || view.getUint32(0, true) !== MARK)
    throw new FormatError('not-recognised', { expected: 'a packed form' });
  const length = view.getUint32(4, true);
  const form = JSON.parse(new TextDecoder().decode(new Uint8Array(bytes, 8, length))) as PackedForm;
  const start = 8 + Math.ceil(length / 4) * 4;
  return {
    form,
    floats: (at, count) => new Float32Array(bytes, start + 4 * at, count),
    corners: (at, count) => new Uint32Array(bytes, start + 4 * at, count),
  };
}
