import { Sculptor, type Mesh, type Point, type Ring } from '../forms/mesh';

/** A trading cog: hull, deck, castle, mast, yard and a sail that the wind fills. Metres, the bow towards x. */
export function cog(): Mesh[] {
  const s = new Sculptor(16, 0);
  const station = (x: number, wide: number, deep: number, lift: number): Ring => ({
    at: [x, lift, 0],
    wide: deep,
    deep: wide,
  });
  s.begin('hull', 0)
    .tube(
      [
        station(-6.4, 1.1, 0.5, 2.5),
        station(-5.6, 1.9, 1.4, 1.8),
        station(-3, 2.6, 1.9, 1.4),
        station(0, 2.8, 2, 1.3),
        station(3, 2.5, 1.9, 1.4),
        station(5.4, 1.4, 1.4, 2),
        station(7, 0.2, 0.5, 3.1),
      ],
      { side: [0, 1, 0] },
    )
    .box([-4.6, 3.9, 0], [3.2, 0.9, 4.2])
    .box([-6.9, 1.2, 0], [0.3, 3, 0.5]);
  const beam = (from: Point, to: Point, wide: number): void => {
    s.tube([
      { at: from, wide },
      { at: to, wide: wide * 0.7 },
    ]);
  };
  s.begin('mast', 0);
  beam([0.4, 2, 0], [0.4, 11.5, 0], 0.26);
  s.tube(
    [
      { at: [0.6, 10, -3.6], wide: 0.1 },
      { at: [0.6, 10, 3.6], wide: 0.1 },
    ],
    { side: [0, 1, 0] },
  );
  // Full of wind: most in the middle, least at its edges.
  const rows = 9;
  const line = (z: number): Point[] =>
    Array.from({ length: rows }, (_, i) => {
      const t = i / (rows - 1);
      const full = Math.sin(Math.PI * t) * (1 - (z / 3.4) ** 2 * 0.75);
      return [0.75 + 1.7 * full, 9.9 - 5.8 * t, z * (1 - 0.06 * t)];
    });
  s.begin('sail', 1);
  const columns = [-3.4, -2.1, -0.7, 0.7, 2.1, 3.4];
  for (let i = 0; i + 1 < columns.length; i++) {
    const from = s.meshes.at(-1)!.corners.length;
    s.blade(line(columns[i]!), line(columns[i + 1]!), []);
    // One picture over all of its strips.
    for (const corner of s.meshes.at(-1)!.corners.slice(from))
      corner.at = [(i + corner.at[0]) / (columns.length - 1), corner.at[1]];
  }
  return s.meshes;
}
