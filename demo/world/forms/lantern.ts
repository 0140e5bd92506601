import type { FormParts } from './form-writer';
import { Sculptor, type Point, type Ring } from './mesh';

/** The lantern of the ferry: a foot, four posts, glass, a roof and a ring to hang it by. */
export function lantern(): FormParts {
  const meshes = [
    [24, 0],
    [10, 1],
  ].flatMap(([detail, level]) => {
    const s = new Sculptor(detail!, level!);
    const ring = (y: number, wide: number): Ring => ({ at: [0, y, 0], wide });
    s.begin('lantern_glass', 0).tube(
      [ring(0.05, 0.075), ring(0.12, 0.085), ring(0.2, 0.08), ring(0.26, 0.06)],
      {
        isOpen: true,
      },
    );
    s.begin('lantern_frame', 1)
      .tube([ring(0, 0.1), ring(0.012, 0.105), ring(0.02, 0.09), ring(0.05, 0.085)])
      .tube([ring(0.255, 0.09), ring(0.27, 0.11), ring(0.33, 0.03), ring(0.35, 0.022), ring(0.37, 0.022)]);
    for (let i = 0; i < 4; i++) {
      const angle = (i / 4 + 1 / 8) * 2 * Math.PI;
      const [x, z] = [0.095 * Math.cos(angle), 0.095 * Math.sin(angle)];
      s.tube(
        [
          { at: [x, 0.015, z], wide: 0.006 },
          { at: [x * 0.95, 0.265, z * 0.95], wide: 0.006 },
        ],
        { sides: Math.max(4, detail! >> 2) },
      );
    }
    const count = detail!;
    s.tube(
      Array.from({ length: count + 1 }, (_, i) => {
        const angle = (i / count) * 2 * Math.PI - Math.PI / 2;
        const at: Point = [0.05 * Math.cos(angle), 0.42 + 0.05 * Math.sin(angle), 0];
        return { at, wide: 0.007 };
      }),
      { sides: Math.max(4, detail! >> 2), side: [0, 0, 1] },
    );
    s.begin('lantern_flame', 2).tube(
      [0, 0.35, 0.7, 1].map((t) => ({
        at: [0, 0.07 + 0.1 * t, 0] as Point,
        wide: 0.026 * Math.sin(Math.PI * (0.15 + 0.85 * t)),
      })),
      { sides: Math.max(6, detail! >> 1) },
    );
    return s.meshes;
  });
  return {
    meshes,
    joints: [],
    paints: [
      { name: 'glass', colour: 'props/lantern/glass_colour.sheet', glow: 'props/lantern/glass_glow.sheet' },
      { name: 'frame', colour: 'props/boathook/wood_colour.sheet' },
      { name: 'flame' },
    ],
  };
}
