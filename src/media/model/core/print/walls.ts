import { ExtendedTriangle, type MeshBVH } from 'three-mesh-bvh';
import * as three from 'three';
import { crossOf, trianglesIn, type Solid } from './solid';

export interface Crossings {
  /** Pairs of triangles that go through each other. */
  readonly pairs: readonly (readonly [number, number])[];
  readonly hasMore: boolean;
}

const MOST_PAIRS = 2000;
/** Where very many lie at one spot, as in a fan about one vertex, it is given up after so many were held against each other. */
const testsFor = (triangles: number): number => Math.max(5_000_000, 60 * triangles);

/** Triangles that go through each other and share no vertex; a tree is held against itself. */
export function crossingsOf(solid: Solid, tree: MeshBVH): Crossings {
  const { corners } = solid;
  const pairs: (readonly [number, number])[] = [];
  const isBeside = (one: number, other: number): boolean => {
    for (let i = 3 * one; i < 3 * one + 3; i++)
      for (let j = 3 * other; j < 3 * other + 3; j++) if (corners[i] === corners[j]) return true;
    return false;
  };
  let hasMore = false;
  let tests = testsFor(trianglesIn(solid));
  tree.bvhcast(tree, new three.Matrix4(), {
    intersectsTriangles: (a: ExtendedTriangle, b: ExtendedTriangle, i: number, j: number): boolean => {
      if (--tests < 0) return (hasMore = true);
      const one = tree.resolveTriangleIndex(i);
      const other = tree.resolveTriangleIndex(j);
      if (one >= other || isBeside(one, other) || !a.intersectsTriangle(b)) return false;
      if (pairs.length >= MOST_PAIRS) return (hasMore = true);
      pairs.push([one, other]);
      return false;
    },
  });
  return { pairs, hasMore };
}

export interface ThinSpots {
  /** Triangles that were looked behind, and those of them with a wall that is too thin. */
  readonly tried: number;
  readonly thin: number;
  /** Millimetres; 0 where none was found. */
  readonly thinnest: number;
  /** Numbers of the thin triangles. */
  readonly spots: readonly number[];
}

const MOST_TRIED = 20_000;

/** How thick the solid is behind its triangles: a ray goes inwards from the middle of each, evenly chosen ones where they are many. */
export function thinSpots(solid: Solid, tree: MeshBVH, wall: number): ThinSpots {
  const count = trianglesIn(solid);
  const step = Math.max(1, count / MOST_TRIED);
  const spots: number[] = [];
  let tried = 0;
  let thinnest = Infinity;
  const ray = new three.Ray();
  for (let next = 0; next < count; next += step) {
    const triangle = Math.floor(next);
    const across = new three.Vector3(...crossOf(solid, triangle));
    if (across.lengthSq() < 1e-18) continue;
    tried++;
    ray.direction.copy(across.normalize()).negate();
    middle(solid, triangle, ray.origin).addScaledVector(ray.direction, 1e-4);
    const hit = tree.raycastFirst(ray, three.DoubleSide, 0, wall) as {
      distance: number;
      face?: { normal: three.Vector3 };
    } | null;
    // Only a face that looks the other way is the far side of a wall.
    if (!hit?.face || hit.face.normal.dot(ray.direction) <= 0) continue;
    const thickness = hit.distance + 1e-4;
    if (thickness >= wall) continue;
    spots.push(triangle);
    if (thickness < thinnest) thinnest = thickness;
  }
  return { tried, thin: spots.length, thinnest: spots.length > 0 ? thinnest : 0, spots };
}

function middle({ places, corners }: Solid, triangle: number, to: three.Vector3): three.Vector3 {
  to.set(0, 0, 0);
  for (let corner = 3 * triangle; corner < 3 * triangle + 3; corner++) {
    const at = 3 * corners[corner]!;
    to.x += places[at]! / 3;
    to.y += places[at + 1]! / 3;
    to.z += places[at + 2]! / 3;
  }
  return to;
}
