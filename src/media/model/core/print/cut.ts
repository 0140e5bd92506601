import type { CrossSection, Manifold, ManifoldToplevel, Mat4, Vec2 } from 'manifold-3d/manifold';
import { Held, manifoldOf, solidFrom } from './engine';
import type { PrintSettings } from './settings';
import { extentOf, type Size, type Solid } from './solid';

export type Axis = 'x' | 'y' | 'z';
export interface Plane {
  readonly axis: Axis;
  /** Millimetres from the lowest spot of the solid on that axis. */
  readonly at: number;
}

const AXES: readonly Axis[] = ['x', 'y', 'z'];
/** How deep a peg goes, in terms of how thick it is. */
const DEPTHS = [1.25, 0.75, 0.4] as const;

/** The third axis comes in the place of the one that is cut: turns of the axes, column by column, and back. */
const UPRIGHT: Readonly<Record<Axis, readonly [Mat4, Mat4]>> = {
  x: [
    [0, 0, 1, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 1],
    [0, 1, 0, 0, 0, 0, 1, 0, 1, 0, 0, 0, 0, 0, 0, 1],
  ],
  y: [
    [0, 1, 0, 0, 0, 0, 1, 0, 1, 0, 0, 0, 0, 0, 0, 1],
    [0, 0, 1, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 1],
  ],
  z: [
    [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1],
    [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1],
  ],
};

/**
 * Planes that part a solid evenly until each piece has room on the bed. Where pieces may be laid, the longest side goes along the longest
 * one of the bed. `spare` is what a peg sticks out.
 */
export function planesFor(
  size: Size,
  { bed, isFlat }: Pick<PrintSettings, 'bed' | 'isFlat'>,
  spare: number,
): Plane[] {
  const room = AXES.map((axis) => bed[axis]);
  const sorted = [...room].sort((a, b) => b - a);
  const rank = [0, 1, 2].map(
    (axis) =>
      [0, 1, 2].filter(
        (other) => size[other]! > size[axis]! || (size[other]! === size[axis]! && other < axis),
      ).length,
  );
  return AXES.flatMap((axis, i) => {
    const own = isFlat ? sorted[rank[i]!]! : room[i]!;
    const pieces = size[i]! <= own ? 1 : Math.ceil(size[i]! / Math.max(own - spare, own / 4));
    return Array.from({ length: Math.min(pieces, 64) - 1 }, (_, cut) => ({
      axis,
      at: (size[i]! * (cut + 1)) / pieces,
    }));
  });
}

export interface Cut {
  readonly pieces: readonly Solid[];
  /** Pegs that were set, and cut faces with no room for one. */
  readonly pegs: number;
  readonly withoutPeg: number;
}

/** How far a peg sticks out of its piece at most. */
export const sticksOut = (pegs: PrintSettings['pegs']): number => (pegs ? pegs.across * DEPTHS[0] : 0);

/**
 * Parts a closed solid by planes, one after the other; bodies that do not hang together after that are pieces of their own. Each cut face
 * is closed. With pegs, the lower piece gets them and the upper one holes. Undefined where the solid is not closed.
 */
export function cut(
  engine: ManifoldToplevel,
  solid: Solid,
  planes: readonly Plane[],
  pegs: PrintSettings['pegs'],
): Cut | undefined {
  const box = extentOf(solid);
  const held = new Held();
  try {
    const whole = manifoldOf(engine, solid);
    if (!whole || !box) return undefined;
    let pieces: Manifold[] = [held.hold(whole)];
    const sums = { pegs: 0, withoutPeg: 0 };
    for (const { axis, at } of planes) {
      const height = at + box.low[AXES.indexOf(axis)]!;
      pieces = pieces.flatMap((piece) => parted(engine, held, piece, axis, height, pegs, sums));
    }
    const bodies = pieces.flatMap((piece) => piece.decompose().map((body) => held.hold(body)));
    return { pieces: bodies.map(solidFrom), ...sums };
  } finally {
    held.letGo();
  }
}

function parted(
  engine: ManifoldToplevel,
  held: Held,
  piece: Manifold,
  axis: Axis,
  height: number,
  pegs: PrintSettings['pegs'],
  sums: { pegs: number; withoutPeg: number },
): Manifold[] {
  const { min, max } = piece.boundingBox();
  const i = AXES.indexOf(axis);
  if (height <= min[i]! + 1e-6 || height >= max[i]! - 1e-6) return [piece];
  const [there, back] = UPRIGHT[axis];
  const upright = held.hold(piece.transform(there));
  let [upper, lower] = upright.splitByPlane([0, 0, 1], height).map((half) => held.hold(half)) as [
    Manifold,
    Manifold,
  ];
  if (pegs) {
    const face = held.hold(upright.slice(height));
    for (const part of face.decompose()) {
      held.hold(part);
      const spots = pegSpots(held, part, pegs);
      let set = 0;
      for (const spot of spots) {
        const made = peg(engine, held, upper, spot, height, pegs);
        if (!made) continue;
        lower = held.hold(lower.add(made.peg));
        upper = held.hold(upper.subtract(made.hole));
        set++;
      }
      sums.pegs += set;
      if (set === 0) sums.withoutPeg++;
    }
  }
  return [lower, upper].filter((half) => !half.isEmpty()).map((half) => held.hold(half.transform(back)));
}

type Pegs = NonNullable<PrintSettings['pegs']>;

/** Where pegs go in a cut face: two that are far from each other where there is room, so that nothing turns; else one in the middle. */
function pegSpots(held: Held, face: CrossSection, { across, room }: Pegs): Vec2[] {
  const margin = across / 2 + room + Math.max(0.8, across / 4);
  const inner = held.hold(face.offset(-margin));
  const points = inner.toPolygons().flat() as Vec2[];
  if (points.length === 0) return [];
  const [from] = points;
  const far = farthest(points, from!);
  const other = farthest(points, far);
  if (Math.hypot(far[0] - other[0], far[1] - other[1]) >= 2.5 * across) return [far, other];
  return [middleOf(held, face, margin)];
}

const farthest = (points: readonly Vec2[], from: Vec2): Vec2 =>
  points.reduce((best, point) =>
    Math.hypot(point[0] - from[0], point[1] - from[1]) > Math.hypot(best[0] - from[0], best[1] - from[1])
      ? point
      : best,
  );

/** The spot that is farthest from the rim: the face is drawn in until next to nothing is left of it. */
function middleOf(held: Held, face: CrossSection, least: number): Vec2 {
  const { min, max } = face.bounds();
  let [low, high] = [least, Math.max(least, Math.min(max[0] - min[0], max[1] - min[1]) / 2)];
  let best = held.hold(face.offset(-least));
  for (let i = 0; i < 12; i++) {
    const middle = (low + high) / 2;
    const drawnIn = held.hold(face.offset(-middle));
    if (drawnIn.isEmpty()) high = middle;
    else [low, best] = [middle, drawnIn];
  }
  const [polygon] = best.toPolygons();
  const sum = polygon!.reduce<Vec2>(([x, y], point) => [x + point[0], y + point[1]], [0, 0]);
  return [sum[0] / polygon!.length, sum[1] / polygon!.length];
}

/** A peg that stands on the lower piece, and the hole for it: undefined where the upper piece is not thick enough. */
function peg(
  { Manifold }: ManifoldToplevel,
  held: Held,
  upper: Manifold,
  [x, y]: Vec2,
  height: number,
  { across, room }: Pegs,
): { readonly peg: Manifold; readonly hole: Manifold } | undefined {
  for (const times of DEPTHS) {
    const deep = across * times;
    const bore = held.hold(Manifold.cylinder(deep + room, across / 2 + room, across / 2 + room, 32));
    const hole = held.hold(bore.translate([x, y, height]));
    const inside = held.hold(hole.intersect(upper));
    if (inside.volume() < 0.995 * hole.volume()) continue;
    // It goes a little into its own piece, so that both are one; the hole goes a little out, so that no skin is left.
    const stick = held.hold(Manifold.cylinder(deep + across / 4, across / 2, across / 2, 32));
    const mouth = held.hold(Manifold.cylinder(deep + room + 0.01, across / 2 + room, across / 2 + room, 32));
    return {
      peg: held.hold(stick.translate([x, y, height - across / 4])),
      hole: held.hold(mouth.translate([x, y, height - 0.01])),
    };
  }
  return undefined;
}
