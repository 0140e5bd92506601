import { FormatError } from '@/core/bytes';
import { verticesOf, type Morph, type Part } from '../form/form';
import { readField, writeField } from '../streams/vertex-stream';
import type { Asking } from './asking';
import type { Mesh } from './meshes';
import type { Stream } from './streams';

/** Another shape of a mesh: its stream, what it is called, and by how much it moves each vertex: 3 a vertex of the mesh, in the file's space. */
export interface ShapeRead {
  readonly stream: Stream;
  readonly name: string;
  readonly moves: Float32Array;
}

/** Numbers of all shapes of a mesh together: few bytes may claim to move few of many vertices. */
const MOST_NUMBERS = 1 << 27;

/** The shapes of a mesh whose own places are `places`. Throws FormatError where one is of other vertices. */
export function shapesOf(
  mesh: Pick<Mesh, 'shapes' | 'count'>,
  places: Float32Array,
  asking: Asking,
): ShapeRead[] {
  if (mesh.shapes.length * places.length > MOST_NUMBERS)
    throw new FormatError('budget', {
      ...{ file: asking.file, fieldPath: 'model, shapes', expected: `at most ${MOST_NUMBERS} numbers` },
      actual: `${mesh.shapes.length} shapes of ${mesh.count} vertices`,
    });
  return mesh.shapes.map((stream, i) => {
    asking.archive.context.spend(mesh.count);
    const name = asking.text('name', stream.type.name, stream.entry.row, `shape ${i}`);
    return { stream, name, moves: movesOf(stream, mesh.count, places, asking) };
  });
}

function movesOf(stream: Stream, count: number, places: Float32Array, asking: Asking): Float32Array {
  const { bytes, layout, fields, type, entry } = stream;
  const of = { file: asking.file, fieldPath: `model of ${entry.path}` };
  const said = readField(bytes, layout, fields.get('place')!, 3);
  const numbers = numbersIn(stream);
  const isPlace = type.relative === 'model';
  if (!numbers) {
    if (layout.count !== count)
      throw new FormatError('bad-value', {
        ...{ ...of, expected: `${count} vertices, or 'vertex'`, actual: `${layout.count}` },
      });
    return isPlace ? said.map((value, i) => value - places[i]!) : said;
  }
  const out = new Float32Array(3 * count);
  numbers.forEach((vertex, i) => {
    if (!Number.isInteger(vertex) || vertex < 0 || vertex >= count)
      throw new FormatError('bad-value', {
        ...{ ...of, fieldPath: `${of.fieldPath}[${i}].vertex` },
        ...{ expected: `a vertex below ${count}`, actual: `${vertex}` },
      });
    for (let axis = 0; axis < 3; axis++)
      out[3 * vertex + axis] = said[3 * i + axis]! - (isPlace ? places[3 * vertex + axis]! : 0);
  });
  return out;
}

/** The vertices that a shape lists; undefined where it has all of them. */
function numbersIn({ bytes, layout, fields }: Stream): Float32Array | undefined {
  const field = fields.get('vertex');
  return field && readField(bytes, layout, field, 1);
}

/** A part, and where its vertices begin in the mesh that is written. */
interface Placed {
  readonly part: Part;
  /** The mesh's number of each vertex, as it was. */
  readonly was: Uint32Array;
  readonly firstVertex: number;
}

/** The body of a shape's stream for the parts of its mesh as they are written. */
export function shapeBody(shape: ShapeRead, placed: readonly Placed[], vertices: number): Uint8Array {
  const { stream, name } = shape;
  const moves = new Float32Array(3 * vertices);
  const places = new Float32Array(3 * vertices);
  // Numbers of the file's own vertices, where they are the ones that are written.
  const was = new Int32Array(vertices).fill(-1);
  for (const { part, was: own, firstVertex } of placed) {
    const moved = part.morphs.find((one) => one.name === name)?.places;
    if (moved) moves.set(moved, 3 * firstVertex);
    places.set(part.places, 3 * firstVertex);
    if (own.length === verticesOf(part)) was.set(own, firstVertex);
  }
  const isPlace = stream.type.relative === 'model';
  const values = isPlace ? moves.map((value, i) => value + places[i]!) : moves;
  return stream.fields.has('vertex')
    ? listedBody(stream, moves, values)
    : wholeBody(shape, moves, values, was, isPlace);
}

/** All vertices, one after the other; what nobody describes in one stays where the vertex does. */
function wholeBody(
  { stream, moves: old }: ShapeRead,
  moves: Float32Array,
  values: Float32Array,
  was: Int32Array,
  isPlace: boolean,
): Uint8Array {
  const { layout, bytes, fields } = stream;
  const { stride, first } = layout;
  const count = was.length;
  const body = new Uint8Array(first + count * stride);
  body.set(bytes.subarray(0, first));
  was.forEach((vertex, i) => {
    if (vertex >= 0)
      body.set(bytes.subarray(first + vertex * stride, first + (vertex + 1) * stride), first + i * stride);
  });
  const before = readField(bytes, layout, fields.get('place')!, 3);
  writeField(body, { ...layout, count }, fields.get('place')!, values, 3, (i) => {
    const vertex = was[i]!;
    if (vertex < 0) return false;
    const [now, then] = isPlace ? [values, before] : [moves, old];
    return [0, 1, 2].every((axis) => now[3 * i + axis] === then[3 * vertex + axis]);
  });
  return body;
}

/** The vertices that are moved. Where these are the same ones, what nobody describes stays. */
function listedBody(stream: Stream, moves: Float32Array, values: Float32Array): Uint8Array {
  const { layout, bytes, fields } = stream;
  const { stride, first } = layout;
  const before = numbersIn(stream)!;
  const isMoved = (vertex: number): boolean =>
    moves[3 * vertex] !== 0 || moves[3 * vertex + 1] !== 0 || moves[3 * vertex + 2] !== 0;
  const listed = new Set(before);
  const own: number[] = [];
  for (let vertex = 0; 3 * vertex < moves.length; vertex++) if (isMoved(vertex)) own.push(vertex);
  // In the order of the file, with those that stand still there, as long as they are all of it.
  const isSame =
    own.every((vertex) => listed.has(vertex)) && before.every((vertex) => 3 * vertex < moves.length);
  const numbers = isSame ? before : Float32Array.from(own);
  const body = new Uint8Array(first + numbers.length * stride);
  body.set(bytes.subarray(0, isSame ? body.length : first));
  const now = { ...layout, count: numbers.length };
  const old = readField(bytes, layout, fields.get('place')!, 3);
  const picked = new Float32Array(3 * numbers.length);
  numbers.forEach((vertex, i) => picked.set(values.subarray(3 * vertex, 3 * vertex + 3), 3 * i));
  if (!isSame) writeField(body, now, fields.get('vertex')!, numbers, 1, () => false);
  writeField(body, now, fields.get('place')!, picked, 3, (i) =>
    isSame ? [0, 1, 2].every((axis) => picked[3 * i + axis] === old[3 * i + axis]) : false,
  );
  return body;
}

/**
 * The shapes of a slot for a part that comes in its place: those of its own that are called so; else the old ones, where it has as many
 * vertices; else such that nothing moves in.
 */
export const shapesFor = (slot: readonly Morph[], given: Part, isAsMany: boolean): Morph[] =>
  slot.map(
    (own) =>
      given.morphs.find(({ name }) => name === own.name) ??
      (isAsMany ? own : { name: own.name, places: new Float32Array(given.places.length) }),
  );
