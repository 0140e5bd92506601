/** How the spots of a map lie: squares, or hexagons with a corner on top whose odd rows are half a spot to the right. */
export type Grid = 'squares' | 'hexagons';
export const GRIDS: readonly Grid[] = ['squares', 'hexagons'];

export interface Spot {
  readonly across: number;
  readonly down: number;
}

export interface Point {
  readonly x: number;
  readonly y: number;
}

/** From the middle of a hexagon to a corner, where it is 1 wide. */
export const HEX_RADIUS = 1 / Math.sqrt(3);
const ROW = 1.5 * HEX_RADIUS;

const isOdd = (down: number): boolean => (down & 1) !== 0;

/** The middle of a spot; spots are 1 wide, and the first begins at 0. */
export function middleOf(grid: Grid, { across, down }: Spot): Point {
  if (grid === 'squares') return { x: across + 0.5, y: down + 0.5 };
  return { x: across + 0.5 + (isOdd(down) ? 0.5 : 0), y: HEX_RADIUS + down * ROW };
}

/** The spot that a point lies in. Of hexagons by rounding in three axes whose sum is 0 (A. Patel, Hexagonal Grids, "rounding to nearest hex"). */
export function spotAt(grid: Grid, { x, y }: Point): Spot {
  if (grid === 'squares') return { across: Math.floor(x), down: Math.floor(y) };
  const [px, py] = [x - 0.5, y - HEX_RADIUS];
  const r = py / ROW;
  const q = px - r / 2;
  let [rq, rr, rs] = [Math.round(q), Math.round(r), Math.round(-q - r)];
  const [dq, dr, ds] = [Math.abs(rq - q), Math.abs(rr - r), Math.abs(rs + q + r)];
  if (dq > dr && dq > ds) rq = -rr - rs;
  else if (dr > ds) rr = -rq - rs;
  else rs = -rq - rr;
  // Minus zero is no number of a spot.
  return { across: rq + (rr - (rr & 1)) / 2 || 0, down: rr || 0 };
}

/** How far a map of so many spots reaches. */
export function sizeOf(grid: Grid, wide: number, high: number): Point {
  if (grid === 'squares') return { x: wide, y: high };
  return { x: wide + (high > 1 ? 0.5 : 0), y: high === 0 ? 0 : 2 * HEX_RADIUS + (high - 1) * ROW };
}

/** Corners of a spot around its middle, clockwise. */
export const CORNERS: Readonly<Record<Grid, readonly Point[]>> = {
  squares: [
    { x: -0.5, y: -0.5 },
    { x: 0.5, y: -0.5 },
    { x: 0.5, y: 0.5 },
    { x: -0.5, y: 0.5 },
  ],
  hexagons: [0, 1, 2, 3, 4, 5].map((i) => {
    const turn = (Math.PI / 3) * i - Math.PI / 2;
    return { x: HEX_RADIUS * Math.cos(turn), y: HEX_RADIUS * Math.sin(turn) };
  }),
};
