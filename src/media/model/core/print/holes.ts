import * as three from 'three';
import { edgesOf, nextCorner, usesOf } from './edges';
import type { Solid } from './solid';

/** A closed row of edges that only one triangle has: vertices in the order of its triangles. */
export type Loop = readonly number[];

/** Corners whose edge has no other triangle. */
export function openCorners(solid: Solid): number[] {
  const edges = edgesOf(solid);
  const open: number[] = [];
  for (let edge = 0; edge < edges.count; edge++) {
    const uses = usesOf(edges, edge);
    if (uses.length === 1) open.push(uses[0]!);
  }
  return open;
}

/**
 * The holes of a solid whose triangles look the same way. Where two of them touch in a vertex they are told apart by closing each row as
 * soon as it comes back to a vertex that it has been at. Rows that do not close are left out.
 */
export function loopsOf(solid: Solid, open: readonly number[] = openCorners(solid)): Loop[] {
  const { corners } = solid;
  const onwards = new Map<number, number[]>();
  for (const corner of open) {
    const from = corners[corner]!;
    const list = onwards.get(from);
    if (list) list.push(corners[nextCorner(corner)]!);
    else onwards.set(from, [corners[nextCorner(corner)]!]);
  }
  const loops: Loop[] = [];
  for (const start of onwards.keys())
    while ((onwards.get(start)?.length ?? 0) > 0) {
      const row = [start];
      const placeOf = new Map([[start, 0]]);
      for (let to = onwards.get(start)!.pop(); to !== undefined; to = onwards.get(to)?.pop()) {
        const back = placeOf.get(to);
        if (back === undefined) {
          placeOf.set(to, row.length);
          row.push(to);
          continue;
        }
        const loop = row.splice(back);
        for (const vertex of loop) placeOf.delete(vertex);
        if (loop.length > 2) loops.push(loop);
        if (row.length === 0) break;
        placeOf.set(to, row.length);
        row.push(to);
      }
    }
  return loops;
}

/** How long the edge of a hole is, in millimetres. */
export const lengthOf = ({ places }: Solid, loop: Loop): number =>
  loop.reduce((sum, from, i) => {
    const to = loop[(i + 1) % loop.length]!;
    return (
      sum +
      Math.hypot(
        places[3 * to]! - places[3 * from]!,
        places[3 * to + 1]! - places[3 * from + 1]!,
        places[3 * to + 2]! - places[3 * from + 2]!,
      )
    );
  }, 0);

/** The vector that stands on a polygon, as long as twice its surface (Newell, in Sutherland et al. 1974). */
function standsOn({ places }: Solid, loop: Loop): three.Vector3 {
  const sum = new three.Vector3();
  loop.forEach((from, i) => {
    const to = loop[(i + 1) % loop.length]!;
    const [ax, ay, az] = [places[3 * from]!, places[3 * from + 1]!, places[3 * from + 2]!];
    const [bx, by, bz] = [places[3 * to]!, places[3 * to + 1]!, places[3 * to + 2]!];
    sum.x += (ay - by) * (az + bz);
    sum.y += (az - bz) * (ax + bx);
    sum.z += (ax - bx) * (ay + by);
  });
  return sum;
}

/**
 * A lid for each hole, of the vertices at its edge: laid flat on the plane that fits best and cut into ears (package three, after Meisters
 * 1975). Where the edge crosses itself as seen from there, a fan from one of its vertices is taken. Gives the solid with its lids.
 */
export function close(
  solid: Solid,
  loops: readonly Loop[],
): { readonly solid: Solid; readonly added: number } {
  const lids: number[] = [];
  for (const loop of loops) {
    const vertices = [...loop].reverse();
    const up = standsOn(solid, vertices);
    const lid = up.lengthSq() > 0 ? ears(solid, vertices, up.normalize()) : [];
    if (lid.length === vertices.length - 2)
      for (const [a, b, c] of lid) lids.push(vertices[a!]!, vertices[b!]!, vertices[c!]!);
    else
      for (let i = 1; i + 1 < vertices.length; i++) lids.push(vertices[0]!, vertices[i]!, vertices[i + 1]!);
  }
  const corners = new Uint32Array(solid.corners.length + lids.length);
  corners.set(solid.corners);
  corners.set(lids, solid.corners.length);
  return { solid: { places: solid.places, corners }, added: lids.length / 3 };
}

function ears({ places }: Solid, vertices: readonly number[], up: three.Vector3): number[][] {
  const beside = new three.Vector3(1, 0, 0);
  if (Math.abs(up.x) > 0.9) beside.set(0, 1, 0);
  const u = beside.cross(up).normalize();
  const v = up.clone().cross(u);
  const at = new three.Vector3();
  const flat = vertices.map((vertex) => {
    at.set(places[3 * vertex]!, places[3 * vertex + 1]!, places[3 * vertex + 2]!);
    return new three.Vector2(at.dot(u), at.dot(v));
  });
  return three.ShapeUtils.triangulateShape(flat, []);
}
