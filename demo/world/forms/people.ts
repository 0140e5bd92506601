import type { FormParts } from './form-writer';
import { between, chain, Sculptor, type Joint, type Point, type Ring, type Weights } from './mesh';

/** Odd and Ibis, and what they wear: figures of a hand's height on the screen, with the bones that their clothes need. */

interface Body {
  joints: Joint[];
  spine: number[];
  head: number;
  arms: [number[], number[]];
  legs: [number[], number[]];
}

function bodyBones(tall: number): Body {
  const joints: Joint[] = [{ name: 'root', parent: -1, place: [0, 0, 0] }];
  const at = (x: number, y: number, z = 0): Point => [x * tall, y * tall, z * tall];
  const spine = chain(joints, 'spine', 0, [at(0, 0.52), at(0, 0.64), at(0, 0.76)]);
  const [head] = chain(joints, 'head', spine.at(-1)!, [at(0, 0.86)]) as [number];
  const sides = [1, -1].map((s, i) => ({
    arm: chain(joints, `arm_${i === 0 ? 'left' : 'right'}`, spine.at(-1)!, [
      at(0.13 * s, 0.79),
      at(0.2 * s, 0.6),
      at(0.22 * s, 0.44, 0.06),
    ]),
    leg: chain(joints, `leg_${i === 0 ? 'left' : 'right'}`, spine[0]!, [
      at(0.07 * s, 0.5),
      at(0.075 * s, 0.27, 0.01),
      at(0.075 * s, 0.04, -0.01),
    ]),
  }));
  return {
    ...{ joints, spine, head },
    arms: [sides[0]!.arm, sides[1]!.arm],
    legs: [sides[0]!.leg, sides[1]!.leg],
  };
}

const rings = (
  points: readonly (readonly [y: number, wide: number, deep: number])[],
  tall: number,
  weigh: (t: number) => Weights,
): Ring[] =>
  points.map(([y, wide, deep], i) => ({
    ...{ at: [0, y * tall, 0] as Point, wide: wide * tall, deep: deep * tall },
    weights: weigh(i / (points.length - 1)),
  }));

const COAT = [
  [0.2, 0.2, 0.17],
  [0.34, 0.17, 0.14],
  [0.52, 0.14, 0.11],
  [0.64, 0.145, 0.11],
  [0.76, 0.15, 0.1],
  [0.82, 0.09, 0.07],
] as const;

/** A person in a coat with a hat. */
export function person(who: 'odd' | 'ibis'): FormParts {
  const tall = who === 'odd' ? 1.72 : 1.58;
  const b = bodyBones(tall);
  const meshes = [
    [20, 0],
    [9, 1],
  ].flatMap(([detail, level]) => {
    const s = new Sculptor(detail!, level!);
    s.begin(`${who}_coat`, 0).tube(
      rings(COAT, tall, (t) => between([b.legs[0][0]!, ...b.spine], t)).map((ring, i) =>
        i < 2 ? { ...ring, weights: [[b.spine[0]!, 1]] } : ring,
      ),
    );
    b.arms.forEach((bones) => limb(s, b.joints, bones, [0.055 * tall, 0.05 * tall, 0.042 * tall]));
    s.begin(`${who}_skin`, 1).ball(
      [0, 0.91 * tall, 0.01 * tall],
      [0.068 * tall, 0.085 * tall, 0.075 * tall],
      [[b.head, 1]],
    );
    b.arms.forEach((bones, i) =>
      s.ball(
        pointOf(b.joints, bones[2]!),
        [0.03 * tall, 0.035 * tall, 0.03 * tall],
        [[b.arms[i]!.at(-1)!, 1]],
      ),
    );
    s.begin(`${who}_boots`, 2);
    b.legs.forEach((bones) => {
      limb(s, b.joints, bones, [0.062 * tall, 0.05 * tall, 0.045 * tall]);
      const foot = pointOf(b.joints, bones[2]!);
      s.box(
        [foot[0], 0.025 * tall, foot[2] + 0.04 * tall],
        [0.07 * tall, 0.05 * tall, 0.15 * tall],
        [[bones[2]!, 1]],
      );
    });
    const still: Weights = [[b.head, 1]];
    const brim = who === 'odd' ? 0.15 : 0.11;
    s.begin(`${who}_hat`, 2).tube(
      (
        [
          [0.95, brim],
          [0.965, brim],
          [0.967, 0.082],
          [1.05, 0.07],
          [1.07, 0.03],
        ] as const
      ).map(([y, wide]) => ({
        at: [0, y * tall, 0] as Point,
        wide: wide * tall,
        weights: still,
      })),
    );
    return s.meshes;
  });
  const folder = `actors/${who}`;
  return {
    meshes,
    joints: b.joints,
    paints: [
      { name: 'coat', colour: `${folder}/coat/coat_colour.sheet` },
      { name: 'skin' },
      { name: 'leather' },
    ],
  };
}

function pointOf(joints: readonly Joint[], bone: number): Point {
  let at: [number, number, number] = [0, 0, 0];
  for (let i = bone; i >= 0; i = joints[i]!.parent)
    at = [at[0] + joints[i]!.place[0], at[1] + joints[i]!.place[1], at[2] + joints[i]!.place[2]];
  return at;
}

function limb(
  s: Sculptor,
  joints: readonly Joint[],
  bones: readonly number[],
  wide: readonly number[],
): void {
  const points = bones.map((bone) => pointOf(joints, bone));
  const rows: Ring[] = [];
  for (let i = 0; i + 1 < points.length; i++)
    for (let k = 0; k < 4; k++) {
      const t = k / 4;
      const [a, c] = [points[i]!, points[i + 1]!];
      rows.push({
        at: [a[0] + (c[0] - a[0]) * t, a[1] + (c[1] - a[1]) * t, a[2] + (c[2] - a[2]) * t],
        wide: wide[i]! + (wide[i + 1]! - wide[i]!) * t,
        weights: between(bones, (i + t) / (points.length - 1)),
      });
    }
  rows.push({ at: points.at(-1)!, wide: wide.at(-1)!, weights: [[bones.at(-1)!, 1]] });
  s.tube(rows);
}

/** Odd's outfit as a mesh of its own: cloth and trim; each has another cut. */
export function outfit(cut: 'storm' | 'feast' | 'harvest'): FormParts {
  const tall = 1.72;
  const b = bodyBones(tall);
  const hem = { storm: 0.12, feast: 0.3, harvest: 0.4 }[cut];
  const s = new Sculptor(20, 0);
  const shape = COAT.map(([y, wide, deep], i): [number, number, number] => [
    i === 0 ? hem : Math.max(y, hem + 0.05 * i),
    wide * 1.06,
    deep * 1.06,
  ]);
  s.begin('cloth', 0).tube(rings(shape, tall, (t) => between(b.spine, t)));
  b.arms.forEach((bones) => limb(s, b.joints, bones, [0.06 * tall, 0.055 * tall, 0.05 * tall]));
  s.begin('trim', 0).tube(
    [0, 0.02].map((more) => ({
      at: [0, (hem + more) * tall, 0] as Point,
      wide: 0.216 * tall,
      deep: 0.186 * tall,
      weights: [[b.spine[0]!, 1]] as Weights,
    })),
    { isOpen: true },
  );
  return {
    meshes: s.meshes,
    joints: b.joints,
    paints: [{ name: cut, colour: `wardrobe/odd/${cut}_colour.sheet` }],
  };
}

/** One blouse at five levels of detail, each in a file of its own with a name that is hardly told from the next. */
export function blouse(detail: number): FormParts {
  const tall = 1.58;
  const b = bodyBones(tall);
  const s = new Sculptor(detail, 0);
  const steps = Math.max(3, Math.round(detail / 2));
  const body = Array.from({ length: steps + 1 }, (_, i): [number, number, number] => {
    const t = i / steps;
    return [
      0.5 + 0.31 * t,
      0.125 + 0.03 * Math.sin(Math.PI * t) - 0.04 * t ** 4,
      0.095 + 0.02 * Math.sin(Math.PI * t) - 0.02 * t ** 4,
    ];
  });
  s.begin('blouse', 0).tube(
    rings(body, tall, (t) => between(b.spine, t)),
    { isOpen: true },
  );
  s.begin('sleeves', 0);
  b.arms.forEach((bones) => limb(s, b.joints, bones.slice(0, 2), [0.062 * tall, 0.06 * tall]));
  s.begin('collar', 1).tube(
    [0, 0.5, 1].map((t) => ({
      at: [0, (0.8 + 0.035 * t) * tall, 0] as Point,
      wide: (0.062 - 0.01 * t) * tall,
      deep: 0.05 * tall,
      weights: [[b.spine[2]!, 1]] as Weights,
    })),
    { isOpen: true },
  );
  s.begin('buttons', 2);
  for (let i = 0; i < 5; i++)
    s.ball(
      [0, (0.54 + 0.05 * i) * tall, 0.117 * tall],
      [0.008 * tall, 0.008 * tall, 0.004 * tall],
      [[b.spine[Math.min(2, Math.floor(i / 2))]!, 1]],
    );
  return {
    meshes: s.meshes,
    joints: b.joints,
    paints: [
      { name: 'linen', colour: 'clothes/blouse_colour.sheet' },
      { name: 'linen_fold', colour: 'clothes/blouse_colour.sheet' },
      { name: 'bone_button' },
    ],
  };
}

/** An otter on its belly. */
export function otter(): FormParts {
  const joints: Joint[] = [{ name: 'root', parent: -1, place: [0, 0, 0] }];
  const back = chain(joints, 'back', 0, [
    [0, 0.14, -0.2],
    [0, 0.16, 0],
    [0, 0.17, 0.2],
    [0, 0.2, 0.36],
  ]);
  const tail = chain(joints, 'tail', back[0]!, [
    [0, 0.12, -0.36],
    [0, 0.08, -0.58],
  ]);
  const meshes = [
    [18, 0],
    [8, 1],
  ].flatMap(([detail, level]) => {
    const s = new Sculptor(detail!, level!);
    s.begin('otter_body', 0).tube(
      (
        [
          [-0.7, 0.06, 0.008],
          [-0.5, 0.09, 0.035],
          [-0.32, 0.13, 0.075],
          [-0.1, 0.15, 0.11],
          [0.12, 0.16, 0.115],
          [0.28, 0.18, 0.085],
          [0.36, 0.2, 0.08],
          [0.46, 0.2, 0.07],
          [0.53, 0.185, 0.03],
        ] as const
      ).map(([z, y, wide], i) => ({
        at: [0, y, z] as Point,
        wide,
        deep: wide * 0.85,
        weights: between([tail[1]!, tail[0]!, ...back], i / 8),
      })),
    );
    for (const [x, z, bone] of [
      [0.09, 0.22, back[2]!],
      [-0.09, 0.22, back[2]!],
      [0.09, -0.24, back[0]!],
      [-0.09, -0.24, back[0]!],
    ] as const)
      s.tube([
        { at: [x, 0.13, z], wide: 0.035, weights: [[bone, 1]] },
        { at: [x * 1.3, 0.05, z + 0.03], wide: 0.026, weights: [[bone, 1]] },
        { at: [x * 1.4, 0.015, z + 0.1], wide: 0.03, deep: 0.012, weights: [[bone, 1]] },
      ]);
    s.begin('otter_face', 1);
    for (const x of [-0.03, 0.03]) s.ball([x, 0.23, 0.47], [0.011, 0.011, 0.011], [[back[3]!, 1]]);
    s.ball([0, 0.195, 0.535], [0.016, 0.012, 0.012], [[back[3]!, 1]]);
    for (const x of [-0.055, 0.055]) s.ball([x, 0.255, 0.38], [0.018, 0.018, 0.01], [[back[3]!, 1]]);
    return s.meshes;
  });
  return {
    meshes,
    joints,
    paints: [{ name: 'fur', colour: 'creatures/otter/fur_colour.sheet' }, { name: 'dark' }],
  };
}
