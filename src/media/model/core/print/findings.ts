import { crossingsOf, thinSpots, type Crossings, type ThinSpots } from './walls';
import { edgesOf, isUpwards, nextCorner, shellsOf, usesOf } from './edges';
import { lengthOf, loopsOf } from './holes';
import { membersOf, openShells, treeOf } from './orient';
import {
  shellOf,
  sizeOf,
  surfaceOf,
  trianglesIn,
  verticesIn,
  volumeOf,
  type Size,
  type Solid,
} from './solid';
import { needles } from './weld';

export interface ShellFact {
  readonly triangles: number;
  readonly isClosed: boolean;
  /** Cubic millimetres; negative where its faces look inwards. Only of a closed one is it known. */
  readonly volume: number;
  readonly size: Size;
}

/** What a printer would trip over. */
export interface Findings {
  readonly vertices: number;
  readonly triangles: number;
  /** Millimetres. */
  readonly size: Size;
  /** Cubic millimetres, of all shells as they are: where they stand in each other that counts twice. */
  readonly volume: number;
  /** Square millimetres. */
  readonly surface: number;
  readonly shellCount: number;
  /** The largest ones. */
  readonly shells: readonly ShellFact[];
  readonly openEdges: number;
  /** Closed rows of open edges: how many edges each has and how long it is, the longest first. */
  readonly holes: readonly { readonly edges: number; readonly length: number }[];
  readonly holeCount: number;
  /** Edges that more than two triangles share. */
  readonly crowdedEdges: number;
  /** Edges whose two triangles look different ways. */
  readonly turnedEdges: number;
  readonly needles: number;
  readonly crossings: number;
  /** Whether more of them than were counted are there. */
  readonly hasMoreCrossings: boolean;
  readonly thin: Omit<ThinSpots, 'spots'>;
  /** Every edge has as many triangles on one side as on the other, so that there is an inside. */
  readonly isWatertight: boolean;
}

/** Lines to be drawn, 6 numbers each, for what was found; in millimetres. */
export interface Marks {
  readonly holes: readonly number[];
  readonly crowded: readonly number[];
  readonly turned: readonly number[];
  readonly crossings: readonly number[];
  readonly thin: readonly number[];
}

const MOST_SHELLS = 100;
const MOST_HOLES = 100;
const MOST_LINES = 4000;

/** What is found in triangles; `wall` is the thickness in millimetres below which a wall counts as thin. */
export function findingsOf(
  solid: Solid,
  wall: number,
): { readonly findings: Findings; readonly marks: Marks } {
  const edges = edgesOf(solid);
  const open: number[] = [];
  const crowded: number[] = [];
  const turned: number[] = [];
  let isEven = true;
  for (let edge = 0; edge < edges.count; edge++) {
    const uses = usesOf(edges, edge);
    const up = uses.reduce((sum, corner) => sum + (isUpwards(solid, corner) ? 1 : -1), 0);
    if (up !== 0) isEven = false;
    if (uses.length === 1) open.push(uses[0]!);
    else if (uses.length > 2) crowded.push(uses[0]!);
    else if (up !== 0) turned.push(uses[0]!);
  }
  const loops = loopsOf(solid, open);
  const shells = shellsOf(solid, edges);
  const isOpen = openShells(edges, shells);
  const facts = membersOf(shells).map((own, shell): ShellFact => {
    const part = shellOf(solid, own);
    const isClosed = isOpen[shell] === 0;
    return { triangles: own.length, isClosed, volume: isClosed ? volumeOf(part) : 0, size: sizeOf(part) };
  });
  const isThere = trianglesIn(solid) > 0;
  const tree = isThere ? treeOf(solid) : undefined;
  const crossings: Crossings = tree ? crossingsOf(solid, tree) : { pairs: [], hasMore: false };
  const thin: ThinSpots = tree ? thinSpots(solid, tree, wall) : { tried: 0, thin: 0, thinnest: 0, spots: [] };
  const holes = loops
    .map((loop) => ({ edges: loop.length, length: lengthOf(solid, loop) }))
    .sort((a, b) => b.length - a.length);
  const { spots, ...thinFacts } = thin;
  return {
    findings: {
      ...{ vertices: verticesIn(solid), triangles: trianglesIn(solid), size: sizeOf(solid) },
      ...{ volume: volumeOf(solid), surface: surfaceOf(solid), shellCount: shells.count },
      shells: facts.sort((a, b) => b.triangles - a.triangles).slice(0, MOST_SHELLS),
      ...{ openEdges: open.length, holes: holes.slice(0, MOST_HOLES), holeCount: holes.length },
      ...{ crowdedEdges: crowded.length, turnedEdges: turned.length, needles: needles(solid) },
      ...{ crossings: crossings.pairs.length, hasMoreCrossings: crossings.hasMore, thin: thinFacts },
      isWatertight: isThere && isEven,
    },
    marks: {
      holes: edgeLines(solid, open),
      crowded: edgeLines(solid, crowded),
      turned: edgeLines(solid, turned),
      crossings: outlines(solid, crossings.pairs.flat()),
      thin: outlines(solid, spots),
    },
  };
}

function line({ places }: Solid, from: number, to: number): number[] {
  return [from, to].flatMap((vertex) => [
    places[3 * vertex]!,
    places[3 * vertex + 1]!,
    places[3 * vertex + 2]!,
  ]);
}

const edgeLines = (solid: Solid, corners: readonly number[]): number[] =>
  corners
    .slice(0, MOST_LINES)
    .flatMap((corner) => line(solid, solid.corners[corner]!, solid.corners[nextCorner(corner)]!));

const outlines = (solid: Solid, triangles: readonly number[]): number[] =>
  [...new Set(triangles)]
    .slice(0, MOST_LINES / 3)
    .flatMap((triangle) => edgeLines(solid, [3 * triangle, 3 * triangle + 1, 3 * triangle + 2]));
