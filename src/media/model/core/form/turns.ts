import type { Bone, Quadruple, Triple } from './form';

/** Matrices of 16 numbers, column by column, as glTF keeps them. */
export type Matrix = readonly number[];

export const IDENTITY: Matrix = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];

/** First `b`, then `a`. */
export function times(a: Matrix, b: Matrix): number[] {
  const out = new Array<number>(16).fill(0);
  for (let column = 0; column < 4; column++)
    for (let row = 0; row < 4; row++)
      for (let i = 0; i < 4; i++) out[4 * column + row]! += a[4 * i + row]! * b[4 * column + i]!;
  return out;
}

export function matrixOf({ place, turn, size }: Pick<Bone, 'place' | 'turn' | 'size'>): number[] {
  const [x, y, z, w] = unit(turn);
  const rows = [
    [1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w)],
    [2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w)],
    [2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)],
  ];
  const column = (i: 0 | 1 | 2): number[] => [...rows.map((row) => row[i]! * size[i]), 0];
  return [...column(0), ...column(1), ...column(2), ...place, 1];
}

/** Place, turn and size of a matrix without shear; one that mirrors has its first size negative. */
export function takenApart(matrix: Matrix): Pick<Bone, 'place' | 'turn' | 'size'> {
  const axis = (i: number): Triple => [matrix[4 * i]!, matrix[4 * i + 1]!, matrix[4 * i + 2]!];
  const lengths = [0, 1, 2].map((i) => Math.hypot(...axis(i)));
  const [a, b, c] = [axis(0), axis(1), axis(2)];
  const volume =
    a[0] * (b[1] * c[2] - b[2] * c[1]) -
    a[1] * (b[0] * c[2] - b[2] * c[0]) +
    a[2] * (b[0] * c[1] - b[1] * c[0]);
  const size: Triple = [volume < 0 ? -lengths[0]! : lengths[0]!, lengths[1]!, lengths[2]!];
  const at = (column: number, row: number): number => matrix[4 * column + row]! / (size[column]! || 1);
  return { place: [matrix[12]!, matrix[13]!, matrix[14]!], turn: turnOf(at), size };
}

/** The quaternion of a rotation (Shepperd, 1978: the largest of the four is worked out first). */
function turnOf(at: (column: number, row: number) => number): Quadruple {
  const [xx, yy, zz] = [at(0, 0), at(1, 1), at(2, 2)];
  const trace = xx + yy + zz;
  if (trace > 0) {
    const s = 2 * Math.sqrt(1 + trace);
    return [(at(1, 2) - at(2, 1)) / s, (at(2, 0) - at(0, 2)) / s, (at(0, 1) - at(1, 0)) / s, s / 4];
  }
  if (xx >= yy && xx >= zz) {
    const s = 2 * Math.sqrt(Math.max(0, 1 + xx - yy - zz)) || 1;
    return [s / 4, (at(1, 0) + at(0, 1)) / s, (at(2, 0) + at(0, 2)) / s, (at(1, 2) - at(2, 1)) / s];
  }
  if (yy >= zz) {
    const s = 2 * Math.sqrt(Math.max(0, 1 + yy - xx - zz)) || 1;
    return [(at(1, 0) + at(0, 1)) / s, s / 4, (at(2, 1) + at(1, 2)) / s, (at(2, 0) - at(0, 2)) / s];
  }
  const s = 2 * Math.sqrt(Math.max(0, 1 + zz - xx - yy)) || 1;
  return [(at(2, 0) + at(0, 2)) / s, (at(2, 1) + at(1, 2)) / s, s / 4, (at(0, 1) - at(1, 0)) / s];
}

export function unit(turn: Quadruple): Quadruple {
  const length = Math.hypot(...turn);
  if (!(length > 0)) return [0, 0, 0, 1];
  return [turn[0] / length, turn[1] / length, turn[2] / length, turn[3] / length];
}

/** The inverse of a matrix whose last row is 0, 0, 0, 1; undefined where it has none. */
export function inverseOf(m: Matrix): number[] | undefined {
  const at = (row: number, column: number): number => m[4 * column + row]!;
  const minor = (r: number, c: number): number => {
    const [r1, r2] = [(r + 1) % 3, (r + 2) % 3];
    const [c1, c2] = [(c + 1) % 3, (c + 2) % 3];
    return at(r1, c1) * at(r2, c2) - at(r1, c2) * at(r2, c1);
  };
  const whole = at(0, 0) * minor(0, 0) + at(0, 1) * minor(0, 1) + at(0, 2) * minor(0, 2);
  if (!Number.isFinite(1 / whole)) return undefined;
  const out = [...IDENTITY];
  for (let row = 0; row < 3; row++)
    for (let column = 0; column < 3; column++) out[4 * column + row] = minor(column, row) / whole;
  for (let row = 0; row < 3; row++)
    out[12 + row] = -(out[row]! * m[12]! + out[4 + row]! * m[13]! + out[8 + row]! * m[14]!);
  return out;
}

/** Where each bone stands in the model. Bones may stand before those that they hang on; there must be no ring. */
export function standing(bones: readonly Bone[]): number[][] {
  const known: (number[] | undefined)[] = new Array<undefined>(bones.length).fill(undefined);
  const of = (number: number): number[] => {
    const ready = known[number];
    if (ready) return ready;
    const bone = bones[number]!;
    const own = matrixOf(bone);
    return (known[number] = bone.parent < 0 ? own : times(of(bone.parent), own));
  };
  return bones.map((_, i) => of(i));
}

/** From the model into each bone as it was bound. */
export const inverses = (bones: readonly Bone[]): number[][] => {
  const stand = standing(bones);
  return bones.map(({ inverse }, i) => [...(inverse ?? inverseOf(stand[i]!) ?? IDENTITY)]);
};
