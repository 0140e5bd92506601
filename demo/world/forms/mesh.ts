/** Meshes that are drawn by code: y up, z towards whoever looks, metres. */
export type Point = readonly [number, number, number];

export interface Corner {
  place: Point;
  normal: Point;
  /** From the left, and from the top. */
  at: readonly [number, number];
}

/** What moves a vertex: up to four bones and how much. */
export type Weights = readonly (readonly [bone: number, weight: number])[];

export interface Mesh {
  name: string;
  /** Level of detail; 0 is the finest. */
  level: number;
  material: number;
  corners: Corner[];
  weights: Weights[];
  /** Three corners each, counter-clockwise from in front. */
  triangles: number[];
}

export interface Joint {
  name: string;
  parent: number;
  /** From its parent. */
  place: Point;
}

const add = (a: Point, b: Point): Point => [a[0] + b[0], a[1] + b[1], a[2] + b[2]];
const less = (a: Point, b: Point): Point => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const scaled = (a: Point, by: number): Point => [a[0] * by, a[1] * by, a[2] * by];
const cross = (a: Point, b: Point): Point => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
const unit = (a: Point): Point => scaled(a, 1 / (Math.hypot(...a) || 1));

/** One ring of a tube: where its middle is, how wide it is to both sides, and what moves it. */
export interface Ring {
  at: Point;
  wide: number;
  deep?: number;
  weights?: Weights;
}

const STILL: Weights = [[0, 1]];

/** Draws into meshes. `detail` is how many sides round things have. */
export class Sculptor {
  readonly meshes: Mesh[] = [];
  private mesh!: Mesh;

  constructor(
    readonly detail: number,
    private readonly level: number,
  ) {}

  begin(name: string, material: number): this {
    this.mesh = { name, level: this.level, material, corners: [], weights: [], triangles: [] };
    this.meshes.push(this.mesh);
    return this;
  }

  private corner(place: Point, normal: Point, u: number, v: number, weights: Weights): number {
    this.mesh.corners.push({ place, normal: unit(normal), at: [u, v] });
    this.mesh.weights.push(weights);
    return this.mesh.corners.length - 1;
  }

  /** A tube through rings; its ends are closed unless it is told not to. */
  tube(
    rings: readonly Ring[],
    { sides = this.detail, isOpen = false, side = [1, 0, 0] as Point } = {},
  ): this {
    const rows = rings.map((ring, i) => {
      const from = rings[Math.max(0, i - 1)]!.at;
      const to = rings[Math.min(rings.length - 1, i + 1)]!.at;
      const along = unit(less(to, from));
      const across = unit(
        less(side, scaled(along, along[0] * side[0] + along[1] * side[1] + along[2] * side[2])),
      );
      const out = cross(across, along);
      const v = i / (rings.length - 1);
      return Array.from({ length: sides + 1 }, (_, k) => {
        const angle = (k / sides) * 2 * Math.PI;
        const [c, s] = [Math.cos(angle), Math.sin(angle)];
        const deep = ring.deep ?? ring.wide;
        const place = add(ring.at, add(scaled(across, c * ring.wide), scaled(out, s * deep)));
        const normal = add(scaled(across, c * (deep || 1)), scaled(out, s * (ring.wide || 1)));
        return this.corner(place, normal, k / sides, v, ring.weights ?? STILL);
      });
    });
    for (let i = 0; i + 1 < rows.length; i++)
      for (let k = 0; k < sides; k++) {
        const [p, q, r, s] = [rows[i]![k]!, rows[i]![k + 1]!, rows[i + 1]![k + 1]!, rows[i + 1]![k]!];
        this.mesh.triangles.push(p, r, q, p, s, r);
      }
    if (!isOpen) {
      this.cap(rings[0]!, rings[1]!, rows[0]!, false);
      this.cap(rings.at(-1)!, rings.at(-2)!, rows.at(-1)!, true);
    }
    return this;
  }

  private cap(ring: Ring, next: Ring, row: readonly number[], isLast: boolean): void {
    const normal = less(ring.at, next.at);
    const weights = ring.weights ?? STILL;
    const middle = this.corner(ring.at, normal, 0.5, isLast ? 1 : 0, weights);
    const edge = row.map((k) => {
      const { place, at } = this.mesh.corners[k]!;
      return this.corner(place, normal, at[0], at[1], weights);
    });
    for (let k = 0; k + 1 < edge.length; k++)
      if (isLast) this.mesh.triangles.push(middle, edge[k + 1]!, edge[k]!);
      else this.mesh.triangles.push(middle, edge[k]!, edge[k + 1]!);
  }

  ball(at: Point, [wide, high, deep]: Point, weights: Weights = STILL): this {
    const rows = Math.max(4, Math.round(this.detail * 0.7));
    return this.tube(
      Array.from({ length: rows + 1 }, (_, i) => {
        const angle = (i / rows) * Math.PI;
        return {
          at: [at[0], at[1] - Math.cos(angle) * high, at[2]] as Point,
          wide: Math.sin(angle) * wide,
          deep: Math.sin(angle) * deep,
          weights,
        };
      }),
      { isOpen: true },
    );
  }

  /** A box with a face of its own for each side. */
  box(at: Point, [wide, high, deep]: Point, weights: Weights = STILL): this {
    const half: Point = [wide / 2, high / 2, deep / 2];
    for (let axis = 0; axis < 3; axis++)
      for (const sign of [-1, 1]) {
        const [u, v] = [(axis + 1) % 3, (axis + 2) % 3];
        const face = [
          [-1, -1],
          [1, -1],
          [1, 1],
          [-1, 1],
        ].map(([a, b]) => {
          const place: [number, number, number] = [0, 0, 0];
          place[axis] = sign * half[axis as 0];
          place[u] = a! * half[u as 0];
          place[v] = b! * half[v as 0];
          const normal: [number, number, number] = [0, 0, 0];
          normal[axis] = sign;
          return this.corner(add(at, place), normal, (a! + 1) / 2, (1 - b!) / 2, weights);
        });
        const [p, q, r, s] = face as [number, number, number, number];
        this.mesh.triangles.push(...(sign > 0 ? [p, q, r, p, r, s] : [p, r, q, p, s, r]));
      }
    return this;
  }

  /** A thin blade between two lines of points, seen from both sides. */
  blade(left: readonly Point[], right: readonly Point[], weights: readonly Weights[]): this {
    for (const isBack of [false, true]) {
      const rows = left.map((place, i) => {
        const next = left[Math.min(left.length - 1, i + 1)]!;
        const last = left[Math.max(0, i - 1)]!;
        const normal = scaled(cross(less(right[i]!, place), less(next, last)), isBack ? -1 : 1);
        const v = i / Math.max(1, left.length - 1);
        const own = weights[i] ?? weights.at(-1) ?? STILL;
        return [this.corner(place, normal, 0, v, own), this.corner(right[i]!, normal, 1, v, own)] as const;
      });
      for (let i = 0; i + 1 < rows.length; i++) {
        const [[p, q], [s, r]] = [rows[i]!, rows[i + 1]!];
        this.mesh.triangles.push(...(isBack ? [p, r, q, p, s, r] : [p, q, r, p, r, s]));
      }
    }
    return this;
  }
}

/** Points on a curve through others (Catmull and Rom, 1974). */
export function along(points: readonly Point[], count: number): Point[] {
  const at = (i: number): Point => points[Math.min(points.length - 1, Math.max(0, i))]!;
  return Array.from({ length: count }, (_, k) => {
    const t = (k / (count - 1)) * (points.length - 1);
    const i = Math.min(points.length - 2, Math.floor(t));
    const f = t - i;
    const [a, b, c, d] = [at(i - 1), at(i), at(i + 1), at(i + 2)];
    return [0, 1, 2].map(
      (n) =>
        0.5 *
        (2 * b[n as 0] +
          (c[n as 0] - a[n as 0]) * f +
          (2 * a[n as 0] - 5 * b[n as 0] + 4 * c[n as 0] - d[n as 0]) * f * f +
          (3 * b[n as 0] - a[n as 0] - 3 * c[n as 0] + d[n as 0]) * f ** 3),
    ) as unknown as Point;
  });
}

/** Bones one after the other through points, the first on a given one; gives their numbers. */
export function chain(joints: Joint[], name: string, parent: number, points: readonly Point[]): number[] {
  return points.map((place, i) => {
    const on = i === 0 ? parent : joints.length - 1;
    joints.push({
      name: points.length === 1 ? name : `${name}_${i + 1}`,
      parent: on,
      place: less(place, stand(joints, on)),
    });
    return joints.length - 1;
  });
}

/** Where a bone stands. */
export function stand(joints: readonly Joint[], bone: number): Point {
  let at: Point = [0, 0, 0];
  for (let i = bone; i >= 0; i = joints[i]!.parent) at = add(at, joints[i]!.place);
  return at;
}

/** Weights of a point along a chain of bones: the two nearest by their distance along it. */
export function between(bones: readonly number[], share: number): Weights {
  const t = Math.min(1, Math.max(0, share)) * (bones.length - 1);
  const i = Math.min(bones.length - 1, Math.floor(t));
  const rest = t - i;
  const next = bones[i + 1];
  if (next === undefined || rest < 1e-6) return [[bones[i]!, 1]];
  return [
    [bones[i]!, 1 - rest],
    [next, rest],
  ];
}
