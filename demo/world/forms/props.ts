import type { FormParts } from './form-writer';
import { along, Sculptor, type Mesh, type Point } from './mesh';

/** Things of the ferry: the boathook, coarse and fine, and the boards of the jetty. */

const HOOK: readonly Point[] = [
  [0, 2.3, 0],
  [0.02, 2.42, 0],
  [0.1, 2.46, 0],
  [0.13, 2.36, 0],
  [0.1, 2.28, 0],
];

/**
 * The boathook as its maker left it: a pole, an iron socket, a hook and a spike as shells of their own that stand in each other. The
 * fine one has a hole where the pole was cut and a loose edge at the spike; what is printed of it has to be mended first.
 */
export function boathook(isFine: boolean): FormParts {
  const detail = isFine ? 28 : 9;
  const s = new Sculptor(detail, 0);
  s.begin('boathook_pole', 0).tube(
    Array.from({ length: isFine ? 40 : 6 }, (_, i) => {
      const t = i / (isFine ? 39 : 5);
      return {
        at: [0.004 * Math.sin(t * 9), 2.26 * t, 0.004 * Math.cos(t * 7)] as Point,
        wide: 0.026 - 0.005 * t + (isFine ? 0.0012 * Math.sin(t * 40) : 0),
      };
    }),
    { isOpen: isFine },
  );
  s.begin('boathook_iron', 1)
    .tube(
      [2.16, 2.2, 2.28, 2.32].map((y, i) => ({
        at: [0, y, 0] as Point,
        wide: [0.034, 0.036, 0.032, 0.018][i]!,
      })),
    )
    .tube(
      along(HOOK, isFine ? 30 : 8).map((at, i, all) => ({ at, wide: 0.02 - 0.014 * (i / all.length) })),
      { side: [0, 0, 1] },
    )
    .tube([2.3, 2.45, 2.58].map((y, i) => ({ at: [0, y, 0] as Point, wide: [0.017, 0.013, 0.002][i]! })));
  if (isFine) {
    const iron = s.meshes[1]!;
    // Two triangles of the spike were lost, and one stands alone.
    iron.triangles.splice(iron.triangles.length - 6, 6);
    loose(iron, [0.05, 2.5, 0.01]);
  }
  return {
    meshes: s.meshes,
    joints: [],
    paints: [{ name: 'wood', colour: 'props/boathook/wood_colour.sheet' }, { name: 'iron' }],
  };
}

function loose(mesh: Mesh, at: Point): void {
  const first = mesh.corners.length;
  for (const [x, y] of [
    [0, 0],
    [0.02, 0],
    [0, 0.02],
  ] as const) {
    mesh.corners.push({ place: [at[0] + x, at[1] + y, at[2]], normal: [0, 0, 1], at: [x * 10, y * 10] });
    mesh.weights.push([[0, 1]]);
  }
  mesh.triangles.push(first, first + 1, first + 2);
}

/** The jetty: planks side by side over two beams; the third one hangs. */
export function jetty(): FormParts {
  const s = new Sculptor(8, 0);
  s.begin('planks', 0);
  for (let i = 0; i < 11; i++)
    s.box([0, i === 2 ? 0.46 : 0.5, -1.6 + 0.32 * i], [1.5 - 0.03 * (i % 3), 0.05, 0.28]);
  s.begin('beams', 1);
  for (const x of [-0.55, 0.55]) {
    s.box([x, 0.42, 0], [0.12, 0.12, 3.6]);
    for (const z of [-1.5, 0, 1.5])
      s.tube([
        { at: [x, -0.6, z], wide: 0.08 },
        { at: [x, 0.62, z], wide: 0.075 },
      ]);
  }
  return {
    meshes: s.meshes,
    joints: [],
    paints: [
      { name: 'boards', colour: 'jetty/boards_near_colour.sheet' },
      { name: 'beams', colour: 'props/boathook/wood_colour.sheet' },
    ],
  };
}
