import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { checkForm } from './check-form';
import { hereFrom, thereFrom, type Space } from './axes';
import { EMPTY_FORM, type Bone, type Form, type Part } from './form';
import { trackAt } from './sample';
import { withoutLines, withoutUnused } from './tidy';
import { inverseOf, matrixOf, standing, takenApart, times } from './turns';

const part = (more: Partial<Part> = {}): Part => ({
  ...{ name: 'one', level: 0, material: -1, coordinates: [], morphs: [] },
  places: Float32Array.of(0, 0, 0, 1, 0, 0, 0, 2, 0),
  triangles: Uint32Array.of(0, 1, 2),
  ...more,
});
const bone = (name: string, parent: number, more: Partial<Bone> = {}): Bone => ({
  ...{ name, parent, place: [1, 2, 3], turn: [0, 0, 0, 1], size: [1, 1, 1] },
  ...more,
});
const formOf = (more: Partial<Form>): Form => ({ ...EMPTY_FORM, parts: [part()], ...more });

describe('what drawing relies on is checked', () => {
  test.each<[string, Partial<Form>, RegExp]>([
    [
      'a corner outside',
      { parts: [part({ triangles: Uint32Array.of(0, 1, 3) })] },
      /triangles\[0\].*below 3.*is 3/,
    ],
    [
      'a place that is none',
      { parts: [part({ places: Float32Array.of(0, 0, 0, NaN, 0, 0, 0, 2, 0) })] },
      /places\[1\]/,
    ],
    [
      'a place without end',
      { parts: [part({ places: Float32Array.of(0, 0, 0, 0, 0, 0, 0, Infinity, 0) })] },
      /places\[2\]/,
    ],
    ['too few normals', { parts: [part({ normals: new Float32Array(6) })] }, /normals.*3 of them.*is 2/],
    ['a material that there is not', { parts: [part({ material: 2 })] }, /material below 0/],
    ['bones in a ring', { bones: [bone('a', 1), bone('b', 0)] }, /bones\[0\].parent.*a hangs on itself/],
    ['a bone on none', { bones: [bone('a', 7)] }, /a bone below 1, or -1/],
    [
      'a bone that moves a vertex and is not there',
      {
        bones: [bone('a', -1)],
        parts: [
          part({
            joints: Uint16Array.from({ length: 12 }, () => 5),
            weights: new Float32Array(12).fill(0.25),
          }),
        ],
      },
      /joints\[0\].*below 1.*is 5/,
    ],
    [
      'keys that go back',
      {
        bones: [bone('a', -1)],
        clips: [
          {
            ...{ name: 'walk', group: '', rate: 30, isLoop: false },
            tracks: [
              { bone: 0, sort: 'place', times: Float32Array.of(0, 2, 1), values: new Float32Array(9) },
            ],
          },
        ],
      },
      /clips\[walk\].tracks\[0\].times\[2\].*1 behind 2/,
    ],
  ])('%s is refused', (_what, form, message) => {
    expect(() => checkForm(formOf(form), 'x.form')).toThrow(message);
  });

  test('weights of nothing may name any bone', () => {
    const joints = Uint16Array.from({ length: 12 }, () => 500);
    expect(() =>
      checkForm(
        formOf({ bones: [bone('a', -1)], parts: [part({ joints, weights: new Float32Array(12) })] }),
        'x',
      ),
    ).not.toThrow();
  });
});

describe('spaces of files', () => {
  const spaces: Space[] = (['x', 'y', 'z'] as const).flatMap((up) =>
    [true, false].map((isLeftHanded) => ({ up, isLeftHanded, unit: 0.25 })),
  );

  test.each(spaces)('there and back is where it was: $up up, left-handed $isLeftHanded', (space) => {
    const before = formOf({
      bones: [bone('a', -1, { turn: [0.5, 0.5, -0.5, 0.5], inverse: matrixOf(bone('i', -1)) }), bone('b', 0)],
      parts: [
        part({ normals: Float32Array.of(0, 0, 1, 0, 1, 0, 1, 0, 0), tangents: new Float32Array(12).fill(1) }),
      ],
      clips: [
        {
          ...{ name: 'c', group: '', rate: 1, isLoop: true },
          tracks: [
            { bone: 0, sort: 'turn', times: Float32Array.of(0), values: Float32Array.of(0.5, 0.5, 0.5, 0.5) },
          ],
        },
      ],
    });
    expect(thereFrom(hereFrom(before, space), space)).toEqual(before);
  });

  test('what is up comes to be up, and stays in front of a face what was', () => {
    const up = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] } as const;
    for (const space of spaces) {
      const [made] = hereFrom(
        formOf({ parts: [part({ places: Float32Array.from([...up[space.up], 0, 0, 0, 0, 0, 0]) })] }),
        space,
      ).parts;
      expect([...made!.places.subarray(0, 3)]).toEqual([0, 0.25, 0]);
    }
  });

  test('a mirrored space turns its triangles, so that their fronts stay in front', () => {
    const left = { up: 'y', isLeftHanded: true, unit: 1 } as const;
    expect([...hereFrom(formOf({}), left).parts[0]!.triangles]).toEqual([0, 2, 1]);
    expect([...hereFrom(formOf({}), { ...left, isLeftHanded: false, up: 'z' }).parts[0]!.triangles]).toEqual([
      0, 1, 2,
    ]);
  });

  test('bones stand where their matrices say, in any space', () => {
    for (const space of spaces) {
      const bones = [bone('a', -1, { turn: [0, 0, Math.SQRT1_2, Math.SQRT1_2] }), bone('b', 0)];
      const moved = hereFrom(formOf({ bones }), space);
      const there = standing(bones)[1]!;
      const point = hereFrom(
        formOf({
          parts: [part({ places: Float32Array.of(there[12]!, there[13]!, there[14]!, 0, 0, 0, 0, 0, 0) })],
        }),
        space,
      ).parts[0]!.places;
      const here = standing(moved.bones)[1]!;
      [0, 1, 2].forEach((i) => expect(here[12 + i]).toBeCloseTo(point[i]!, 5));
    }
  });
});

test('a matrix is taken apart into what makes it, mirrored ones as well', () => {
  const number = fc.double({ min: -3, max: 3, noNaN: true });
  const size = fc.double({ min: 0.2, max: 3, noNaN: true });
  fc.assert(
    fc.property(
      fc.tuple(number, number, number),
      fc.tuple(number, number, number, number).filter((q) => Math.hypot(...q) > 0.1),
      fc.tuple(size, size, size),
      fc.boolean(),
      (place, turn, [x, y, z], isMirrored) => {
        const matrix = matrixOf({ place, turn, size: [isMirrored ? -x : x, y, z] });
        matrixOf(takenApart(matrix)).forEach((value, i) => expect(value).toBeCloseTo(matrix[i]!, 6));
        times(matrix, inverseOf(matrix)!).forEach((value, i) =>
          expect(value).toBeCloseTo(i % 5 === 0 ? 1 : 0, 6),
        );
      },
    ),
  );
  expect(inverseOf(new Array<number>(16).fill(0))).toBeUndefined();
});

test('between two keys a turn takes the shorter way', () => {
  const track = {
    ...{ bone: 0, sort: 'turn' as const, times: Float32Array.of(0, 1) },
    values: Float32Array.of(0, 0, 0, 1, 0, -Math.SQRT1_2, 0, -Math.SQRT1_2),
  };
  expect(trackAt(track, 0.5)[1]).toBeCloseTo(Math.sin(Math.PI / 8), 5);
  expect(trackAt(track, -1)).toEqual([0, 0, 0, 1]);
  expect(trackAt(track, 9)[1]).toBeCloseTo(-Math.SQRT1_2, 5);
  const places = { ...track, sort: 'place' as const, values: Float32Array.of(0, 0, 0, 2, 4, 6) };
  expect(trackAt(places, 0.25)).toEqual([0.5, 1, 1.5]);
});

test('what no triangle has goes, and so do triangles that are lines', () => {
  const loose = part({
    places: Float32Array.of(9, 9, 9, 0, 0, 0, 1, 0, 0, 0, 2, 0),
    triangles: Uint32Array.of(1, 2, 3, 2, 2, 3),
    coordinates: [Float32Array.of(9, 9, 0, 0, 1, 0, 0, 1)],
  });
  const tidy = withoutUnused(withoutLines(loose));
  expect([...tidy.triangles]).toEqual([0, 1, 2]);
  expect([...tidy.places]).toEqual([0, 0, 0, 1, 0, 0, 0, 2, 0]);
  expect([...tidy.coordinates[0]!]).toEqual([0, 0, 1, 0, 0, 1]);
});
