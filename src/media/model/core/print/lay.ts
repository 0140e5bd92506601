import type { ManifoldToplevel, Vec2, Vec3 } from 'manifold-3d/manifold';
import * as three from 'three';
import type { PrintSettings } from './settings';
import { extentOf, sizeOf, type Size, type Solid } from './solid';

/** Sides that are tried before a piece is said not to fit. */
const MOST_SIDES = 16;
/** A round rim is turned so many times at most. */
const MOST_TURNS = 360;

export const hasRoom = (size: Size, bed: PrintSettings['bed']): boolean =>
  size[0] <= bed.x + 1e-6 && size[1] <= bed.y + 1e-6 && size[2] <= bed.z + 1e-6;

/**
 * Lays a solid on the flat side of its hull that is largest among those with which it has room on the bed, turned about the upright axis
 * so that its box is smallest (Freeman and Shapira 1975), with its longer side along the longer one of the bed. Where none has room, the
 * largest side is taken.
 */
export function lay(engine: ManifoldToplevel, solid: Solid, bed: PrintSettings['bed']): Solid {
  const { sides, points } = hullOf(engine, solid);
  let first: Solid | undefined;
  for (const side of sides.slice(0, MOST_SIDES)) {
    const down = new three.Quaternion().setFromUnitVectors(side, new three.Vector3(0, 0, -1));
    const turn = spun(engine, down, points, bed.x >= bed.y);
    const laid = onBed(turnedBy(solid, turn));
    if (hasRoom(sizeOf(laid), bed)) return laid;
    first ??= laid;
  }
  return first ?? onBed(solid);
}

/** Moved so that its lowest corner is at nought. */
export function onBed(solid: Solid): Solid {
  const box = extentOf(solid);
  if (!box) return solid;
  return {
    places: solid.places.map((value, i) => value - box.low[(i % 3) as 0 | 1 | 2]),
    corners: solid.corners,
  };
}

/** The sides of the smallest bulging body around a solid, the largest first, and its corners. */
function hullOf(
  { Manifold }: ManifoldToplevel,
  solid: Solid,
): { sides: three.Vector3[]; points: three.Vector3[] } {
  const all: Vec3[] = [];
  for (let i = 0; i < solid.places.length; i += 3)
    all.push([solid.places[i]!, solid.places[i + 1]!, solid.places[i + 2]!]);
  const hull = Manifold.hull(all);
  try {
    const { vertProperties, triVerts, numProp } = hull.getMesh();
    const at = (vertex: number): three.Vector3 =>
      new three.Vector3().fromArray(vertProperties, vertex * numProp);
    const points = Array.from({ length: vertProperties.length / numProp }, (_, vertex) => at(vertex));
    const sides = new Map<string, { readonly normal: three.Vector3; area: number }>();
    for (let i = 0; i < triVerts.length; i += 3) {
      const [a, b, c] = [at(triVerts[i]!), at(triVerts[i + 1]!), at(triVerts[i + 2]!)];
      const across = b.sub(a).cross(c.sub(a));
      const area = across.length() / 2;
      if (area === 0) continue;
      const normal = across.normalize();
      const name = normal
        .toArray()
        .map((value) => Math.round(value * 200))
        .join();
      const known = sides.get(name);
      if (known) known.area += area;
      else sides.set(name, { normal, area });
    }
    return { sides: [...sides.values()].sort((a, b) => b.area - a.area).map(({ normal }) => normal), points };
  } finally {
    hull.delete();
  }
}

/** With the turn about the upright axis that makes the box around it smallest. */
function spun(
  engine: ManifoldToplevel,
  down: three.Quaternion,
  points: readonly three.Vector3[],
  isWide: boolean,
): three.Quaternion {
  const flat = points.map((point) => point.clone().applyQuaternion(down));
  const rim = rimOf(engine, flat);
  let best = { angle: 0, area: Infinity, isWide: true };
  const step = Math.max(1, rim.length / MOST_TURNS);
  for (let next = 0; next < rim.length; next += step) {
    const from = rim[Math.floor(next)]!;
    const to = rim[(Math.floor(next) + 1) % rim.length]!;
    const angle = -Math.atan2(to[1] - from[1], to[0] - from[0]);
    const [wide, deep] = sidesAt(rim, angle);
    if (wide * deep < best.area - 1e-9) best = { angle, area: wide * deep, isWide: wide >= deep };
  }
  const angle = best.angle + (best.isWide === isWide ? 0 : Math.PI / 2);
  return new three.Quaternion().setFromAxisAngle(new three.Vector3(0, 0, 1), angle).multiply(down);
}

/** How wide and how deep points are, turned by an angle. */
function sidesAt(points: readonly Vec2[], angle: number): readonly [number, number] {
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  let [left, right, front, back] = [Infinity, -Infinity, Infinity, -Infinity];
  for (const [x, y] of points) {
    const [across, away] = [x * cos - y * sin, x * sin + y * cos];
    left = Math.min(left, across);
    right = Math.max(right, across);
    front = Math.min(front, away);
    back = Math.max(back, away);
  }
  return [right - left, back - front];
}

/** The hull of points as seen from above. */
function rimOf({ CrossSection }: ManifoldToplevel, points: readonly three.Vector3[]): Vec2[] {
  const hull = CrossSection.hull([points.map(({ x, y }): Vec2 => [x, y])]);
  try {
    return hull.toPolygons()[0] ?? [];
  } finally {
    hull.delete();
  }
}

function turnedBy({ places, corners }: Solid, turn: three.Quaternion): Solid {
  const made = new Float64Array(places.length);
  const at = new three.Vector3();
  for (let i = 0; i < places.length; i += 3)
    at.set(places[i]!, places[i + 1]!, places[i + 2]!)
      .applyQuaternion(turn)
      .toArray(made, i);
  return { places: made, corners };
}
