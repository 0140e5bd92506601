import { middleOf, sizeOf, type Point, type Spot } from '@/media/table/core/places/grid';
import type { MapView } from '@/server/reading/map-view';

/** What is looked at: what lies in the middle, in widths of a spot, and how many dots that is. */
export interface Camera extends Point {
  readonly scale: number;
}

export const LEAST_SCALE = 1.5;
export const MOST_SCALE = 110;
const STEP = 1.3;
/** Things further outside than this do not make a map wider. */
const MOST_OUTSIDE = 40;

/** Where spots and things of a map are, as a box. */
function boundsOf({ grid, wide, high, things }: MapView): { from: Point; to: Point } {
  const size = sizeOf(grid, wide, high);
  let [left, top, right, bottom] = [0, 0, Math.max(1, size.x), Math.max(1, size.y)];
  for (const thing of things) {
    const { across, down } = thing;
    const isFar =
      across < -MOST_OUTSIDE ||
      down < -MOST_OUTSIDE ||
      across > wide + MOST_OUTSIDE ||
      down > high + MOST_OUTSIDE;
    if (isFar) continue;
    const { x, y } = middleOf(grid, thing);
    [left, top] = [Math.min(left, x - 0.6), Math.min(top, y - 0.6)];
    [right, bottom] = [Math.max(right, x + 0.6), Math.max(bottom, y + 0.6)];
  }
  return { from: { x: left, y: top }, to: { x: right, y: bottom } };
}

const within = (scale: number): number => Math.max(LEAST_SCALE, Math.min(MOST_SCALE, scale));

/** All of a map in a box of so many dots. */
export function wholeIn(map: MapView, width: number, height: number): Camera {
  const { from, to } = boundsOf(map);
  const scale = Math.min((width - 24) / (to.x - from.x), (height - 24) / (to.y - from.y), 72);
  return { x: (from.x + to.x) / 2, y: (from.y + to.y) / 2, scale: within(scale) };
}

/** Nearer by so many steps, or further; what lies under a point (in dots from the middle) stays there. */
export function zoomed(camera: Camera, steps: number, { x, y }: Point = { x: 0, y: 0 }): Camera {
  const scale = within(camera.scale * STEP ** steps);
  const by = 1 / camera.scale - 1 / scale;
  return { x: camera.x + x * by, y: camera.y + y * by, scale };
}

export const moved = (camera: Camera, x: number, y: number): Camera => ({
  ...camera,
  ...{ x: camera.x - x / camera.scale, y: camera.y - y / camera.scale },
});

/** So that a spot is well in sight; as it was where it is already. */
export function showing(camera: Camera, map: MapView, spot: Spot, width: number, height: number): Camera {
  const { x, y } = middleOf(map.grid, spot);
  const [mostX, mostY] = [
    Math.max(0, width / camera.scale / 2 - 1.5),
    Math.max(0, height / camera.scale / 2 - 1.5),
  ];
  const near = (own: number, wanted: number, most: number): number =>
    Math.abs(wanted - own) <= most ? own : wanted - Math.sign(wanted - own) * most;
  const next = { ...camera, x: near(camera.x, x, mostX), y: near(camera.y, y, mostY) };
  return next.x === camera.x && next.y === camera.y ? camera : next;
}
