import type { Form, Material, Part } from '../form/form';
import { edgesOf, shellsOf } from './edges';
import { membersOf } from './orient';
import type { Print } from './print';
import { shellOf, trianglesIn, yUp, type Solid } from './solid';

/** Hues of shells, linear, so that one tells them apart; what is one body has none of them. */
const HUES = [
  [0.58, 0.5, 0.33],
  [0.16, 0.38, 0.38],
  [0.58, 0.24, 0.12],
  [0.3, 0.26, 0.5],
  [0.27, 0.42, 0.16],
  [0.52, 0.28, 0.38],
] as const;

/** So many of the largest shells are drawn by themselves; the others share the last hue. */
const MOST_SHELLS = 60;

/** A print as a form, so that it is drawn like one: its levels are what was found, what was mended, and the pieces. */
export function formOfPrint({ found, mended, pieces, report }: Print): Form {
  const parts = [
    ...shellParts(found, 'As it is', 0),
    ...shellParts(mended, 'Mended', 1),
    ...pieces.map((piece, i) => partOf(piece, report.pieces[i]!.name, 2)),
  ];
  const materials = HUES.map(([red, green, blue], i): Material => ({
    ...{ name: `shell ${i + 1}`, colour: [red, green, blue, 1], pictures: {}, isTwoSided: true },
  }));
  return { parts, materials, bones: [], clips: [] };
}

function shellParts(solid: Solid, name: string, level: number): Part[] {
  const shells = membersOf(shellsOf(solid, edgesOf(solid))).sort((a, b) => b.length - a.length);
  if (shells.length < 2) return [partOf(solid, name, level)];
  const rest = shells.slice(MOST_SHELLS).flat();
  return [...shells.slice(0, MOST_SHELLS), ...(rest.length > 0 ? [rest] : [])].map((own, i) => ({
    ...partOf(shellOf(solid, own), `${name}, shell ${i + 1}`, level),
    material: i % HUES.length,
  }));
}

const partOf = (solid: Solid, name: string, level: number): Part => ({
  ...{ name, level, material: -1, coordinates: [], morphs: [] },
  places: yUp(solid.places),
  triangles: trianglesIn(solid) > 0 ? solid.corners : new Uint32Array(0),
});
