import { MeshBVH } from 'three-mesh-bvh';
import * as three from 'three';
import { edgesOf, isUpwards, shellsOf, triangleOf, usesOf, type Edges, type Sets } from './edges';
import { trianglesIn, volumeOf, type Solid } from './solid';

export interface Oriented {
  readonly solid: Solid;
  /** Triangles that were turned over. */
  readonly turned: number;
}

/**
 * Turns triangles over until neighbours look the same way, and closed shells outwards. Each shell is walked over edges of two triangles; the
 * larger part of it stays as it was. A shell that looks inwards and lies inside another one is a hollow, and stays.
 */
export function orient(solid: Solid): Oriented {
  const corners = solid.corners.slice();
  const made: Solid = { places: solid.places, corners };
  const edges = edgesOf(solid);
  turnPatches(made, edges);
  const shells = shellsOf(solid, edges);
  const isOpen = openShells(edges, shells);
  const members = membersOf(shells);
  const isInside = insideOf(solid, shells.of);
  for (let shell = 0; shell < shells.count; shell++) {
    const own = members[shell]!;
    if (isOpen[shell] === 1 || volumeOf(made, own) >= 0) continue;
    if (!isInside(shell, own)) for (const triangle of own) turnOver(corners, triangle);
  }
  let turned = 0;
  for (let triangle = 0; triangle < trianglesIn(solid); triangle++)
    if (corners[3 * triangle + 1] !== solid.corners[3 * triangle + 1]) turned++;
  return { solid: made, turned };
}

/** The second and third corner change places. */
function turnOver(corners: Uint32Array, triangle: number): void {
  const second = corners[3 * triangle + 1]!;
  corners[3 * triangle + 1] = corners[3 * triangle + 2]!;
  corners[3 * triangle + 2] = second;
}

export function membersOf({ of, count }: Sets): number[][] {
  const members = Array.from({ length: count }, (): number[] => []);
  of.forEach((shell, triangle) => members[shell]!.push(triangle));
  return members;
}

/** Whether a shell has an edge that not two triangles share. */
export function openShells(edges: Edges, { of, count }: Sets): Uint8Array {
  const isOpen = new Uint8Array(count);
  for (let edge = 0; edge < edges.count; edge++) {
    const uses = usesOf(edges, edge);
    if (uses.length % 2 === 1) for (const corner of uses) isOpen[of[triangleOf(corner)]!] = 1;
  }
  return isOpen;
}

/** Makes neighbours look the same way. */
function turnPatches(made: Solid, edges: Edges): void {
  const { corners } = made;
  const original = { places: made.places, corners: corners.slice() };
  const triangles = trianglesIn(made);
  const state = new Int8Array(triangles);
  for (let start = 0; start < triangles; start++) {
    if (state[start] !== 0) continue;
    state[start] = 1;
    const patch = [start];
    let over = 0;
    for (let at = 0; at < patch.length; at++) {
      const triangle = patch[at]!;
      for (let corner = 3 * triangle; corner < 3 * triangle + 3; corner++) {
        const uses = usesOf(edges, edges.of[corner]!);
        if (uses.length !== 2) continue;
        const other = uses[0] === corner ? uses[1]! : uses[0]!;
        const beside = triangleOf(other);
        if (beside === triangle || state[beside] !== 0) continue;
        const isAlike = isUpwards(original, corner) !== isUpwards(original, other);
        state[beside] = (isAlike ? state[triangle]! : -state[triangle]!) as 1 | -1;
        if (state[beside] === -1) over++;
        patch.push(beside);
      }
    }
    const loser = 2 * over > patch.length ? 1 : -1;
    for (const triangle of patch) if (state[triangle] === loser) turnOver(corners, triangle);
  }
}

/** Tells whether a shell lies inside others: a ray from a corner of it meets them an odd number of times. One tree serves all shells. */
function insideOf(solid: Solid, of: Uint32Array): (shell: number, own: readonly number[]) => boolean {
  let tree: MeshBVH | undefined;
  return (shell, own) => {
    tree ??= treeOf(solid);
    const from = 3 * solid.corners[3 * own[0]!]!;
    // A direction that hardly any edge runs in.
    const ray = new three.Ray(
      new three.Vector3(solid.places[from], solid.places[from + 1], solid.places[from + 2]),
      new three.Vector3(0.577, 0.213, 0.788).normalize(),
    );
    const hits = tree.raycast(ray, three.DoubleSide).filter(({ faceIndex }) => of[faceIndex!] !== shell);
    return hits.length % 2 === 1;
  };
}

/** A tree of boxes over the triangles, which rays and triangles are held against (package three-mesh-bvh). */
export function treeOf(solid: Solid): MeshBVH {
  const geometry = new three.BufferGeometry();
  geometry.setAttribute('position', new three.BufferAttribute(new Float32Array(solid.places), 3));
  geometry.setIndex(new three.BufferAttribute(solid.corners.slice(), 1));
  return new MeshBVH(geometry, { indirect: true });
}
