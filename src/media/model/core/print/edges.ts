import { trianglesIn, verticesIn, type Solid } from './solid';

/**
 * The edges of a solid, each once, and who uses them. An edge is used by the corner that it starts at: corner `3t + i` of triangle `t` stands
 * for the edge from corner i to the next one.
 */
export interface Edges {
  readonly count: number;
  /** Uses of edge `e` are `uses[first[e]]` up to `uses[first[e + 1] - 1]`. */
  readonly first: Uint32Array;
  readonly uses: Uint32Array;
  /** The edge that a corner starts. */
  readonly of: Uint32Array;
}

export const triangleOf = (corner: number): number => Math.floor(corner / 3);
/** The corner behind this one in its triangle. */
export const nextCorner = (corner: number): number => (corner % 3 === 2 ? corner - 2 : corner + 1);

/** Whether a corner runs its edge from the lower vertex number to the higher. */
export const isUpwards = ({ corners }: Solid, corner: number): boolean =>
  corners[corner]! < corners[nextCorner(corner)]!;

/** Corners are sorted into lists by the lower vertex of their edges, and told apart by the higher one within these. */
export function edgesOf(solid: Solid): Edges {
  const { corners } = solid;
  const total = corners.length;
  const starts = new Uint32Array(verticesIn(solid) + 1);
  const low = (corner: number): number => Math.min(corners[corner]!, corners[nextCorner(corner)]!);
  const high = (corner: number): number => Math.max(corners[corner]!, corners[nextCorner(corner)]!);
  for (let corner = 0; corner < total; corner++) starts[low(corner) + 1]!++;
  for (let i = 1; i < starts.length; i++) starts[i]! += starts[i - 1]!;
  const fill = starts.slice();
  const uses = new Uint32Array(total);
  for (let corner = 0; corner < total; corner++) uses[fill[low(corner)]!++] = corner;
  const first: number[] = [];
  const of = new Uint32Array(total);
  for (let vertex = 0; vertex + 1 < starts.length; vertex++) {
    const own = uses.subarray(starts[vertex], starts[vertex + 1]).sort((a, b) => high(a) - high(b) || a - b);
    for (let i = 0; i < own.length; i++) {
      if (i === 0 || high(own[i]!) !== high(own[i - 1]!)) first.push(starts[vertex]! + i);
      of[own[i]!] = first.length - 1;
    }
  }
  return { count: first.length, first: Uint32Array.from([...first, total]), uses, of };
}

export const usesOf = ({ first, uses }: Edges, edge: number): Uint32Array =>
  uses.subarray(first[edge], first[edge + 1]);

/** Which of some sets each triangle belongs to, and how many sets there are. */
export interface Sets {
  readonly of: Uint32Array;
  readonly count: number;
}

/** Shells: triangles that hang together over edges. */
export const shellsOf = (solid: Solid, edges: Edges): Sets => joinedOver(solid, edges, () => true);

/** Patches: triangles that hang together over edges of exactly two. */
export const patchesOf = (solid: Solid, edges: Edges): Sets =>
  joinedOver(solid, edges, (uses) => uses.length === 2);

function joinedOver(solid: Solid, edges: Edges, joins: (uses: Uint32Array) => boolean): Sets {
  const triangles = trianglesIn(solid);
  const of = new Uint32Array(triangles).fill(0xffffffff);
  let count = 0;
  const open: number[] = [];
  // An edge that very many triangles share is gone along once, not from each of them.
  const isDone = new Uint8Array(edges.count);
  for (let start = 0; start < triangles; start++) {
    if (of[start] !== 0xffffffff) continue;
    of[start] = count;
    open.push(start);
    for (let triangle = open.pop(); triangle !== undefined; triangle = open.pop())
      for (let corner = 3 * triangle; corner < 3 * triangle + 3; corner++) {
        const edge = edges.of[corner]!;
        if (isDone[edge] === 1) continue;
        isDone[edge] = 1;
        const uses = usesOf(edges, edge);
        if (!joins(uses)) continue;
        for (const other of uses) {
          const beside = triangleOf(other);
          if (of[beside] !== 0xffffffff) continue;
          of[beside] = count;
          open.push(beside);
        }
      }
    count++;
  }
  return { of, count };
}
