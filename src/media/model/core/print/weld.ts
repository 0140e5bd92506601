import { compact, crossOf, trianglesIn, type Solid } from './solid';

export interface Welded {
  readonly solid: Solid;
  /** Vertices that became one with another. */
  readonly joined: number;
  /** Triangles without a surface, and ones that were there twice. */
  readonly flat: number;
  readonly twice: number;
}

/**
 * Vertices that lie at most `within` millimetres from each other become one; what has no surface then, or is there twice, is left out.
 * Cells of a grid are looked through, each with its neighbours, so that nothing is missed at their edges.
 */
export function weld(solid: Solid, within: number): Welded {
  const to = joinedTo(solid, within);
  const joined = to.reduce((sum, target, vertex) => sum + (target === vertex ? 0 : 1), 0);
  const total = trianglesIn(solid);
  const kept = new Uint32Array(solid.corners.length);
  // Triangles by their lowest vertex, as chains.
  const head = new Int32Array(to.length).fill(-1);
  const next = new Int32Array(total);
  const isThere = (low: number, middle: number, high: number): boolean => {
    for (let other = head[low]!; other >= 0; other = next[other]!) {
      let own = 0;
      for (let corner = 3 * other; corner < 3 * other + 3; corner++)
        if (kept[corner] === middle || kept[corner] === high) own++;
      if (own === 2) return true;
    }
    return false;
  };
  let [count, flat, twice] = [0, 0, 0];
  for (let triangle = 0; triangle < total; triangle++) {
    const [a, b, c] = [0, 1, 2].map((i) => to[solid.corners[3 * triangle + i]!]!) as [number, number, number];
    // Needles are kept: without them the surface would have a slit.
    if (a === b || b === c || c === a) {
      flat++;
      continue;
    }
    const low = Math.min(a, b, c);
    const high = Math.max(a, b, c);
    if (isThere(low, a + b + c - low - high, high)) {
      twice++;
      continue;
    }
    kept.set([a, b, c], 3 * count);
    next[count] = head[low]!;
    head[low] = count++;
  }
  const corners = kept.slice(0, 3 * count);
  return { solid: compact({ places: solid.places, corners }), joined, flat, twice };
}

/** For each vertex the one that it becomes one with: the first of those near it, or itself. */
function joinedTo({ places }: Solid, within: number): Uint32Array {
  const count = places.length / 3;
  const to = Uint32Array.from({ length: count }, (_, i) => i);
  const size = 2 ** Math.ceil(Math.log2(Math.max(2, 2 * count)));
  const head = new Int32Array(size).fill(-1);
  const next = new Int32Array(count);
  const float = new Float32Array(1);
  const bits = new Int32Array(float.buffer);
  // Without a distance, places that are alike have like bits; nought has two spellings.
  const cellOf = (value: number): number => {
    if (within > 0) return Math.floor(value / within);
    float[0] = value + 0 === 0 ? 0 : value;
    return bits[0]!;
  };
  const slotOf = (x: number, y: number, z: number): number =>
    ((Math.imul(x, 73856093) ^ Math.imul(y, 19349663) ^ Math.imul(z, 83492791)) >>> 0) & (size - 1);
  const steps = within > 0 ? [-1, 0, 1] : [0];
  for (let vertex = 0; vertex < count; vertex++) {
    const [x, y, z] = [places[3 * vertex]!, places[3 * vertex + 1]!, places[3 * vertex + 2]!];
    const [cx, cy, cz] = [cellOf(x), cellOf(y), cellOf(z)];
    let found = -1;
    for (const dx of steps)
      for (const dy of steps)
        for (const dz of steps)
          // What has the same slot by chance lies too far off.
          for (
            let other = found < 0 ? head[slotOf(cx + dx, cy + dy, cz + dz)]! : -1;
            other >= 0;
            other = next[other]!
          ) {
            const [ox, oy, oz] = [
              places[3 * other]! - x,
              places[3 * other + 1]! - y,
              places[3 * other + 2]! - z,
            ];
            if (ox * ox + oy * oy + oz * oz <= within * within) {
              found = other;
              break;
            }
          }
    if (found >= 0) to[vertex] = found;
    else {
      const slot = slotOf(cx, cy, cz);
      next[vertex] = head[slot]!;
      head[slot] = vertex;
    }
  }
  return to;
}

/** Triangles that have three corners and yet no surface to speak of. */
export function needles(solid: Solid): number {
  let sum = 0;
  for (let triangle = 0; triangle < trianglesIn(solid); triangle++)
    if (Math.hypot(...crossOf(solid, triangle)) < 1e-9) sum++;
  return sum;
}
