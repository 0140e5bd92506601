import { fileStem } from '@/core/kinds';
import { boxOf, type Box, type Form } from '../form/form';
import { nothingLeft } from '../form/nothing-left';
import { sideBySide } from './beds';
import { cut, planesFor, sticksOut, type Plane } from './cut';
import { edgesOf, isUpwards, shellsOf, usesOf } from './edges';
import { solidEngine } from './engine';
import { findingsOf, type Findings, type Marks } from './findings';
import { join } from './join';
import { hasRoom, lay, onBed } from './lay';
import { repair, type Mends } from './repair';
import type { PrintSettings } from './settings';
import { printedParts, sizeOf, solidOf, trianglesIn, volumeOf, type Size, type Solid } from './solid';
import { weld } from './weld';

export interface PieceFact {
  readonly name: string;
  readonly triangles: number;
  /** Millimetres, as it lies on the bed. */
  readonly size: Size;
  /** Cubic millimetres. */
  readonly volume: number;
  readonly isWatertight: boolean;
  readonly hasRoom: boolean;
}

/** What is told of a model that is to be printed. */
export interface PrintReport {
  /** Names of the parts that could be printed, and of which some may be left out. */
  readonly parts: readonly string[];
  /** Times its size in the game. */
  readonly scale: number;
  /** As it is: vertices at one place taken as one, nothing else. */
  readonly found: Findings;
  readonly mended: Findings;
  readonly mends: Mends;
  /** Shells before and after they were joined; undefined where that was not wanted, or could not be. */
  readonly joined: { readonly from: number; readonly to: number } | undefined;
  readonly pieces: readonly PieceFact[];
  readonly planes: readonly Plane[];
  readonly pegs: number;
  readonly withoutPeg: number;
  /** Why what was asked for was not done. */
  readonly refused: readonly string[];
}

export interface Print {
  readonly report: PrintReport;
  /** As it is, as mended, and the pieces as they lie on the bed, side by side. */
  readonly found: Solid;
  readonly mended: Solid;
  readonly pieces: readonly Solid[];
  readonly marks: { readonly found: Marks; readonly mended: Marks };
}

/** More pieces than these are not cut. */
const MOST_PIECES = 400;

/** How many boxes planes part space into. */
const piecesOf = (planes: readonly Plane[]): number =>
  ['x', 'y', 'z'].reduce((all, axis) => all * (1 + planes.filter((plane) => plane.axis === axis).length), 1);

/** What is told along with the packed form of a print. */
export type ToldOfPrint = Pick<Print, 'report' | 'marks'>;

const OPEN = 'It is not closed: mend it first, so that there is an inside';

/** Works out a print: checked, mended as wanted, cut and laid. Throws FormatError where nothing is left to print. */
export async function printOf(form: Form, name: string, settings: PrintSettings): Promise<Print> {
  const { parts, box } = needParts(form, name, settings.left);
  const scale = scaleOf(box, settings.size);
  const found = weld(solidOf(parts, scale), 0).solid;
  const engine = await solidEngine();
  const { solid: repaired, mends } = repair(found, settings);
  const refused: string[] = [];
  if (trianglesIn(repaired) === 0)
    refused.push('Nothing is left: no shell of it encloses anything. Keep what encloses nothing');
  const before = findingsOf(found, settings.wall);
  let mended = repaired;
  let joined: PrintReport['joined'];
  if (settings.join && trianglesIn(repaired) > 0) {
    const whole = join(engine, repaired);
    if (whole) mended = whole;
    else refused.push(`Shells were not joined. ${OPEN}`);
  }
  const after = findingsOf(mended, settings.wall);
  if (settings.join && mended !== repaired)
    joined = { from: shellCountOf(repaired), to: after.findings.shellCount };
  const spare = sticksOut(settings.pegs);
  const planes =
    settings.cuts.by === 'planes'
      ? settings.cuts.planes
      : settings.cuts.by === 'bed'
        ? planesFor(after.findings.size, settings, spare)
        : [];
  const wanted = trianglesIn(mended) === 0 ? 1 : piecesOf(planes);
  const isTooMany = wanted > MOST_PIECES;
  if (isTooMany)
    refused.push(`Nothing was cut: that would be ${wanted.toLocaleString('en')} pieces. Print it smaller`);
  const parted = planes.length > 0 && !isTooMany ? cut(engine, mended, planes, settings.pegs) : undefined;
  if (planes.length > 0 && !isTooMany && !parted) refused.push(`Nothing was cut. ${OPEN}`);
  const solids = parted?.pieces ?? (trianglesIn(mended) > 0 ? [mended] : []);
  const pieces = sideBySide(
    solids.map((solid) => (settings.isFlat ? lay(engine, solid, settings.bed) : onBed(solid))),
    settings.bed,
  ).map(asWritten);
  const stem = fileStem(name);
  return {
    ...{ found, mended, pieces },
    marks: { found: before.marks, mended: after.marks },
    report: {
      parts: [...new Set(printedParts(form, []).map((part) => part.name))],
      ...{ scale, mends, joined, planes, refused },
      ...{ found: before.findings, mended: after.findings },
      pieces: pieces.map((solid, i) => ({
        name: pieces.length === 1 ? stem : `${stem} ${i + 1}`,
        ...{ triangles: trianglesIn(solid), size: sizeOf(solid), volume: volumeOf(solid) },
        // Said of what is written, as whoever opens the file will see it.
        isWatertight: isClosed(solid),
        hasRoom: hasRoom(sizeOf(solid), settings.bed),
      })),
      ...{ pegs: parted?.pegs ?? 0, withoutPeg: parted?.withoutPeg ?? 0 },
    },
  };
}

/** The finest parts of a form as one solid, as large as they are and where a printer's bed begins; nothing is mended. */
export const wholeSolid = (form: Form, name: string): Solid =>
  onBed(weld(solidOf(needParts(form, name, []).parts, 1), 0).solid);

/** How many times as large it is printed as it is in the game. */
function scaleOf({ low, high }: Box, size: PrintSettings['size']): number {
  if (size.by === 'scale') return size.scale;
  const sides = [0, 1, 2].map((i) => 1000 * (high[i]! - low[i]!));
  const [wanted, is] = size.by === 'height' ? [size.height, sides[1]!] : [size.longest, Math.max(...sides)];
  // What lies flat has no height to go by.
  return wanted / Math.max(is, 1e-6);
}

function needParts(form: Form, file: string, left: readonly string[]): { parts: Form['parts']; box: Box } {
  const parts = printedParts(form, left).filter(({ triangles }) => triangles.length > 0);
  const box = boxOf(parts);
  if (box) return { parts, box };
  throw nothingLeft(file);
}

/** How many shells there are. */
const shellCountOf = (solid: Solid): number => shellsOf(solid, edgesOf(solid)).count;

/** Whether each edge has as many triangles on one side as on the other. */
function isClosed(solid: Solid): boolean {
  const edges = edgesOf(solid);
  for (let edge = 0; edge < edges.count; edge++) {
    let sum = 0;
    for (const corner of usesOf(edges, edge)) sum += isUpwards(solid, corner) ? 1 : -1;
    if (sum !== 0) return false;
  }
  return edges.count > 0;
}

/** As files keep it: floats, and what lies at one place is one. */
function asWritten({ places, corners }: Solid): Solid {
  return weld({ places: Float64Array.from(places, Math.fround), corners }, 0).solid;
}
