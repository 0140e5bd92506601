import type { Gait, GaitTrack, Turn } from './gait-writer';
import type { Joint } from './mesh';

/** How the bog-heron moves: it walks, turns, strikes with its beak, and waits. */

const RATE = 30;

/** A turn about one axis, in degrees. */
const about = (axis: 0 | 1 | 2, degrees: number): Turn => {
  const half = (degrees / 360) * Math.PI;
  const turn: [number, number, number, number] = [0, 0, 0, Math.cos(half)];
  turn[axis] = Math.sin(half);
  return turn;
};

/** One movement after another, of the same bone. */
const both = ({ bone, turns = [] }: GaitTrack, then: GaitTrack): GaitTrack => ({
  bone,
  turns: turns.map((turn, frame) => product(then.turns![frame]!, turn)),
});

/** First `q`, then `p`. */
const product = ([i, j, k, real]: Turn, [x, y, z, w]: Turn): Turn => [
  real * x + i * w + j * z - k * y,
  real * y - i * z + j * w + k * x,
  real * z + i * y - j * x + k * w,
  real * w - i * x - j * y - k * z,
];

const wave = (share: number, shift = 0): number => Math.sin(2 * Math.PI * (share + shift));

export function heronGaits(joints: readonly Joint[]): Gait[] {
  const number = (name: string): number => {
    const found = joints.findIndex((joint) => joint.name === name);
    if (found < 0) throw new Error(`no bone ${name}`);
    return found;
  };
  const over = (
    frames: number,
    name: string,
    axis: 0 | 1 | 2,
    degrees: (share: number) => number,
  ): GaitTrack => ({
    bone: number(name),
    turns: Array.from({ length: frames }, (_, i) => about(axis, degrees(i / (frames - 1)))),
  });
  const neck = Array.from({ length: 7 }, (_, i) => `neck_${i + 1}`);
  const clip = (name: string, group: string, isLoop: boolean, tracks: GaitTrack[]): Gait => ({
    ...{ name, group, rate: RATE, isLoop, tracks },
  });
  const bob = (frames: number, high: number): GaitTrack => {
    const root = joints[number('body_1')]!.place;
    return {
      bone: number('body_1'),
      places: Array.from({ length: frames }, (_, i) => [
        root[0],
        root[1] + high * wave((2 * i) / (frames - 1)),
        root[2],
      ]),
    };
  };
  const step = (frames: number, reach: number): GaitTrack[] =>
    (['left', 'right'] as const).flatMap((side, i) => [
      over(frames, `leg_${side}_1`, 0, (t) => reach * wave(t, i / 2)),
      over(frames, `leg_${side}_2`, 0, (t) => Math.max(0, reach * 1.3 * wave(t, i / 2 + 0.2))),
      over(frames, `leg_${side}_3`, 0, (t) => -Math.max(0, reach * 0.9 * wave(t, i / 2 + 0.2))),
    ]);
  const turning = (sign: number): GaitTrack[] => [
    ...step(36, 12),
    ...neck.slice(2).map((name) => over(36, name, 1, (t) => sign * 9 * Math.sin(Math.PI * t))),
    over(36, 'root', 1, (t) => sign * 30 * t),
  ];
  return [
    clip('walk', 'move', true, [
      bob(48, 0.03),
      ...step(48, 26),
      ...neck.slice(0, 4).map((name) => over(48, name, 0, (t) => 4 * wave(2 * t))),
    ]),
    clip('turn_left', 'move', false, turning(1)),
    clip('turn_right', 'move', false, turning(-1)),
    clip('strike', 'fight', false, [
      ...neck.map((name, i) =>
        over(
          28,
          name,
          0,
          (t) =>
            (t < 0.35 ? -9 : 17 - i) * Math.sin(Math.PI * Math.min(1, t < 0.35 ? t / 0.7 : (1 - t) / 0.65)),
        ),
      ),
      over(28, 'jaw', 0, (t) => 22 * Math.max(0, wave(t * 0.9))),
      ...(['left', 'right'] as const).map((side, i) =>
        over(28, `wing_${side}_1`, 2, (t) => (i === 0 ? 34 : -34) * Math.sin(Math.PI * t)),
      ),
    ]),
    clip('idle', 'wait', true, [
      ...neck.slice(3).map((name, i) => over(90, name, 1, (t) => 5 * wave(t, i / 20))),
      over(90, 'head', 0, (t) => 6 * wave(2 * t)),
      over(90, 'tail_2', 0, (t) => 5 * wave(3 * t)),
    ]),
    clip('preen', 'wait', true, [
      ...neck.map((name, i) =>
        i < 2
          ? over(120, name, 1, (t) => 18 * Math.sin(Math.PI * t) ** 2)
          : both(
              over(120, name, 1, (t) => 18 * Math.sin(Math.PI * t) ** 2),
              over(120, name, 0, (t) => 13 * Math.sin(Math.PI * t) ** 2),
            ),
      ),
      over(120, 'wing_left_1', 2, (t) => 24 * Math.sin(Math.PI * t) ** 2),
    ]),
  ];
}

/** What the frost update changed: the strike is faster, and the crest shakes. */
export function amendedGaits(joints: readonly Joint[]): Gait[] {
  return heronGaits(joints).map((gait) => (gait.name === 'strike' ? { ...gait, rate: 45 } : gait));
}
