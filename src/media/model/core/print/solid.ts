import type { Form } from '../form/form';
import { finestLevel } from '../form/form';

/** Triangles as a printer takes them: millimetres, x to the right, y away, z up. Corners are numbers of vertices, three a triangle. */
export interface Solid {
  /** 3 a vertex. */
  readonly places: Float64Array;
  readonly corners: Uint32Array;
}

export const trianglesIn = ({ corners }: Solid): number => corners.length / 3;
export const verticesIn = ({ places }: Solid): number => places.length / 3;

/** The parts of a form that are printed: those of its finest level, but for what is left out. */
export function printedParts({ parts }: Form, left: readonly string[]): Form['parts'] {
  const finest = finestLevel(parts);
  return parts.filter(({ level, name }) => level === finest && !left.includes(name));
}

/** Parts as one solid, `factor` times as large. A form has y up and is in metres. */
export function solidOf(parts: Form['parts'], factor: number): Solid {
  const vertices = parts.reduce((sum, part) => sum + part.places.length, 0);
  const triangles = parts.reduce((sum, part) => sum + part.triangles.length, 0);
  const places = new Float64Array(vertices);
  const corners = new Uint32Array(triangles);
  const times = 1000 * factor;
  let at = 0;
  let corner = 0;
  for (const part of parts) {
    const first = at / 3;
    for (let i = 0; i < part.places.length; i += 3) {
      places[at++] = part.places[i]! * times;
      places[at++] = -part.places[i + 2]! * times;
      places[at++] = part.places[i + 1]! * times;
    }
    for (const vertex of part.triangles) corners[corner++] = first + vertex;
  }
  return { places, corners };
}

/** Places as models have them: from millimetres with z up to metres with y up. */
export function yUp(places: ArrayLike<number>): Float32Array {
  const made = new Float32Array(places.length);
  for (let i = 0; i + 2 < places.length; i += 3) {
    made[i] = places[i]! / 1000;
    made[i + 1] = places[i + 2]! / 1000;
    made[i + 2] = -places[i + 1]! / 1000;
  }
  return made;
}

export interface Extent {
  readonly low: readonly [number, number, number];
  readonly high: readonly [number, number, number];
}

/** The box around what triangles use; undefined where there are none. */
export function extentOf({ places, corners }: Solid): Extent | undefined {
  const low: [number, number, number] = [Infinity, Infinity, Infinity];
  const high: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  for (const vertex of corners)
    for (let axis = 0; axis < 3; axis++) {
      const value = places[3 * vertex + axis]!;
      if (value < low[axis]!) low[axis] = value;
      if (value > high[axis]!) high[axis] = value;
    }
  return low[0] <= high[0] ? { low, high } : undefined;
}

export type Size = readonly [number, number, number];

export function sizeOf(solid: Solid): Size {
  const box = extentOf(solid);
  return box ? [box.high[0] - box.low[0], box.high[1] - box.low[1], box.high[2] - box.low[2]] : [0, 0, 0];
}

/**
 * Volume by the divergence theorem, in cubic millimetres: that of a closed surface whose faces look outwards; negative where they look
 * inwards. `only` are numbers of triangles.
 */
export function volumeOf({ places, corners }: Solid, only?: Iterable<number>): number {
  let six = 0;
  const add = (triangle: number): void => {
    const [i, j, k] = [
      3 * corners[3 * triangle]!,
      3 * corners[3 * triangle + 1]!,
      3 * corners[3 * triangle + 2]!,
    ];
    const [ax, ay, az] = [places[i]!, places[i + 1]!, places[i + 2]!];
    const [bx, by, bz] = [places[j]!, places[j + 1]!, places[j + 2]!];
    const [cx, cy, cz] = [places[k]!, places[k + 1]!, places[k + 2]!];
    six += ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx);
  };
  if (only) for (const triangle of only) add(triangle);
  else for (let triangle = 0; 3 * triangle < corners.length; triangle++) add(triangle);
  return six / 6;
}

/** Twice the surface of a triangle, as a vector that stands on it. */
export function crossOf({ places, corners }: Solid, triangle: number): [number, number, number] {
  const [i, j, k] = [
    3 * corners[3 * triangle]!,
    3 * corners[3 * triangle + 1]!,
    3 * corners[3 * triangle + 2]!,
  ];
  const [ux, uy, uz] = [
    places[j]! - places[i]!,
    places[j + 1]! - places[i + 1]!,
    places[j + 2]! - places[i + 2]!,
  ];
  const [vx, vy, vz] = [
    places[k]! - places[i]!,
    places[k + 1]! - places[i + 1]!,
    places[k + 2]! - places[i + 2]!,
  ];
  return [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
}

/** Surface in square millimetres. */
export function surfaceOf(solid: Solid): number {
  let sum = 0;
  for (let triangle = 0; triangle < trianglesIn(solid); triangle++)
    sum += Math.hypot(...crossOf(solid, triangle)) / 2;
  return sum;
}

/** The same with vertices that no triangle uses left out. */
export function compact({ places, corners }: Solid): Solid {
  const to = new Int32Array(places.length / 3).fill(-1);
  let count = 0;
  const made = new Uint32Array(corners.length);
  for (let i = 0; i < corners.length; i++) {
    const vertex = corners[i]!;
    if (to[vertex] === -1) to[vertex] = count++;
    made[i] = to[vertex]!;
  }
  const kept = new Float64Array(3 * count);
  for (let vertex = 0; vertex < to.length; vertex++)
    if (to[vertex] !== -1) kept.set(places.subarray(3 * vertex, 3 * vertex + 3), 3 * to[vertex]!);
  return { places: kept, corners: made };
}

/** Some of its triangles, with the vertices that these use; turned over on request. What it costs depends on them alone. */
export function shellOf({ places, corners }: Solid, own: readonly number[], isTurned = false): Solid {
  const to = new Map<number, number>();
  const made = new Uint32Array(3 * own.length);
  const kept: number[] = [];
  own.forEach((triangle, i) => {
    for (let corner = 0; corner < 3; corner++) {
      const vertex = corners[3 * triangle + (isTurned ? (3 - corner) % 3 : corner)]!;
      let number = to.get(vertex);
      if (number === undefined) {
        to.set(vertex, (number = to.size));
        kept.push(places[3 * vertex]!, places[3 * vertex + 1]!, places[3 * vertex + 2]!);
      }
      made[3 * i + corner] = number;
    }
  });
  return { places: Float64Array.from(kept), corners: made };
}
