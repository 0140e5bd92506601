import { FormatError } from '@/core/bytes';
import type { ModelType, RecordNode } from '@/core/script';
import type { Part } from '../form/form';
import { turnedOver } from '../form/axes';
import { fromStrip, upTo, INDEX_FORMS, readIndices, type IndexForm } from '../streams/triangles';
import { readField } from '../streams/vertex-stream';
import type { Asking } from './asking';
import { shapesOf, type ShapeRead } from './shapes';
import type { Stream } from './streams';

/** How the corners of a mesh's triangles are kept. */
export interface CornersKept {
  readonly stream: Stream;
  readonly form: IndexForm;
  readonly isStrip: boolean;
  readonly ends: number | undefined;
  readonly isClockwise: boolean;
}

/** A mesh of a file: streams of vertices that belong together, and the triangles between them. */
export interface Mesh {
  readonly key: string;
  readonly vertices: readonly Stream[];
  readonly corners: CornersKept | undefined;
  /** Its other shapes. */
  readonly shapes: readonly Stream[];
  readonly count: number;
}

/** A part as it was read, and where in its mesh it is. */
export interface ReadPart {
  readonly part: Part;
  readonly mesh: Mesh;
  /** The row that says so; undefined where a mesh is one part. */
  readonly row: RecordNode | undefined;
  /** The mesh's number of each vertex. */
  readonly vertexOf: Uint32Array;
}

export const COORDINATES = ['coordinates', 'coordinates 2', 'coordinates 3', 'coordinates 4'] as const;

/** The meshes of a file, by the streams that say which they are of. */
export function meshesOf(streams: readonly Stream[], type: ModelType, asking: Asking): Mesh[] {
  const keys = new Map<string, Stream[]>();
  for (const stream of streams) {
    if (stream.type.stream === 'keys') continue;
    const key = asking.text('of', stream.type.of, stream.entry.row, '');
    keys.set(key, [...(keys.get(key) ?? []), stream]);
  }
  return [...keys].map(([key, all]) => {
    const vertices = all.filter((stream) => stream.type.stream === 'vertices');
    const shapes = all.filter((stream) => stream.type.stream === 'shape');
    const [triangles, another] = all.filter((stream) => stream.type.stream === 'triangles');
    const of = { file: asking.file, fieldPath: `model, mesh '${key}'` };
    if (!vertices.some(({ fields }) => fields.has('place')))
      throw new FormatError('script-wrong', { ...of, expected: "a stream with 'place'", actual: 'none' });
    if (another)
      throw new FormatError('script-wrong', {
        ...{ ...of, expected: 'one stream of triangles', actual: 'several' },
        remedy: "Say with 'of' which mesh each belongs to",
      });
    const count = vertices[0]!.layout.count;
    const other = vertices.find(({ layout }) => layout.count !== count);
    if (other)
      throw new FormatError('bad-value', {
        ...{ ...of, expected: `${count} vertices in ${other.entry.path}`, actual: `${other.layout.count}` },
      });
    return { key, vertices, shapes, count, corners: triangles && cornersOf(triangles, type, asking) };
  });
}

function cornersOf(stream: Stream, { front }: ModelType, asking: Asking): CornersKept {
  const { type, entry } = stream;
  const word = asking.text('as', type.as, entry.row, '');
  const form = INDEX_FORMS.find((one) => one === word);
  if (!form)
    throw new FormatError('script-wrong', {
      ...{ file: asking.file, fieldPath: `model.as of ${entry.path}` },
      ...{ expected: INDEX_FORMS.join(', '), actual: `'${word}'` },
    });
  return {
    ...{ stream, form },
    isStrip: asking.truth('strip', type.strip, entry.row, false),
    ends: type.ends && asking.count('ends', type.ends, entry.row),
    isClockwise: front === 'clockwise',
  };
}

/** Parts of the meshes, in the file's own space. */
export function partsOf(meshes: readonly Mesh[], type: ModelType, asking: Asking): ReadPart[] {
  const { parts } = type;
  if (!parts)
    return meshes.map((mesh, i) => {
      const corners = allCorners(mesh);
      const name = mesh.key === '' ? `part ${i}` : mesh.key;
      const all = upTo(mesh.count);
      return partOf(
        mesh,
        undefined,
        all,
        triangles(mesh, corners),
        { name, material: -1, level: 0 },
        type,
        asking,
      );
    });
  return asking.rows('parts.each', parts.each).map((row, i) => {
    const key = asking.text('parts.of', parts.of, row, '');
    const mesh = meshes.find((one) => one.key === key);
    const of = { file: asking.file, fieldPath: `model.parts of ${row.path}` };
    if (!mesh) throw new FormatError('part-missing', { ...of, expected: `a mesh '${key}'`, actual: 'none' });
    const corners = allCorners(mesh);
    const first = parts.first ? asking.count('parts.first', parts.first, row) : 0;
    const count = parts.count ? asking.count('parts.count', parts.count, row) : corners.length - first;
    if (first + count > corners.length || count < 0)
      throw new FormatError('bad-value', {
        ...{ ...of, expected: `corners below ${corners.length}`, actual: `${first} to ${first + count}` },
      });
    // Rows may be many and claim the same stretches; what going through them costs is bounded for a whole file.
    asking.archive.context.spend(mesh.count + count);
    const base = parts.base ? asking.count('parts.base', parts.base, row) : 0;
    const own = triangles(mesh, corners.subarray(first, first + count));
    if (base > 0) for (let i = 0; i < own.length; i++) own[i]! += base;
    const outside = firstAbove(own, mesh.count - 1);
    if (outside >= 0)
      throw new FormatError('bad-value', {
        ...{ ...of, expected: `a vertex below ${mesh.count}`, actual: `${own[outside]}` },
      });
    const isWhole = !parts.first && !parts.count && !parts.base;
    const used = isWhole ? upTo(mesh.count) : usedIn(own, mesh.count);
    const material = parts.material ? asking.number('parts.material', parts.material, row) : -1;
    const said = {
      name: asking.text('parts.name', parts.name, row, `part ${i}`),
      material: Number.isInteger(material) && material >= 0 && material < 0xffff ? material : -1,
      level: parts.level ? asking.count('parts.level', parts.level, row) : 0,
    };
    return partOf(mesh, row, used, isWhole ? own : renumbered(own, used, mesh.count), said, type, asking);
  });
}

function firstAbove(corners: Uint32Array, most: number): number {
  for (let i = 0; i < corners.length; i++) if (corners[i]! > most) return i;
  return -1;
}

const kept = new WeakMap<Mesh, Uint32Array>();
function allCorners(mesh: Mesh): Uint32Array {
  let corners = kept.get(mesh);
  if (!corners) {
    corners = mesh.corners
      ? readIndices(mesh.corners.stream.bytes, mesh.corners.form, mesh.corners.stream.layout.isLittle)
      : upTo(mesh.count - (mesh.count % 3));
    kept.set(mesh, corners);
  }
  return corners;
}

function triangles({ corners: kept }: Mesh, corners: Uint32Array): Uint32Array {
  const whole = kept?.isStrip
    ? fromStrip(corners, kept.ends)
    : corners.slice(0, corners.length - (corners.length % 3));
  return kept?.isClockwise ? turnedOver(whole) : whole;
}

/** The vertices that corners name, rising. */
function usedIn(corners: Uint32Array, count: number): Uint32Array {
  const isUsed = new Uint8Array(count);
  let used = 0;
  for (const corner of corners) {
    if (isUsed[corner] === 0) used++;
    isUsed[corner] = 1;
  }
  const out = new Uint32Array(used);
  for (let vertex = 0, at = 0; vertex < count; vertex++) if (isUsed[vertex] === 1) out[at++] = vertex;
  return out;
}

function renumbered(corners: Uint32Array, used: Uint32Array, count: number): Uint32Array {
  const number = new Uint32Array(count);
  used.forEach((vertex, i) => (number[vertex] = i));
  return corners.map((corner) => number[corner]!);
}

const decoded = new WeakMap<Stream, Map<string, Float32Array>>();

/** A field of all vertices of a mesh, where one of its streams has it. */
export function fieldIn(mesh: Mesh, name: string, wanted: number): Float32Array | undefined {
  const stream = mesh.vertices.find(({ fields }) => fields.has(name));
  if (!stream) return undefined;
  const known = decoded.get(stream) ?? new Map<string, Float32Array>();
  decoded.set(stream, known);
  let values = known.get(name);
  if (!values) {
    values = readField(stream.bytes, stream.layout, stream.fields.get(name)!, wanted);
    known.set(name, values);
  }
  return values;
}

function partOf(
  mesh: Mesh,
  row: RecordNode | undefined,
  vertexOf: Uint32Array,
  triangles: Uint32Array,
  said: Pick<Part, 'name' | 'material' | 'level'>,
  { coordinates }: ModelType,
  asking: Asking,
): ReadPart {
  const take = (name: string, each: number): Float32Array | undefined => {
    const all = fieldIn(mesh, name, each);
    return all && picked(all, vertexOf, each, mesh.count);
  };
  const sets = COORDINATES.map((name) => take(name, 2)).filter((set) => set !== undefined);
  const part: Part = {
    ...said,
    places: take('place', 3)!,
    normals: take('normal', 3),
    tangents: take('tangent', 4),
    colours: take('colour', 4),
    coordinates: coordinates === 'bottom' ? sets.map(upsideDown) : sets,
    ...weightsOf(mesh, vertexOf, asking),
    triangles,
    morphs: shapesIn(mesh, asking).map(({ name, moves }) => ({
      name,
      places: picked(moves, vertexOf, 3, mesh.count),
    })),
  };
  return { part, mesh, row, vertexOf };
}

const shapesKept = new WeakMap<Mesh, readonly ShapeRead[]>();
/** The other shapes of a mesh, read once. */
export function shapesIn(mesh: Mesh, asking: Asking): readonly ShapeRead[] {
  let shapes = shapesKept.get(mesh);
  if (!shapes) {
    shapes = mesh.shapes.length > 0 ? shapesOf(mesh, fieldIn(mesh, 'place', 3)!, asking) : [];
    shapesKept.set(mesh, shapes);
  }
  return shapes;
}

function picked(all: Float32Array, vertexOf: Uint32Array, each: number, count: number): Float32Array {
  if (vertexOf.length === count) return all;
  const out = new Float32Array(vertexOf.length * each);
  for (let i = 0; i < vertexOf.length; i++)
    for (let j = 0; j < each; j++) out[i * each + j] = all[vertexOf[i]! * each + j]!;
  return out;
}

export const upsideDown = (set: Float32Array): Float32Array =>
  set.map((value, i) => (i % 2 === 1 ? 1 - value : value));

/** The bones that a mesh's joints are numbers of; undefined where they are those of the file. */
export const jointList = ({ vertices }: Mesh, asking: Asking): number[] | undefined => {
  const stream = vertices.find(({ type, fields }) => type.bones && fields.has('joints'));
  return stream && asking.numbers('bones', [stream.type.bones!], stream.entry.row, 0xffff, 1);
};

function weightsOf(mesh: Mesh, vertexOf: Uint32Array, asking: Asking): Pick<Part, 'joints' | 'weights'> {
  const joints = fieldIn(mesh, 'joints', 4);
  if (!joints) return {};
  const list = jointList(mesh, asking);
  const numbers = heldNumbers(mesh, 'joints');
  const said = heldNumbers(mesh, 'weights');
  const own = picked(joints, vertexOf, 4, mesh.count);
  const weights = fieldIn(mesh, 'weights', 4);
  const outJoints = new Uint16Array(4 * vertexOf.length);
  const outWeights = new Float32Array(4 * vertexOf.length);
  const ownWeights = weights && picked(weights, vertexOf, 4, mesh.count);
  if (!list && ownWeights && numbers === 4 && said === 4) {
    outJoints.set(own);
    outWeights.set(ownWeights);
    return { joints: outJoints, weights: outWeights };
  }
  for (let vertex = 0; vertex < vertexOf.length; vertex++) {
    let rest = 1;
    for (let i = 0; i < numbers; i++) {
      const at = 4 * vertex + i;
      // One weight fewer than bones leaves the last one what is missing.
      const weight = i < said ? ownWeights![at]! : i === said ? Math.max(0, rest) : 0;
      rest -= weight;
      outWeights[at] = weight;
      outJoints[at] = jointOf(own[at]!, list, weight, mesh, asking);
    }
  }
  return { joints: outJoints, weights: outWeights };
}

function jointOf(
  number: number,
  list: readonly number[] | undefined,
  weight: number,
  mesh: Mesh,
  asking: Asking,
): number {
  const bone = list ? list[number] : number;
  if (bone !== undefined && bone >= 0 && bone <= 0xffff) return bone;
  // What does not weigh may name no bone.
  if (weight === 0) return 0;
  throw new FormatError('bad-value', {
    ...{ file: asking.file, fieldPath: `joints of mesh '${mesh.key}'` },
    ...{ expected: `a bone of ${list?.length ?? 0xffff}`, actual: `${number}` },
  });
}

/** How many numbers of a field are kept for a vertex. */
export const heldNumbers = (mesh: Mesh, name: string): number =>
  mesh.vertices.find(({ fields }) => fields.has(name))?.fields.get(name)!.form.numbers ?? 0;
