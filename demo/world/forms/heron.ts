import type { FormParts } from './form-writer';
import { along, between, chain, Sculptor, type Joint, type Mesh, type Point, type Weights } from './mesh';

/** The bog-heron: larger than a ferry, on two legs, with a neck like an S and a crest that breaks off. */

interface Skeleton {
  joints: Joint[];
  body: number[];
  neck: number[];
  head: number;
  jaw: number;
  crest: number[];
  legs: [number[], number[]];
  wings: [number[], number[]];
  tail: number[];
  toes: [number[][], number[][]];
}

const NECK: readonly Point[] = [
  [0, 1.62, 0.42],
  [0, 1.8, 0.72],
  [0, 2.06, 0.74],
  [0, 2.3, 0.52],
  [0, 2.52, 0.36],
  [0, 2.76, 0.44],
  [0, 2.92, 0.62],
];
const side = (isLeft: boolean): number => (isLeft ? 1 : -1);
const leg = (isLeft: boolean): Point[] => [
  [0.17 * side(isLeft), 1.28, -0.02],
  [0.19 * side(isLeft), 0.82, 0.14],
  [0.19 * side(isLeft), 0.1, -0.04],
];
const wing = (isLeft: boolean): Point[] => [
  [0.28 * side(isLeft), 1.68, 0.26],
  [0.42 * side(isLeft), 1.6, -0.1],
  [0.38 * side(isLeft), 1.44, -0.5],
  [0.26 * side(isLeft), 1.3, -0.9],
];

export function heronBones(): Skeleton {
  const joints: Joint[] = [{ name: 'root', parent: -1, place: [0, 0, 0] }];
  const body = chain(joints, 'body', 0, [
    [0, 1.36, -0.1],
    [0, 1.5, 0.2],
  ]);
  const neck = chain(joints, 'neck', body[1]!, NECK);
  const [head] = chain(joints, 'head', neck.at(-1)!, [[0, 2.96, 0.68]]) as [number];
  const [jaw] = chain(joints, 'jaw', head, [[0, 2.92, 0.78]]) as [number];
  const crest = chain(joints, 'crest', head, [
    [0, 3.06, 0.62],
    [0, 3.12, 0.36],
  ]);
  const sides = [true, false] as const;
  const named = (isLeft: boolean): string => (isLeft ? 'left' : 'right');
  const legs = sides.map((isLeft) => chain(joints, `leg_${named(isLeft)}`, body[0]!, leg(isLeft))) as [
    number[],
    number[],
  ];
  const toes = sides.map((isLeft, i) =>
    [-0.5, 0, 0.5, Math.PI].map((angle, n) =>
      chain(joints, `toe_${named(isLeft)}_${n + 1}`, legs[i]!.at(-1)!, [
        [0.19 * side(isLeft) + 0.06 * Math.sin(angle), 0.04, -0.04 + 0.06 * Math.cos(angle)],
      ]),
    ),
  ) as [number[][], number[][]];
  const wings = sides.map((isLeft) => chain(joints, `wing_${named(isLeft)}`, body[1]!, wing(isLeft))) as [
    number[],
    number[],
  ];
  const tail = chain(joints, 'tail', body[0]!, [
    [0, 1.38, -0.62],
    [0, 1.3, -0.86],
  ]);
  return { joints, body, neck, head, jaw, crest, legs, wings, tail, toes };
}

function drawn(b: Skeleton, detail: number, level: number): Mesh[] {
  const s = new Sculptor(detail, level);
  const rows = Math.max(6, detail);
  // The body: an egg that lies a little upwards.
  s.begin('heron_body', 0).tube(
    Array.from({ length: rows }, (_, i) => {
      const t = i / (rows - 1);
      const wide = 0.33 * Math.sin(Math.PI * (0.05 + 0.9 * t)) ** 0.75;
      const at: Point = [0, 1.36 + 0.22 * t, -0.68 + 1.12 * t];
      return { at, wide, deep: wide * 1.12, weights: between([b.tail[0]!, b.body[0]!, b.body[1]!], t) };
    }),
  );
  const neck = along([[0, 1.5, 0.3], ...NECK, [0, 2.96, 0.68]], rows * 2);
  s.tube(
    neck.map((at, i) => {
      const t = i / (neck.length - 1);
      return {
        at,
        wide: 0.2 * (1 - t) ** 2.2 + 0.07 + 0.02 * t,
        weights: between([b.body[1]!, ...b.neck, b.head], t),
      };
    }),
  );
  s.tube(
    [0, 0.2, 0.45, 0.7, 0.9, 1].map((t) => ({
      at: [0, 2.98 - 0.02 * t, 0.5 + 0.4 * t] as Point,
      wide: 0.115 * Math.sin(Math.PI * (0.12 + 0.76 * t)),
      deep: 0.13 * Math.sin(Math.PI * (0.12 + 0.76 * t)),
      weights: [[b.head, 1]] as Weights,
    })),
  );
  b.wings.forEach((bones, i) => {
    const isLeft = i === 0;
    const line = along(wing(isLeft), rows);
    s.tube(
      line.map((at, k) => {
        const t = k / (line.length - 1);
        const wide = 0.06 * Math.sin(Math.PI * (0.15 + 0.8 * t)) + 0.01;
        return {
          at,
          wide,
          deep: 0.26 * Math.sin(Math.PI * (0.12 + 0.84 * t)) ** 0.7,
          weights: between(bones, t),
        };
      }),
    );
  });
  s.begin('heron_beak', 1);
  const beak = (bone: number, high: number, deep: number): void => {
    s.tube(
      [0, 0.4, 0.8, 1].map((t) => ({
        at: [0, high - 0.02 * t, 0.84 + 0.74 * t] as Point,
        wide: 0.052 * (1 - t) + 0.002,
        deep: deep * (1 - t) + 0.002,
        weights: [[bone, 1]] as Weights,
      })),
      { sides: Math.max(6, detail >> 1) },
    );
  };
  beak(b.head, 2.985, 0.04);
  beak(b.jaw, 2.94, 0.03);
  for (const x of [-0.09, 0.09]) s.ball([x, 3.02, 0.74], [0.022, 0.03, 0.03], [[b.head, 1]]);
  s.begin('heron_legs', 1);
  b.legs.forEach((bones, i) => {
    const isLeft = i === 0;
    const line = along(leg(isLeft), rows);
    s.tube(
      line.map((at, k) => {
        const t = k / (line.length - 1);
        const knee = Math.exp(-(((t - 0.5) / 0.07) ** 2));
        return { at, wide: 0.1 * (1 - t) ** 3 + 0.026 + 0.018 * knee, weights: between(bones, t) };
      }),
      { sides: Math.max(5, detail >> 1) },
    );
    b.toes[i]!.forEach(([toe], n) => {
      const angle = [-0.5, 0, 0.5, Math.PI][n]!;
      const length = n === 3 ? 0.24 : 0.42;
      s.tube(
        [0, 0.5, 1].map((t) => ({
          at: [
            0.19 * side(isLeft) + Math.sin(angle) * length * t,
            0.05 - 0.04 * t,
            -0.04 + Math.cos(angle) * length * t,
          ] as Point,
          wide: 0.026 - 0.02 * t,
          weights: (t === 0 ? [[bones.at(-1)!, 1]] : [[toe!, 1]]) as Weights,
        })),
        { sides: Math.max(4, detail >> 2) },
      );
    });
  });
  // Long feathers of wings and tail.
  s.begin('heron_feathers', 2);
  b.wings.forEach((bones, i) => {
    const sign = side(i === 0);
    for (let n = 0; n < 9; n++) {
      const t = n / 8;
      const from: Point = [sign * (0.42 - 0.16 * t), 1.5 - 0.22 * t, -0.1 - 0.72 * t];
      const to: Point = [sign * (0.4 - 0.2 * t), 1.16 - 0.02 * t, -0.5 - 0.6 * t];
      feather(s, from, to, 0.07, between(bones, 0.35 + 0.65 * t));
    }
  });
  for (let n = -2; n <= 2; n++)
    feather(s, [0.05 * n, 1.36, -0.6], [0.1 * n, 1.06, -1.16], 0.08, [[b.tail[1]!, 1]]);
  s.begin('heron_crest', 3);
  for (let n = -1; n <= 1; n++) {
    const line = along(
      [
        [0.03 * n, 3.07, 0.66],
        [0.06 * n, 3.16, 0.44],
        [0.09 * n, 3.1, 0.1],
        [0.1 * n, 2.92, -0.16],
      ],
      Math.max(4, rows >> 1),
    );
    s.tube(
      line.map((at, k) => {
        const t = k / (line.length - 1);
        return {
          at,
          wide: 0.028 * (1 - t) + 0.004,
          deep: 0.05 * (1 - t) + 0.004,
          weights: between(b.crest, t),
        };
      }),
      { sides: Math.max(4, detail >> 2) },
    );
  }
  return s.meshes;
}

function feather(s: Sculptor, from: Point, to: Point, wide: number, weights: Weights): void {
  const steps = 5;
  const line = Array.from({ length: steps }, (_, i) => i / (steps - 1));
  const edge = (sign: number): Point[] =>
    line.map((t) => [
      from[0] + (to[0] - from[0]) * t + sign * wide * 0.35 * Math.sin(Math.PI * (0.2 + 0.8 * t)),
      from[1] + (to[1] - from[1]) * t,
      from[2] + (to[2] - from[2]) * t + sign * wide * Math.sin(Math.PI * (0.2 + 0.8 * t)),
    ]);
  s.blade(edge(-1), edge(1), [weights]);
}

export function heron(): FormParts {
  const bones = heronBones();
  const meshes = [...drawn(bones, 28, 0), ...drawn(bones, 12, 1)];
  // Scars are drawn over the body where it was struck: a skin of its own, a hair above it.
  const scars = new Sculptor(12, 0);
  scars.begin('heron_scars', 4);
  for (const [y, z] of [
    [1.6, 0.1],
    [1.52, -0.2],
  ] as const)
    scars.blade(
      [0, 0.5, 1].map((t): Point => [0.345, y + 0.04 - 0.05 * t, z + 0.2 * t]),
      [0, 0.5, 1].map((t): Point => [0.345, y - 0.04 - 0.05 * t, z + 0.2 * t]),
      [[[bones.body[1]!, 1]]],
    );
  const folder = 'creatures/bog_heron';
  return {
    meshes: [...meshes, ...scars.meshes],
    joints: bones.joints,
    paints: [
      {
        name: 'plumage',
        colour: `${folder}/plumage_colour.sheet`,
        normal: `${folder}/plumage_normal.sheet`,
        grey: `${folder}/plumage_grey.sheet`,
      },
      { name: 'horn', colour: `${folder}/horn_colour.sheet`, grey: `${folder}/horn_grey.sheet` },
      { name: 'feathers', colour: `${folder}/plumage_colour.sheet`, grey: `${folder}/plumage_grey.sheet` },
      { name: 'crest', colour: `${folder}/crest_colour.sheet` },
      { name: 'damage', colour: `${folder}/damage_colour.sheet` },
    ],
  };
}
