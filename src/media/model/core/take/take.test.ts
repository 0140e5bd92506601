import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Clip, Form, Part, Track } from '../form/form';
import { regreyed, saysAnything } from './greys';
import { TakeSettings } from './settings';
import { takenForm } from './take';
import { thinned } from './thin';

const settings = (given: object = {}): TakeSettings => TakeSettings.parse(given);
const part = (name: string, material: number, level = 0): Part => ({
  ...{ name, level, material, coordinates: [], morphs: [] },
  places: new Float32Array(9),
  triangles: Uint32Array.of(0, 1, 2),
});
const bone = (name: string): Form['bones'][number] => ({
  ...{ name, parent: -1, place: [0, 0, 0], turn: [0, 0, 0, 1], size: [1, 1, 1] },
});
const material = (name: string): Form['materials'][number] => ({
  ...{ name, colour: [1, 1, 1, 1], pictures: {}, isTwoSided: false },
});
const track = (sort: Track['sort'], values: readonly (readonly number[])[], bone = 0): Track => ({
  ...{ bone, sort },
  times: Float32Array.from(values, (_, i) => i / 30),
  values: Float32Array.from(values.flat()),
});
const clip = (name: string, ...tracks: Track[]): Clip => ({
  name,
  group: '',
  rate: 30,
  isLoop: false,
  tracks,
});
const form: Form = {
  parts: [part('body', 0), part('scars', 1), part('crest', 2), part('body', 0, 1)],
  materials: [material('plumage'), material('damage'), material('horn')],
  bones: [bone('root'), bone('neck')],
  clips: [clip('walk', track('place', [[0, 0, 0]])), clip('idle', track('place', [[0, 0, 0]], 1))],
};

test('parts, materials, levels and clips are left out as chosen; numbers of materials follow', () => {
  const all = takenForm(form, settings());
  expect(all.form).toEqual(form);
  expect(all.told).toMatchObject({ parts: 3, triangles: 4, materials: ['plumage', 'damage', 'horn'] });
  const some = takenForm(form, settings({ left: ['body'], leftMaterials: ['damage'], clips: ['idle'] }));
  expect(
    some.form.parts.map(({ name, material: number }) => [name, some.form.materials[number]!.name]),
  ).toEqual([['crest', 'horn']]);
  expect(some.form.clips.map(({ name }) => name)).toEqual(['idle']);
  expect(takenForm(form, settings({ finest: true })).form.parts).toHaveLength(3);
  const none = takenForm(form, settings({ left: ['body', 'scars', 'crest'], clips: [] }));
  expect(none.told).toMatchObject({ parts: 0, triangles: 0, materials: [], clips: [] });
  // A material of which nothing is painted is no reason to leave out what has none.
  const bare: Form = { ...form, parts: [part('bare', -1)] };
  expect(takenForm(bare, settings({ leftMaterials: ['damage'] })).form.parts).toMatchObject([
    { material: -1 },
  ]);
});

test('clips of another file go on the bones that are called alike', () => {
  const gait: Form = {
    ...{ parts: [], materials: [] },
    bones: [bone('neck'), bone('tail')],
    clips: [clip('strike', track('turn', [[0, 0, 0, 1]], 0), track('turn', [[0, 0, 0, 1]], 1))],
  };
  const { form: made, told } = takenForm(form, settings(), gait);
  expect(made.clips).toMatchObject([{ name: 'strike', tracks: [{ bone: 1 }] }]);
  expect(told).toMatchObject({ missing: ['tail'], clips: [{ name: 'strike', keys: 1 }] });
});

test('keys that lie on the way are left out, others stay, and what stands still has one', () => {
  const straight = Array.from({ length: 31 }, (_, i) => [i, 2 * i, 0]);
  const still = Array.from({ length: 31 }, () => [1, 2, 3]);
  const bent = straight.map(([x, y], i) => [x!, y!, i === 10 ? 0.5 : 0]);
  const made = thinned(clip('a', track('place', straight), track('place', still), track('place', bent)), {
    ...{ place: 0.001, turn: 0.001 },
  });
  expect(made.clip.tracks.map(({ times }) => times.length)).toEqual([2, 1, 5]);
  expect(made).toMatchObject({ keysBefore: 93, keys: 8 });
  expect(made.place).toBeLessThanOrEqual(0.001);
  // A turn about one axis at one speed is its two ends, the other sign of a quaternion included.
  const turning = Array.from({ length: 21 }, (_, i) => {
    const half = i / 40;
    const sign = i % 3 === 0 ? -1 : 1;
    return [0, sign * Math.sin(half), 0, sign * Math.cos(half)];
  });
  expect(
    thinned(clip('b', track('turn', turning)), { place: 1, turn: 0.002 }).clip.tracks[0]!.times,
  ).toHaveLength(2);
  expect(thinned(clip('c', track('place', [])), { place: 1, turn: 1 })).toMatchObject({ keys: 0 });
});

test('no key is farther off than was allowed, and the error that is said is the largest', () => {
  const value = fc.double({ min: -5, max: 5, noNaN: true });
  fc.assert(
    fc.property(
      fc.array(fc.tuple(value, value, value), { minLength: 2, maxLength: 40 }),
      fc.double({ min: 0.01, max: 3, noNaN: true }),
      (values, place) => {
        const before = track('place', values);
        const made = thinned(clip('a', before), { place, turn: 1 });
        const after = made.clip.tracks[0]!;
        const at = (time: number): number[] => {
          const i = Math.max(
            1,
            after.times.findIndex((one) => one >= time),
          );
          if (after.times.length === 1) return [...after.values];
          const [from, to] = [after.times[i - 1]!, after.times[i]!];
          const t = (time - from) / (to - from);
          return [0, 1, 2].map((axis) => {
            const a = after.values[3 * i - 3 + axis]!;
            return a + (after.values[3 * i + axis]! - a) * t;
          });
        };
        const most = Math.max(
          ...values.map((_, key) =>
            Math.hypot(...at(before.times[key]!).map((one, axis) => one - before.values[3 * key + axis]!)),
          ),
        );
        expect(most).toBeLessThan(place + 1e-4);
        expect(Math.abs(most - made.place)).toBeLessThan(1e-3);
      },
    ),
    { numRuns: 200 },
  );
});

test('grey maps go where glTF has them, turned over where the game keeps them so', () => {
  const texels = Uint8Array.of(10, 20, 30, 40, 250, 240, 230, 220);
  expect([...regreyed(texels, {})]).toEqual([255, 255, 0, 255, 255, 0]);
  const greys = {
    red: { is: 'roughness' as const, inverted: false },
    green: { is: 'shade' as const, inverted: true },
    alpha: { is: 'metal' as const, inverted: false },
  };
  expect([...regreyed(texels, greys)]).toEqual([235, 10, 40, 15, 250, 220]);
  expect(saysAnything({})).toBe(false);
  expect(saysAnything({ red: { is: 'none', inverted: true } })).toBe(false);
  expect(saysAnything(greys)).toBe(true);
});
