import { openArchive, type Archive } from '@/core/archive';
import { collect, FormatError, memorySource } from '@/core/bytes';
import type { Primitives } from '@/core/primitives';
import { HeldRecord, type Compiled, type ModelType, type RecordNode, type Script } from '@/core/script';
import { emitted, putNumber } from '@/core/wrapped';
import { hereFrom, thereFrom, type Space } from '../form/axes';
import { boxOf, type Clip, type Form, type Part, type Track } from '../form/form';
import { withoutLines, withoutUnused } from '../form/tidy';
import { checkForm } from '../form/check-form';
import { trackAt } from '../form/sample';
import { writeField } from '../streams/vertex-stream';
import { highestIndex } from '../streams/triangles';
import { Asking } from './asking';
import { clipsOf, numbersOf, type ReadClips, type ReadTrack } from './clips';
import { heldNumbers, jointList, meshesOf, partsOf, type Mesh, type ReadPart } from './meshes';
import { bonesOf, materialsOf } from './rows';
import { shapesFor } from './shapes';
import { streamsOf } from './streams';
import { writeMesh, type PlacedPart } from './write-mesh';

/** What the streams of a part can hold. */
export interface PartRoom {
  /** The most vertices that its corners can tell apart. */
  readonly vertices: number;
  /** Bones that can move one vertex; 0 where none does. */
  readonly bones: number;
  /** The bones that it can use; undefined for all of the file. */
  readonly list: readonly number[] | undefined;
  readonly fields: ReadonlySet<string>;
}

/** A model that a format script describes. */
export interface WrappedModel {
  readonly title: string;
  /** As it is worked with here. */
  readonly form: Form;
  /** Of each part. */
  readonly rooms: readonly PartRoom[];
  /** Metres that a unit of the file is. */
  readonly unit: number;
  /**
   * The file with other parts and clips in place of its own, by their numbers; what is undefined stays. Bones and materials stay.
   * Throws FormatError where the streams cannot hold them.
   */
  rewrap(parts: readonly (Part | undefined)[], clips?: readonly (Clip | undefined)[]): Uint8Array;
}

interface Opened {
  readonly archive: Archive;
  readonly asking: Asking;
  readonly type: ModelType;
  readonly space: Space;
  readonly meshes: readonly Mesh[];
  readonly parts: readonly ReadPart[];
  readonly clips: ReadClips;
  readonly form: Form;
}

function open(script: Script, bytes: Uint8Array, name: string, primitives: Primitives): Opened {
  const { model: type } = script;
  if (!type) throw new FormatError('script-wrong', { expected: "a 'model' section", actual: 'none' });
  const archive = openArchive(script, memorySource(bytes, name), { primitives });
  const asking = new Asking(archive, name);
  const unit = type.unit ? asking.number('unit', type.unit, undefined) : 1;
  if (!(unit > 0 && unit < 1e6))
    throw new FormatError('bad-value', {
      ...{ file: name, fieldPath: 'model.unit', expected: 'metres above 0', actual: `${unit}` },
    });
  const space = { up: type.up, isLeftHanded: type.handed === 'left', unit };
  const streams = streamsOf(archive, asking);
  const meshes = meshesOf(streams, type, asking);
  const parts = partsOf(meshes, type, asking);
  const clips = clipsOf(streams, type, asking);
  const inFile: Form = {
    parts: parts.map(({ part }) => part),
    ...{ materials: materialsOf(type, asking), bones: bonesOf(type, asking), clips: clips.clips },
  };
  // What names no material that there is has none.
  const told = {
    ...inFile,
    parts: inFile.parts.map((part) =>
      part.material < inFile.materials.length ? part : { ...part, material: -1 },
    ),
  };
  const form = checkForm(hereFrom(told, space), name);
  return { archive, asking, type, space, meshes, parts, clips, form };
}

/** Opens a model by its script. Throws FormatError where its streams and rows do not agree. */
export function openModel(
  script: Script,
  bytes: Uint8Array,
  name: string,
  primitives: Primitives,
): WrappedModel {
  const read = open(script, bytes, name, primitives);
  return {
    title: script.title,
    form: read.form,
    unit: read.space.unit,
    rooms: read.parts.map(({ mesh }) => ({
      vertices: mesh.corners ? highestIndex(mesh.corners.form) + 1 : Infinity,
      bones: heldNumbers(mesh, 'joints'),
      list: jointList(mesh, read.asking),
      fields: new Set(mesh.vertices.flatMap(({ fields }) => [...fields.keys()])),
    })),
    rewrap(parts, clips = []) {
      const isOther = parts.some((part, i) => part && !isSamePart(part, read.form.parts[i]!));
      if (!isOther && !clips.some(Boolean)) return bytes;
      // Numbers of rows are set in what is written, and only there.
      const own = open(script, bytes, name, primitives);
      const bodies = new Map<number, Uint8Array>();
      const placed = rewriteParts(own, parts, bodies);
      const isMoved = rewriteClips(own, clips, bodies);
      if (placed.length === 0 && !isMoved) return bytes;
      setRows(own, placed);
      for (const entry of own.archive.entries)
        if (!bodies.has(entry.index)) bodies.set(entry.index, collect(own.archive.plain(entry)));
      const made = emitted(own.archive, bodies);
      checkMade(open(script, made, name, primitives), placed, name);
      return made;
    },
  };
}

/** In the file's space, so that numbers are compared and written as it has them. */
function there(part: Part, space: Space): Part {
  return thereFrom({ parts: [part], materials: [], bones: [], clips: [] }, space).parts[0]!;
}

function rewriteParts(
  { form, parts: own, meshes, type, space, asking }: Opened,
  given: readonly (Part | undefined)[],
  bodies: Map<number, Uint8Array>,
): PlacedPart[] {
  const all: PlacedPart[] = [];
  const isBased = type.parts?.base !== undefined;
  const isCut = type.parts?.first !== undefined || type.parts?.count !== undefined || isBased;
  for (const mesh of meshes) {
    const members = own.flatMap((read, i) => (read.mesh === mesh ? [{ read, i }] : []));
    const isChanged = members.some(({ i }) => {
      const part = given[i];
      return part !== undefined && !isSamePart(part, form.parts[i]!);
    });
    if (!isChanged) continue;
    const written = members.map(({ read, i }) => {
      const part = given[i];
      const was = form.parts[i]!;
      if (!part || isSamePart(part, was)) return { read, part: read.part };
      const made = keepingNumbers(there(part, space), part, was, read.part);
      const drawn = mesh.corners?.isStrip ? withoutLines(made) : made;
      return { read, part: isCut ? withoutUnused(drawn) : drawn };
    });
    const made = writeMesh(mesh, written, type, isBased, asking);
    for (const [index, body] of made.bodies) bodies.set(index, body);
    all.push(...made.placed);
  }
  return all;
}

const FLOATS = ['places', 'normals', 'tangents', 'colours', 'joints', 'weights', 'triangles'] as const;

const isSameList = (a: ArrayLike<number> | undefined, b: ArrayLike<number> | undefined): boolean => {
  if (a === b) return true;
  if (!a || !b || a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
};

/** Whether nothing of it changed that a stream could keep. What is not given is taken to be as it was. */
export function isSamePart(given: Part, was: Part): boolean {
  return (
    FLOATS.every(
      (key) => (given[key] === undefined && key !== 'triangles') || isSameList(given[key], was[key]),
    ) &&
    given.coordinates.every((set, i) => isSameList(set, was.coordinates[i])) &&
    was.morphs.every(({ name, places }) => {
      const now = given.morphs.find((one) => one.name === name);
      return !now || isSameList(now.places, places);
    })
  );
}

/** Numbers that did not change are the very ones of the file, whatever the way there and back did to them. */
function keepingNumbers(inFile: Part, given: Part, was: Part, read: Part): Part {
  const keep = (each: number, key: 'places' | 'normals' | 'tangents'): Float32Array | undefined => {
    const [made, now, before, old] = [inFile[key], given[key], was[key], read[key]];
    if (!made || !now || !before || !old || now.length !== before.length) return made ?? (now ? made : old);
    const out = made.slice();
    for (let i = 0; i < now.length; i += each) {
      let isSame = true;
      for (let j = 0; j < each; j++) if (now[i + j] !== before[i + j]) isSame = false;
      if (isSame) for (let j = 0; j < each; j++) out[i + j] = old[i + j]!;
    }
    return out;
  };
  const isAsMany = given.places.length === was.places.length;
  const fallback = isAsMany ? read : undefined;
  return {
    ...inFile,
    places: keep(3, 'places')!,
    normals: inFile.normals ? keep(3, 'normals') : fallback?.normals,
    tangents: inFile.tangents ? keep(4, 'tangents') : fallback?.tangents,
    colours: inFile.colours ?? fallback?.colours,
    joints: inFile.joints ?? fallback?.joints,
    weights: inFile.weights ?? fallback?.weights,
    coordinates: inFile.coordinates.length > 0 ? inFile.coordinates : (fallback?.coordinates ?? []),
    morphs: shapesFor(read.morphs, inFile, isAsMany).map((morph, i) => {
      const [own, before, old] = [
        given.morphs.find(({ name }) => name === morph.name),
        was.morphs[i],
        read.morphs[i],
      ];
      return own && before && old && isSameList(own.places, before.places) ? old : morph;
    }),
  };
}

/** Sets what rows of parts say of where they lie. */
function setRows({ archive, type: { parts }, asking }: Opened, placed: readonly PlacedPart[]): void {
  if (!parts) return;
  const put = (word: string, of: Compiled | undefined, row: RecordNode | undefined, value: number): void => {
    if (!of || !row) return;
    // What follows from the streams by itself is right already.
    if (isDerived(row, of)) return;
    if (row instanceof HeldRecord && putNumber(archive, row, of, value)) return;
    throw new FormatError('does-not-fit', {
      ...{ file: asking.file, fieldPath: `model.parts.${word} of ${row.path}`, expected: `${value}` },
      why: 'No number of that row can be set so that this follows',
    });
  };
  for (const { read, part, firstCorner, firstVertex, corners } of placed) {
    put('first', parts.first, read.row, firstCorner);
    put('count', parts.count, read.row, corners);
    put('base', parts.base, read.row, firstVertex);
    const box = boxOf([part]);
    if (!box) continue;
    parts.low.forEach((of, i) => put('low', of, read.row, Math.fround(box.low[i]!)));
    parts.high.forEach((of, i) => put('high', of, read.row, Math.fround(box.high[i]!)));
  }
}

const isDerived = (row: RecordNode, of: Compiled): boolean =>
  of.mentions.size > 0 &&
  [...of.mentions].every(
    (name) => row.type.fields.find((field) => field.name === name)?.role.sort === 'derived',
  );

function rewriteClips(
  { clips: { tracks }, form, space, asking }: Opened,
  given: readonly (Clip | undefined)[],
  bodies: Map<number, Uint8Array>,
): boolean {
  let isMoved = false;
  for (const read of tracks) {
    const clip = given[read.clip];
    const now = clip?.tracks.find(({ bone, sort }) => bone === read.track.bone && sort === read.track.sort);
    const was = form.clips[read.clip]!.tracks.find(
      ({ bone, sort }) => bone === read.track.bone && sort === read.track.sort,
    );
    if (!clip || !now || !was) continue;
    if (isSameList(now.times, was.times) && isSameList(now.values, was.values)) continue;
    const [moved] = thereFrom(
      { parts: [], materials: [], bones: [], clips: [{ ...clip, tracks: [now] }] },
      space,
    ).clips[0]!.tracks;
    bodies.set(read.stream.entry.index, trackBody(read, moved!, form.clips[read.clip]!.rate, asking));
    isMoved = true;
  }
  return isMoved;
}

function trackBody(
  { stream, track: old }: ReadTrack,
  given: Track,
  rate: number,
  asking: Asking,
): Uint8Array {
  const { layout, fields, bytes } = stream;
  const time = fields.get('time');
  const track = time ? given : evenly(given, rate);
  const count = track.times.length;
  const body = new Uint8Array(layout.first + count * layout.stride);
  body.set(bytes.subarray(0, Math.min(bytes.length, body.length)));
  const each = numbersOf(old.sort);
  const now = { ...layout, count };
  try {
    if (time) writeField(body, now, time, track.times, 1, () => false);
    writeField(body, now, fields.get('value')!, track.values, each, (key) => {
      if (key >= old.times.length) return false;
      for (let i = 0; i < each; i++)
        if (track.values[key * each + i] !== old.values[key * each + i]) return false;
      return true;
    });
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    throw error.with({ file: asking.file, fieldPath: `model of ${stream.entry.path}` });
  }
  return body;
}

/** A key for each frame, where a file keeps no times. */
function evenly(track: Track, rate: number): Track {
  const frames = Math.max(1, Math.round((track.times.at(-1) ?? 0) * rate) + 1);
  const times = Float32Array.from({ length: frames }, (_, frame) => frame / rate);
  const values = Float32Array.from([...times].flatMap((at) => [...trackAt(track, at)]));
  return { ...track, times, values };
}

/** What was written is read again: as many vertices and triangles of each part as were given. */
function checkMade(made: Opened, placed: readonly PlacedPart[], file: string): void {
  for (const { read, part } of placed) {
    const now = made.parts.find(
      ({ mesh, part: { name, level }, row }) =>
        mesh.key === read.mesh.key &&
        name === read.part.name &&
        level === read.part.level &&
        row?.path === read.row?.path,
    )?.part;
    const isRight =
      now?.triangles.length === part.triangles.length && now.places.length === part.places.length;
    if (isRight) continue;
    throw new FormatError('would-be-wrong', {
      ...{ file, fieldPath: `parts[${part.name}]` },
      expected: `${part.places.length / 3} vertices and ${part.triangles.length / 3} triangles`,
      actual: now ? `${now.places.length / 3} and ${now.triangles.length / 3}` : 'none',
      why: 'What the script says of its rows does not follow the streams',
      remedy: "Let counts be 'derived', as from size(payload)",
    });
  }
}
