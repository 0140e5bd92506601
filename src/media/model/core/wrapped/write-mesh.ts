import { FormatError } from '@/core/bytes';
import { HeldRecord, type Compiled, type ModelType } from '@/core/script';
import { putNumber } from '@/core/wrapped';
import { turnedOver } from '../form/axes';
import { boxOf, verticesOf, type Part } from '../form/form';
import { highestIndex, toStrip, writeIndices } from '../streams/triangles';
import { writeField, type StreamField } from '../streams/vertex-stream';
import type { Asking } from './asking';
import {
  COORDINATES,
  heldNumbers,
  jointList,
  shapesIn,
  upsideDown,
  type Mesh,
  type ReadPart,
} from './meshes';
import { shapeBody } from './shapes';
import type { Stream } from './streams';

/** A part of a mesh that is written: what it was, and what it becomes, in the file's space. */
export interface WrittenPart {
  readonly read: ReadPart;
  readonly part: Part;
}

/** Where a part comes to lie in its mesh. */
export interface PlacedPart extends WrittenPart {
  /** The first of its vertices and corners in the mesh. */
  readonly firstVertex: number;
  readonly firstCorner: number;
  readonly corners: number;
}

export interface WrittenMesh {
  readonly bodies: ReadonlyMap<number, Uint8Array>;
  readonly placed: readonly PlacedPart[];
}

/** Writes the streams of a mesh anew: vertices of its parts one after the other. `isBased`: corners count from the first vertex of their part. */
export function writeMesh(
  mesh: Mesh,
  parts: readonly WrittenPart[],
  type: ModelType,
  isBased: boolean,
  asking: Asking,
): WrittenMesh {
  const bodies = new Map<number, Uint8Array>();
  const placed: PlacedPart[] = [];
  const lists: Uint32Array[] = [];
  let [vertices, corners] = [0, 0];
  for (const one of parts) {
    const list = cornersOf(one.part, mesh, isBased ? 0 : vertices);
    placed.push({ ...one, firstVertex: vertices, firstCorner: corners, corners: list.length });
    lists.push(list);
    vertices += verticesOf(one.part);
    corners += list.length;
  }
  for (const stream of mesh.vertices)
    bodies.set(stream.entry.index, verticesBody(stream, placed, vertices, mesh, type, asking));
  const members = placed.map(({ part, read, firstVertex }) => ({ part, firstVertex, was: read.vertexOf }));
  for (const shape of shapesIn(mesh, asking))
    bodies.set(shape.stream.entry.index, shapeBody(shape, members, vertices));
  if (mesh.corners) {
    const { form, stream } = mesh.corners;
    const all = new Uint32Array(corners);
    placed.forEach(({ firstCorner }, i) => all.set(lists[i]!, firstCorner));
    refuseTooMany(placed, form, isBased, asking);
    bodies.set(stream.entry.index, writeIndices(all, form, stream.layout.isLittle));
  } else refuseShared(placed, asking);
  return { bodies, placed };
}

function cornersOf(part: Part, { corners }: Mesh, first: number): Uint32Array {
  const turned = corners?.isClockwise ? turnedOver(part.triangles) : part.triangles;
  const list = corners?.isStrip ? toStrip(turned) : turned;
  return first === 0 ? list : list.map((corner) => corner + first);
}

function refuseTooMany(
  placed: readonly PlacedPart[],
  form: Parameters<typeof highestIndex>[0],
  isBased: boolean,
  asking: Asking,
): void {
  const most = highestIndex(form);
  for (const { part, firstVertex } of placed) {
    const highest = verticesOf(part) + (isBased ? 0 : firstVertex);
    if (highest - 1 > most)
      throw new FormatError('does-not-fit', {
        ...{ file: asking.file, fieldPath: `parts[${part.name}].vertices` },
        ...{
          expected: `at most ${most + 1} vertices, which is as far as ${form} counts`,
          actual: `${highest}`,
        },
        remedy: 'Give one with fewer vertices',
      });
  }
}

/** Without triangles of its own a mesh has three vertices for each. */
function refuseShared(placed: readonly PlacedPart[], asking: Asking): void {
  for (const { part } of placed)
    if (part.triangles.some((corner, i) => corner !== i))
      throw new FormatError('does-not-fit', {
        ...{ file: asking.file, fieldPath: `parts[${part.name}].triangles` },
        ...{ expected: 'three vertices of its own for each triangle', actual: 'shared ones' },
      });
}

function verticesBody(
  stream: Stream,
  placed: readonly PlacedPart[],
  vertices: number,
  mesh: Mesh,
  type: ModelType,
  asking: Asking,
): Uint8Array {
  const { stride, first } = stream.layout;
  const body = new Uint8Array(first + vertices * stride);
  body.set(stream.bytes.subarray(0, first));
  const box = boxFor(stream, placed, asking);
  for (const { part, read, firstVertex } of placed) {
    const count = verticesOf(part);
    const isAsMany = count === read.vertexOf.length;
    const start = first + firstVertex * stride;
    const item = (vertex: number): Uint8Array =>
      stream.bytes.subarray(first + vertex * stride, first + (vertex + 1) * stride);
    // What nobody describes in a vertex stays, where the vertex does.
    if (isAsMany) for (let i = 0; i < count; i++) body.set(item(read.vertexOf[i]!), start + i * stride);
    const layout = { ...stream.layout, first: start, count };
    for (const [name, kept] of stream.fields) {
      const boxed = name === 'place' ? box : undefined;
      const field = boxed ?? kept;
      const values = valuesOf(name, part, mesh, type, asking);
      const old = isAsMany ? valuesOf(name, read.part, mesh, type, asking) : undefined;
      if (!values) continue;
      const { given, each } = values;
      const before = old?.given;
      writeIn(body, layout, field, given, each, part.name, name, (i) => {
        // In another box the same place is another number.
        if (!before || boxed) return false;
        for (let j = 0; j < each; j++) if (given[i * each + j] !== before[i * each + j]) return false;
        return true;
      });
    }
  }
  return body;
}

/** The field of places in a box around all parts, where they have outgrown theirs and the row can say another one. */
function boxFor(stream: Stream, placed: readonly PlacedPart[], asking: Asking): StreamField | undefined {
  const field = stream.fields.get('place');
  const said = stream.type.fields.find(({ name }) => name === 'place');
  const range = field?.form.range;
  if (!field || !said || !range || said.plus.length === 0) return undefined;
  const around = boxOf(placed.map(({ part }) => part));
  if (!around) return undefined;
  const times = (i: number): number => field.times[i] ?? field.times[0] ?? 1;
  const plus = (i: number): number => field.plus[i] ?? field.plus[0] ?? 0;
  const isInside = [0, 1, 2].every((i) => {
    const ends = [range[0] * times(i) + plus(i), range[1] * times(i) + plus(i)].sort((a, b) => a - b);
    const slack = Math.abs(times(i)) * field.form.step;
    return around.low[i as 0]! >= ends[0]! - slack && around.high[i as 0]! <= ends[1]! + slack;
  });
  if (isInside) return undefined;
  const row = stream.entry.row;
  const widest = Math.max(...[0, 1, 2].map((i) => around.high[i as 0]! - around.low[i as 0]!));
  const isOne = said.times.length === 1;
  const put = (of: Compiled | undefined, value: number): number => {
    const wanted = Math.fround(value);
    if (of && row instanceof HeldRecord && putNumber(asking.archive, row, of, wanted)) return wanted;
    throw new FormatError('does-not-fit', {
      ...{ file: asking.file, fieldPath: `box of ${stream.entry.path}`, expected: `${value}` },
      why: 'The model has outgrown its box, and no number of its row can be set so that a larger one follows',
    });
  };
  const sizes = [0, 1, 2].map((i) => {
    const size = isOne ? widest : around.high[i as 0]! - around.low[i as 0]!;
    // A hair more than needed, so that what is rounded to a float still reaches the end.
    return ((size || 1e-6) * (1 + 1e-6)) / (range[1] - range[0]);
  });
  const scale = said.times.map((of, i) => put(of, sizes[i]!));
  const scaleAt = (i: number): number => scale[i] ?? scale[0] ?? 1;
  const shift = said.plus.map((of, i) => put(of, around.low[i as 0]! - range[0] * scaleAt(i)));
  return { ...field, times: scale, plus: shift };
}

function writeIn(
  body: Uint8Array,
  layout: Stream['layout'],
  field: StreamField,
  given: Float32Array | Uint16Array,
  each: number,
  part: string,
  name: string,
  isKept: (i: number) => boolean,
): void {
  try {
    writeField(body, layout, field, given, each, isKept);
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    throw new FormatError(error.code, {
      ...error.facts,
      fieldPath: `parts[${part}].${name}${error.facts.fieldPath ?? ''}`,
    });
  }
}

interface Values {
  readonly given: Float32Array | Uint16Array;
  readonly each: number;
}

/** What a field of a stream is for the vertices of a part; what a part has not is as it is where nothing is. */
function valuesOf(name: string, part: Part, mesh: Mesh, type: ModelType, asking: Asking): Values | undefined {
  const count = verticesOf(part);
  switch (name) {
    case 'place':
      return { given: part.places, each: 3 };
    case 'normal':
      return { given: part.normals ?? filled(count, [0, 1, 0]), each: 3 };
    case 'tangent':
      return { given: part.tangents ?? filled(count, [1, 0, 0, 1]), each: 4 };
    case 'colour':
      return { given: part.colours ?? filled(count, [1, 1, 1, 1]), each: 4 };
    case 'joints':
      return { given: jointsFor(part, mesh, asking), each: 4 };
    case 'weights':
      return { given: weightsFor(part, heldNumbers(mesh, 'joints')), each: 4 };
    default: {
      const set = part.coordinates[COORDINATES.findIndex((one) => one === name)] ?? part.coordinates[0];
      const given = set ?? new Float32Array(2 * count);
      return { given: type.coordinates === 'bottom' ? upsideDown(given) : given, each: 2 };
    }
  }
}

function filled(count: number, one: readonly number[]): Float32Array {
  const out = new Float32Array(count * one.length);
  for (let i = 0; i < out.length; i++) out[i] = one[i % one.length]!;
  return out;
}

function jointsFor(part: Part, mesh: Mesh, asking: Asking): Float32Array {
  const count = verticesOf(part);
  const list = jointList(mesh, asking);
  const back = list && new Map(list.map((bone, i) => [bone, i]));
  const out = new Float32Array(4 * count);
  if (!part.joints) return out;
  for (let i = 0; i < out.length; i++) {
    const bone = part.joints[i]!;
    const number = back ? back.get(bone) : bone;
    if (number === undefined && (part.weights?.[i] ?? 0) > 0)
      throw new FormatError('does-not-fit', {
        ...{
          fieldPath: `[${i >> 2}]`,
          expected: `a bone of the ${list!.length} that mesh '${mesh.key}' lists`,
        },
        actual: `${bone}`,
      });
    out[i] = number ?? 0;
  }
  return out;
}

/** The weights of so many bones as the stream holds: the heaviest, together 1. */
function weightsFor(part: Part, most: number): Float32Array {
  const count = verticesOf(part);
  if (!part.weights) return filled(count, [1, 0, 0, 0]);
  if (most >= 4) return part.weights;
  const out = new Float32Array(4 * count);
  for (let vertex = 0; vertex < count; vertex++) {
    const own = part.weights.subarray(4 * vertex, 4 * vertex + most);
    const sum = own.reduce((all, weight) => all + weight, 0);
    for (let i = 0; i < own.length; i++) out[4 * vertex + i] = sum > 0 ? own[i]! / sum : i === 0 ? 1 : 0;
  }
  return out;
}
