import zlib from 'node:zlib';
import { OutBytes } from '../out-bytes';
import type { Joint, Mesh, Point, Weights } from './mesh';

/** Pictures of a material, by the paths of their sheets; empty for none. */
export interface Paint {
  name: string;
  colour?: string;
  normal?: string;
  grey?: string;
  glow?: string;
}

export interface FormParts {
  meshes: readonly Mesh[];
  joints: readonly Joint[];
  paints: readonly Paint[];
}

const HEAD = 64;
const BONE = 64;
const STRETCH = 40;
const CORNERS = 16;
const PART = 64;
const VERTEX = 24;

/** A Peatfire space is left-handed with z up, in centimetres. */
const there = ([x, y, z]: Point): Point => [100 * x, 100 * z, 100 * y];
const turned = ([x, y, z]: Point): Point => [x, z, y];

function floats(out: OutBytes, values: readonly number[]): void {
  const bytes = Buffer.alloc(4 * values.length);
  values.forEach((value, i) => bytes.writeFloatLE(value, 4 * i));
  out.bytes(bytes);
}

/** A form: a head, bones, materials, rows of stretches of vertices and corners, parts, then the streams. */
export function writeForm({ meshes, joints, paints }: FormParts): Buffer {
  const paintBytes = paints.map((paint) => {
    const out = new OutBytes();
    out.text(paint.name, 24);
    for (const path of [paint.colour, paint.normal, paint.grey, paint.glow]) {
      const bytes = Buffer.from(path ?? '', 'utf8');
      out.u16(bytes.length).bytes(bytes);
    }
    return out.whole();
  });
  const streams = meshes.map(vertexStream);
  const corners = meshes.map(({ triangles }) => cornerStream(triangles));
  const paintLength = paintBytes.reduce((sum, { length }) => sum + length, 0);
  const tables = HEAD + joints.length * BONE + paintLength + meshes.length * (STRETCH + CORNERS + PART);
  let place = Math.ceil(tables / 16) * 16;
  const places = [...streams.map(({ body }) => body), ...corners].map((body) => {
    const own = place;
    place = Math.ceil((place + body.length) / 16) * 16;
    return own;
  });

  const out = new OutBytes();
  for (const joint of joints) {
    out.text(joint.name, 24).number(joint.parent, 2).u16(0);
    floats(out, [...there(joint.place), 0, 0, 0, 1, 1]);
    out.u32(0);
  }
  for (const bytes of paintBytes) out.bytes(bytes);
  streams.forEach(({ body, low, step }, i) => {
    out
      .u32(places[i]!)
      .u32(body.length / VERTEX)
      .u16(VERTEX)
      .u16(0)
      .u32(0);
    floats(out, [...low, ...step]);
  });
  corners.forEach((body, i) =>
    out
      .u32(places[meshes.length + i]!)
      .u32(body.length / 2)
      .u32(0)
      .u32(0),
  );
  meshes.forEach((mesh, i) => {
    const { low, high } = streams[i]!;
    out.text(mesh.name, 28).u16(i).u16(mesh.material).u8(mesh.level).u8(0).u16(0).u32(0);
    floats(out, [...low, ...high]);
  });
  const bodies = [...streams.map(({ body }) => body), ...corners];
  const rest = new OutBytes().bytes(out.whole());
  bodies.forEach((body, i) => {
    rest.bytes(Buffer.alloc(places[i]! - HEAD - rest.length)).bytes(body);
  });
  const behind = rest.whole();
  const head = new OutBytes();
  head.bytes(Buffer.from('FORM\x01\0\0\0', 'latin1'));
  head.u16(joints.length).u16(paints.length).u16(meshes.length).u16(0);
  head.u32(zlib.crc32(behind)).u32(HEAD + behind.length);
  head.bytes(Buffer.alloc(HEAD - head.length));
  return Buffer.concat([head.whole(), behind]);
}

function cornerStream(triangles: readonly number[]): Buffer {
  const out = Buffer.alloc(2 * triangles.length);
  // Seen from in front a Peatfire triangle goes round clockwise; the mirrored space turns ours into that by itself.
  triangles.forEach((corner, i) => out.writeUInt16LE(corner, 2 * i));
  return out;
}

function vertexStream({ corners, weights }: Mesh): {
  body: Buffer;
  low: number[];
  high: number[];
  step: number[];
} {
  const places = corners.map(({ place }) => there(place));
  const low = [0, 1, 2].map((axis) => Math.min(...places.map((place) => place[axis as 0])));
  const high = [0, 1, 2].map((axis) => Math.max(...places.map((place) => place[axis as 0])));
  const step = low.map((value, axis) => Math.fround(Math.max(1e-4, high[axis]! - value) / 65_535));
  const start = low.map(Math.fround);
  const body = Buffer.alloc(VERTEX * corners.length);
  corners.forEach(({ normal, at }, i) => {
    const from = VERTEX * i;
    for (let axis = 0; axis < 3; axis++) {
      const value = Math.round((places[i]![axis as 0] - start[axis]!) / step[axis]!);
      body.writeUInt16LE(Math.min(65_535, Math.max(0, value)), from + 2 * axis);
    }
    turned(normal).forEach((value, axis) => body.writeInt8(Math.round(value * 127), from + 6 + axis));
    at.forEach((value, axis) =>
      body.writeUInt16LE(Math.round(Math.min(1, Math.max(0, value)) * 65_535), from + 10 + 2 * axis),
    );
    fourBones(weights[i]!).forEach(([bone, weight], k) => {
      body[from + 16 + k] = bone;
      body[from + 20 + k] = weight;
    });
  });
  return { body, low: start, high: high.map(Math.fround), step };
}

/** Four bones with weights of 255 in all. */
function fourBones(weights: Weights): [number, number][] {
  const four: [number, number][] = [0, 1, 2, 3].map((i) => [
    weights[i]?.[0] ?? 0,
    Math.round((weights[i]?.[1] ?? 0) * 255),
  ]);
  four[0]![1] += 255 - four.reduce((sum, [, weight]) => sum + weight, 0);
  return four;
}
