import type { Mesh } from '../forms/mesh';
import { OutBytes } from '../out-bytes';

/** A material of a carving: its name, and the path of its picture, empty for none. */
export interface Wood {
  readonly name: string;
  readonly picture: string;
}

const UNIT = 0.01;
const VERTEX = 14;
const END = 0xffff;

/** Corners as strips: two triangles that share an edge become one of four corners, others stand alone. */
function strips(triangles: readonly number[]): number[] {
  const out: number[] = [];
  for (let at = 0; at < triangles.length;) {
    const [a, b, c] = triangles.slice(at, at + 3) as [number, number, number];
    const next = triangles.slice(at + 3, at + 6);
    // The second triangle of a strip goes round the other way: b, c and a new corner, turned.
    const rest = next.filter((one) => one !== a && one !== b && one !== c);
    const turn = [
      [a, b, c],
      [b, c, a],
      [c, a, b],
    ].find(([, q, r]) => next.length === 3 && rest.length === 1 && next.includes(q!) && next.includes(r!));
    if (turn) {
      out.push(...turn, rest[0]!, END);
      at += 6;
    } else {
      out.push(a, b, c, END);
      at += 3;
    }
  }
  return out;
}

/**
 * A still model as Tallow & Tide keeps it: highest bytes first, z up, whole numbers of centimetres; a head, rows of parts and of woods, then
 * all vertices, then strips of corners that begin anew for each part.
 */
export function writeCarving(meshes: readonly Mesh[], woods: readonly Wood[]): Buffer {
  const vertices = new OutBytes(true);
  const corners: number[] = [];
  const parts = new OutBytes(true);
  let base = 0;
  for (const mesh of meshes) {
    const own = strips(mesh.triangles);
    parts.text(mesh.name, 12).u32(corners.length).u32(own.length).u32(base).u16(mesh.material).u16(0);
    corners.push(...own);
    base += mesh.corners.length;
    for (const { place, normal, at } of mesh.corners) {
      const [x, y, z] = place;
      for (const value of [x, -z, y]) vertices.number(Math.round(value / UNIT), 2);
      for (const value of [normal[0], -normal[2], normal[1]]) vertices.number(Math.round(value * 127), 1);
      vertices.u8(0);
      for (const value of at) vertices.u16(Math.round(Math.min(1, Math.max(0, value)) * 65_535));
    }
  }
  const rows = new OutBytes(true).bytes(parts.whole());
  for (const { name, picture } of woods) rows.text(name, 12).text(picture, 28);
  const head = 32;
  const start = head + rows.length;
  const stop = start + base * VERTEX;
  const out = new OutBytes(true)
    .text('CARV', 4)
    .u16(meshes.length)
    .u16(woods.length)
    .u32(base)
    .u32(start)
    .u32(corners.length)
    .u32(stop)
    .u32(stop + corners.length * 2)
    .u32(0)
    .bytes(rows.whole())
    .bytes(vertices.whole());
  for (const corner of corners) out.u16(corner);
  return out.whole();
}
