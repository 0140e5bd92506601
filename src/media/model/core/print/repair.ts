import { edgesOf, patchesOf, shellsOf, triangleOf, usesOf } from './edges';
import { close, loopsOf } from './holes';
import { membersOf, openShells, orient } from './orient';
import type { PrintSettings } from './settings';
import { compact, crossOf, extentOf, shellOf, trianglesIn, volumeOf, type Solid } from './solid';
import { weld } from './weld';

/** What mending did, step by step. */
export interface Mends {
  readonly welded: number;
  readonly flat: number;
  readonly twice: number;
  readonly turned: number;
  /** Triangles that hung on an edge of others, and of shells that enclose nothing; with their surface in square millimetres. */
  readonly flaps: number;
  readonly scraps: number;
  readonly lostSurface: number;
  readonly closedHoles: number;
  /** Triangles of lids, and their surface. */
  readonly lids: number;
  readonly lidSurface: number;
}

const NONE: Mends = {
  ...{
    welded: 0,
    flat: 0,
    twice: 0,
    turned: 0,
    flaps: 0,
    scraps: 0,
    lostSurface: 0,
    closedHoles: 0,
    lids: 0,
  },
  lidSurface: 0,
};

/** Mends as wanted, each step on what the one before it left. What is not mended stays as it is. */
export function repair(
  solid: Solid,
  { weld: within, turn, drop, close: closes }: Pick<PrintSettings, 'weld' | 'turn' | 'drop' | 'close'>,
): { readonly solid: Solid; readonly mends: Mends } {
  let now = solid;
  let mends = NONE;
  if (within !== null) {
    const { joined, flat, twice, solid: welded } = weld(now, within);
    now = welded;
    mends = { ...mends, welded: joined, flat, twice };
  }
  if (drop) {
    const { kept, left } = withoutFlaps(now);
    mends = { ...mends, flaps: left.length, lostSurface: surface(now, left) };
    now = kept;
  }
  if (turn) {
    const oriented = orient(now);
    now = oriented.solid;
    mends = { ...mends, turned: oriented.turned };
  }
  if (closes) {
    const loops = loopsOf(now);
    const before = trianglesIn(now);
    const closed = close(now, loops);
    now = closed.solid;
    mends = {
      ...mends,
      ...{ closedHoles: loops.length, lids: closed.added },
      lidSurface: surface(
        now,
        Array.from({ length: closed.added }, (_, i) => before + i),
      ),
    };
    if (turn) now = orient(now).solid;
    if (drop) {
      const { kept, left } = withoutScraps(now);
      const own = left.filter((triangle) => triangle < before);
      const lids = left.filter((triangle) => triangle >= before);
      mends = {
        ...mends,
        scraps: own.length,
        lostSurface: mends.lostSurface + surface(now, own),
        // A lid on what was left out is none.
        closedHoles: mends.closedHoles - holesOf(now, left, before),
        ...{ lids: mends.lids - lids.length, lidSurface: mends.lidSurface - surface(now, lids) },
      };
      now = kept;
    }
  }
  return { solid: compact(now), mends };
}

const surface = (solid: Solid, triangles: readonly number[]): number =>
  triangles.reduce((sum, triangle) => sum + Math.hypot(...crossOf(solid, triangle)) / 2, 0);

function without(solid: Solid, left: readonly number[]): Solid {
  if (left.length === 0) return solid;
  const out = new Set(left);
  return { places: solid.places, corners: solid.corners.filter((_, corner) => !out.has(triangleOf(corner))) };
}

/** Patches of triangles that hang on an edge of others by one side, and are open on another. */
function withoutFlaps(solid: Solid): { readonly kept: Solid; readonly left: readonly number[] } {
  const edges = edgesOf(solid);
  const patches = patchesOf(solid, edges);
  const isOpen = new Uint8Array(patches.count);
  const hangs = new Uint8Array(patches.count);
  const sizes = new Uint32Array(patches.count);
  for (const patch of patches.of) sizes[patch]!++;
  for (let edge = 0; edge < edges.count; edge++) {
    const uses = usesOf(edges, edge);
    for (const corner of uses) {
      const patch = patches.of[triangleOf(corner)]!;
      if (uses.length === 1) isOpen[patch] = 1;
      if (uses.length > 2 && uses.length % 2 === 1) hangs[patch] = 1;
    }
  }
  const most = sizes.reduce((max, size) => Math.max(max, size), 0);
  const left: number[] = [];
  patches.of.forEach((patch, triangle) => {
    // The body that a flap hangs on may have a hole itself.
    if (isOpen[patch] === 1 && hangs[patch] === 1 && 2 * sizes[patch]! < most) left.push(triangle);
  });
  return { kept: without(solid, left), left };
}

/** Shells that enclose nothing: two sides of one sheet, a triangle that stands alone. */
function withoutScraps(solid: Solid): { readonly kept: Solid; readonly left: readonly number[] } {
  const edges = edgesOf(solid);
  const shells = shellsOf(solid, edges);
  const isOpen = openShells(edges, shells);
  const left: number[] = [];
  membersOf(shells).forEach((own, shell) => {
    if (isOpen[shell] === 1) return;
    const box = extentOf(shellOf(solid, own));
    const longest = box ? Math.max(...[0, 1, 2].map((i) => box.high[i]! - box.low[i]!)) : 0;
    if (Math.abs(volumeOf(solid, own)) < 1e-6 * longest ** 3) for (const triangle of own) left.push(triangle);
  });
  return { kept: without(solid, left), left };
}

/** How many holes were closed by lids of triangles that are left out: each lid hangs together by itself. */
function holesOf(solid: Solid, left: readonly number[], lidsFrom: number): number {
  const lids = left.filter((triangle) => triangle >= lidsFrom);
  if (lids.length === 0) return 0;
  const own = shellOf(solid, lids);
  return shellsOf(own, edgesOf(own)).count;
}
