import { describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import zlib from 'node:zlib';
import { parseScript, type Script } from '@/core/script';
import { BytesBuilder } from '@/core/testing/bytes-builder';
import { mediaScripts } from '@/core/testing/media-scripts';
import { nodePrimitives } from '@/platform/node/primitives';
import { writeCarving } from '../../../../../demo/world/tallow/carving-writer';
import { cog } from '../../../../../demo/world/tallow/cog';
import { writeForm } from '../../../../../demo/world/forms/form-writer';
import { heronGaits } from '../../../../../demo/world/forms/gaits';
import { writeGaits } from '../../../../../demo/world/forms/gait-writer';
import { heron, heronBones } from '../../../../../demo/world/forms/heron';
import { lantern } from '../../../../../demo/world/forms/lantern';
import { standing } from '../form/turns';
import { boxOf, framesOf, secondsOf, verticesOf, type Part } from '../form/form';
import { openArchive } from '@/core/archive';
import { memorySource } from '@/core/bytes';
import { proveArchive } from '@/core/mod';
import { openModel, type WrappedModel } from './wrapped-model';

const scriptOf = (name: string): Script =>
  parseScript(fs.readFileSync(`scripts/formats/${name}.yaml`, 'utf8'));
const [formScript, gaitScript] = [scriptOf('form-peatfire'), scriptOf('gait-peatfire')];
const open = (script: Script, bytes: Uint8Array): WrappedModel =>
  openModel(script, bytes, 'a.form', nodePrimitives);
const farthest = (a: Float32Array, b: Float32Array): number => {
  expect(a.length).toBe(b.length);
  return a.reduce((most, value, i) => Math.max(most, Math.abs(value - b[i]!)), 0);
};
/** A part with every place moved away from the middle. */
const grown = (part: Part, by: number): Part => ({ ...part, places: part.places.map((value) => value * by) });

describe('a form of Lanternfen', () => {
  const drawn = heron();
  const bytes = writeForm(drawn);
  const model = open(formScript, bytes);

  test('is as it was drawn: upright, in metres, with its bones where they stand', () => {
    expect(model.form.parts.map(({ name, level }) => `${name} ${level}`)).toEqual(
      drawn.meshes.map(({ name, level }) => `${name} ${level}`),
    );
    drawn.meshes.forEach((mesh, i) => {
      const part = model.form.parts[i]!;
      expect(
        farthest(part.places, Float32Array.from(mesh.corners.flatMap(({ place }) => [...place]))),
      ).toBeLessThan(1e-4);
      expect([...part.triangles]).toEqual(mesh.triangles);
      expect(part.weights!.reduce((sum, weight) => sum + weight, 0)).toBeCloseTo(verticesOf(part), 1);
    });
    expect(model.form.bones.map(({ name }) => name)).toEqual(drawn.joints.map(({ name }) => name));
    const stand = standing(model.form.bones);
    const head = drawn.joints.findIndex(({ name }) => name === 'head');
    expect(stand[head]!.slice(12, 15).map((n) => Number(n.toFixed(3)))).toEqual([0, 2.96, 0.68]);
    expect(model.form.materials[0]!.pictures).toEqual({
      colour: 'creatures/bog_heron/plumage_colour.sheet',
      normal: 'creatures/bog_heron/plumage_normal.sheet',
      grey: 'creatures/bog_heron/plumage_grey.sheet',
    });
  });

  test('its fronts are in front: normals and turns of triangles agree', () => {
    let [agree, all] = [0, 0];
    for (const { places, normals, triangles } of model.form.parts)
      for (let t = 0; t < triangles.length; t += 3) {
        const [a, b, c] = [0, 1, 2].map((k) => [0, 1, 2].map((i) => places[3 * triangles[t + k]! + i]!)) as [
          number[],
          number[],
          number[],
        ];
        const [u, v] = [b.map((n, i) => n - a[i]!), c.map((n, i) => n - a[i]!)] as [number[], number[]];
        const cross = [
          u[1]! * v[2]! - u[2]! * v[1]!,
          u[2]! * v[0]! - u[0]! * v[2]!,
          u[0]! * v[1]! - u[1]! * v[0]!,
        ];
        const normal = [0, 1, 2].map((i) => normals![3 * triangles[t]! + i]!);
        const dot = cross.reduce((sum, n, i) => sum + n * normal[i]!, 0);
        if (Math.hypot(...cross) < 1e-9) continue;
        all++;
        if (dot > 0) agree++;
      }
    expect(agree / all).toBeGreaterThan(0.97);
  });

  test('given back as it is, not a byte is another', () => {
    expect(model.rewrap(model.form.parts)).toBe(bytes);
    expect(model.rewrap([])).toBe(bytes);
  });

  test('one vertex moved changes that vertex, its part and the check, and nothing else', () => {
    const places = model.form.parts[0]!.places.slice();
    places[1]! += 0.01;
    const made = model.rewrap([{ ...model.form.parts[0]!, places }]);
    expect(made.length).toBe(bytes.length);
    const other = [...made].flatMap((byte, i) => (byte === bytes[i] ? [] : [i]));
    expect(other.length).toBeLessThan(4 + 6);
    const again = open(formScript, made);
    expect(again.form.parts[0]!.places[1]).toBeCloseTo(places[1]!, 4);
    expect([...again.form.parts[1]!.places]).toEqual([...model.form.parts[1]!.places]);
  });

  test('what outgrows its box gets a larger one, shorter and longer ones as well', () => {
    const [first] = model.form.parts;
    const half = { ...grown(first!, 3), triangles: first!.triangles.slice(0, 300) };
    const made = open(formScript, model.rewrap([half]));
    expect(farthest(made.form.parts[0]!.places, half.places)).toBeLessThan(2e-4);
    expect(made.form.parts[0]!.triangles.length).toBe(300);
    const places = Float32Array.from([...first!.places, 9, 9, 9, 8, 9, 9, 9, 8, 9]);
    const more = (values: Float32Array, each: number): Float32Array =>
      Float32Array.from([...values, ...values.subarray(0, 3 * each)]);
    const longer: Part = {
      ...first!,
      places,
      normals: more(first!.normals!, 3),
      weights: more(first!.weights!, 4),
      joints: Uint16Array.from([...first!.joints!, ...first!.joints!.subarray(0, 12)]),
      coordinates: [more(first!.coordinates[0]!, 2)],
      triangles: Uint32Array.from([
        ...first!.triangles,
        places.length / 3 - 3,
        places.length / 3 - 2,
        places.length / 3 - 1,
      ]),
    };
    const twice = open(formScript, made.rewrap([longer]));
    expect(verticesOf(twice.form.parts[0]!)).toBe(places.length / 3);
    expect(boxOf([twice.form.parts[0]!])!.high[0]).toBeCloseTo(9, 3);
    // Asked again it gives the same: nothing of one answer is left in the next.
    expect(model.rewrap([half])).toEqual(model.rewrap([half]));
    expect(model.rewrap([grown(first!, 1.001)])).toEqual(
      open(formScript, bytes).rewrap([grown(first!, 1.001)]),
    );
    // And back to the first: what is kept in steps is as near as a step of its box.
    expect(
      farthest(open(formScript, twice.rewrap([first])).form.parts[0]!.places, first!.places),
    ).toBeLessThan(1e-4);
  });

  test('more vertices than its corners can tell apart are refused', () => {
    const count = 70_000;
    const part: Part = {
      ...model.form.parts[0]!,
      ...flat(count),
      triangles: Uint32Array.of(0, 1, count - 1),
    };
    expect(() => model.rewrap([part])).toThrow(/at most 65536 vertices/);
  });

  test('a form without bones keeps none', () => {
    const still = open(formScript, writeForm(lantern()));
    expect(still.form.bones).toEqual([]);
    expect(still.form.parts[0]!.weights).toBeDefined();
  });

  test.each([
    ['cut', (of: Uint8Array) => of.subarray(0, 5000)],
    ['a corner outside', (of: Uint8Array) => with16(of, of.length - 100, 60_000)],
    ['a part of no mesh', (of: Uint8Array) => with16(of, find(of, 'heron_body') + 28, 99)],
    ['a bone on itself', (of: Uint8Array) => with16(of, find(of, 'neck_2') + 24, 4)],
  ])('damaged (%s) is refused in words', (_what, damage) => {
    expect(() => open(formScript, checked(damage(bytes.slice())))).toThrow(/a\.form/);
  });
});

const flat = (count: number): Pick<Part, 'places' | 'normals' | 'weights' | 'joints' | 'coordinates'> => ({
  places: new Float32Array(3 * count),
  normals: new Float32Array(3 * count),
  weights: new Float32Array(4 * count),
  joints: new Uint16Array(4 * count),
  coordinates: [new Float32Array(2 * count)],
});
const find = (bytes: Uint8Array, text: string): number => Buffer.from(bytes).indexOf(text);
function with16(bytes: Uint8Array, at: number, value: number): Uint8Array {
  new DataView(bytes.buffer, bytes.byteOffset).setUint16(at, value, true);
  return bytes;
}
/** With the check of the head made right, so that what is behind it is looked at. */
function checked(bytes: Uint8Array): Uint8Array {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  view.setUint32(16, zlib.crc32(bytes.subarray(64)), true);
  return bytes;
}

describe('gaits of Lanternfen', () => {
  const { joints } = heronBones();
  const bytes = writeGaits(joints, heronGaits(joints));
  const model = open(gaitScript, bytes);

  test('are clips in groups with frames and a rate, for bones by their names', () => {
    expect(model.form.parts).toEqual([]);
    expect(
      model.form.clips.map((clip) => `${clip.group} ${clip.name} ${framesOf(clip)} ${clip.isLoop}`),
    ).toEqual([
      ...['move walk 48 true', 'move turn_left 36 false', 'move turn_right 36 false'],
      ...['fight strike 28 false', 'wait idle 90 true', 'wait preen 120 true'],
    ]);
    expect(secondsOf(model.form.clips[0]!)).toBeCloseTo(47 / 30, 5);
    const [turn] = model.form.clips[1]!.tracks;
    expect(model.form.bones[turn!.bone]!.name).toBe('leg_left_1');
    expect(Math.hypot(...turn!.values.subarray(0, 4))).toBeCloseTo(1, 4);
  });

  test('turns are those that were made, through a space that mirrors them', () => {
    const wanted = heronGaits(joints)[1]!.tracks;
    model.form.clips[1]!.tracks.forEach(({ values, bone }, i) => {
      expect(bone).toBe(wanted[i]!.bone);
      wanted[i]!.turns!.forEach((turn, frame) => {
        const dot = turn.reduce((sum, n, k) => sum + n * values[4 * frame + k]!, 0);
        expect(Math.abs(dot)).toBeGreaterThan(0.999_99);
      });
    });
  });

  test('a clip comes back longer, and the others keep their keys', () => {
    const [walk] = model.form.clips;
    expect(model.rewrap([], model.form.clips)).toBe(bytes);
    const longer = {
      ...walk!,
      tracks: walk!.tracks.map((track) =>
        track.sort === 'turn'
          ? {
              ...track,
              times: Float32Array.from([...track.times, 2]),
              values: Float32Array.from([...track.values, 0, 0, 0, 1]),
            }
          : track,
      ),
    };
    const made = open(gaitScript, model.rewrap([], [longer]));
    expect(secondsOf(made.form.clips[0]!)).toBe(2);
    expect(made.form.clips[3]!.tracks.map(({ values }) => [...values])).toEqual(
      model.form.clips[3]!.tracks.map(({ values }) => [...values]),
    );
  });
});

test('scripts of forms and gaits hold their proofs: whole items longer, shorter, none', () => {
  const { joints } = heronBones();
  for (const [script, bytes] of [
    [formScript, writeForm(lantern())],
    [gaitScript, writeGaits(joints, heronGaits(joints).slice(1, 2))],
  ] as const) {
    const options = { primitives: nodePrimitives };
    const archive = openArchive(script, memorySource(bytes, 'a'), options);
    const { claims } = proveArchive(archive, options);
    expect(claims.filter(({ holds }) => !holds)).toEqual([]);
    expect(claims.at(-1)!.detail).toMatch(/^\d+ trials right/);
  }
});

/** Two triangles and a square, as docs/media-scripts.md describes it; put together by hand. */
function figurehead(): Uint8Array {
  const half: Readonly<Record<number, number>> = { 0: 0, 1: 0x3c00, 0.5: 0x3800 };
  const out = new BytesBuilder(false).raw('FIGH').number(2, 2).number(2, 2).number(7, 4).number(224, 4);
  const float = (value: number): Uint8Array => {
    const bytes = new Uint8Array(4);
    new DataView(bytes.buffer).setFloat32(0, value);
    return bytes;
  };
  out.raw(float(0.25));
  for (const [name, from, corners, base, paint, level] of [
    ['mast', 0, 4, 0, -1, 0],
    ['flag', 4, 3, 4, 0, 0],
  ] as const)
    out
      .padded(name, 12)
      .number(from, 4)
      .number(corners, 4)
      .number(base, 4)
      .number(paint & 0xffff, 2)
      .number(level, 2);
  for (const [name, on, height] of [
    ['keel', 0xffff, 0],
    ['top', 0, 4],
  ] as const) {
    out.padded(name, 8).number(on, 2).number(0, 2);
    for (const value of [1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, height]) out.raw(float(value));
  }
  out.number(364, 4).number(7, 4);
  out.padded('wave', 8).number(10, 2).number(1, 2).number(372, 4).number(2, 4);
  expect(out.length).toBe(224);
  const vertices = [
    [0, 0, 0],
    [4, 0, 0],
    [0, 0, 8],
    [4, 0, 8],
    [0, 4, 0],
    [8, 4, 0],
    [0, 4, 4],
  ];
  vertices.forEach(([x, y, z], i) => {
    for (const n of [x!, y!, z!]) out.number(n & 0xffff, 2);
    out
      .number(0, 1)
      .number(0x81, 1)
      .number(half[i % 2]!, 2)
      .number(half[0.5]!, 2);
    out
      .raw(Uint8Array.of(255, 1, 2, 3))
      .raw(Uint8Array.of(0, 1))
      .number(i < 4 ? 255 : 51, 1)
      .number(0, 1);
  });
  out.raw(Uint8Array.of(0, 1, 2, 3, 0, 1, 2, 0));
  for (const [x, y, z] of [
    [0, 0, 4],
    [1, 0, 4],
  ])
    for (const n of [x!, y!, z!]) out.raw(float(n));
  return out.bytes();
}

describe('an older form, big-endian, in strips, with several parts in one mesh', () => {
  const script = mediaScripts.get('figurehead')!;
  const bytes = figurehead();
  const model = open(script, bytes);

  test('is read: places scaled and turned up, texture rows from below, the last weight what is missing', () => {
    const [mast, flag] = model.form.parts;
    expect([mast!.name, mast!.material, flag!.material]).toEqual(['mast', -1, -1]);
    expect([...mast!.places]).toEqual([0, 0, -0, 0.5, 0, -0, 0, 1, -0, 0.5, 1, -0].map((n) => n + 0));
    expect([...mast!.triangles]).toEqual([0, 1, 2, 2, 1, 3]);
    expect([...flag!.places]).toEqual([0, 0, -0.5, 1, 0, -0.5, 0, 0.5, -0.5]);
    expect([...flag!.triangles]).toEqual([0, 1, 2]);
    expect([...mast!.normals!.subarray(0, 3)].map((n) => Number(n.toFixed(2)))).toEqual([0, 0, 1]);
    expect([...mast!.coordinates[0]!.subarray(0, 4)]).toEqual([0, 0.5, 1, 0.5]);
    expect([...mast!.colours!.subarray(0, 4)].map((n) => Math.round(n * 255))).toEqual([3, 2, 1, 255]);
    expect([...flag!.weights!.subarray(0, 4)].map((n) => Number(n.toFixed(2)))).toEqual([0.2, 0.8, 0, 0]);
    expect([...flag!.joints!.subarray(0, 2)]).toEqual([0, 1]);
  });

  test('bones in terms of the model hang on each other', () => {
    const [keel, top] = model.form.bones;
    expect([keel!.parent, top!.parent]).toEqual([-1, 0]);
    expect(top!.place.map((n) => n + 0)).toEqual([0, 2, 0]);
    expect(framesOf(model.form.clips[0]!)).toBe(2);
    expect([...model.form.clips[0]!.tracks[0]!.values]).toEqual([0, 2, 0, 0.5, 2, 0]);
  });

  test('a part of more triangles moves the one behind it, in rows that are carried', () => {
    const [mast, flag] = model.form.parts;
    const tall: Part = {
      ...mast!,
      ...flat(5),
      places: Float32Array.from([...mast!.places, 0.25, 2, 0]),
      triangles: Uint32Array.of(0, 1, 2, 2, 1, 3, 2, 3, 4, 4, 4, 1),
      colours: undefined,
    };
    const made = open(script, model.rewrap([tall]));
    expect([...made.form.parts[0]!.places]).toEqual([...tall.places]);
    // What has no surface is not drawn by strips, and is not written.
    expect(made.form.parts[0]!.triangles.length).toBe(9);
    expect([...made.form.parts[1]!.places]).toEqual([...flag!.places]);
    expect([...made.form.parts[1]!.triangles]).toEqual([...flag!.triangles]);
    expect([...made.form.parts[1]!.weights!]).toEqual([...flag!.weights!]);
    const back = open(script, made.rewrap([mast]));
    expect([...back.form.parts[0]!.triangles]).toEqual([...mast!.triangles]);
  });

  test('places between its steps come to the nearest, those beyond are refused', () => {
    const [mast] = model.form.parts;
    const made = open(script, model.rewrap([{ ...mast!, places: mast!.places.map((n) => n + 0.01) }]));
    expect(made.form.parts[0]!.places[0]).toBe(0);
    expect(() => model.rewrap([grown(mast!, 10_000)])).toThrow(/parts\[mast\].place.*-32768 to 32767/);
  });

  test('rows without end over one mesh are given up before they are gone through', () => {
    const [rows, vertices] = [60_000, 20_000];
    const start = 20 + rows * 28 + 8 + 20;
    const out = new BytesBuilder(false).raw('FIGH').number(rows, 2).number(0, 2).number(vertices, 4);
    out
      .number(start, 4)
      .raw(Uint8Array.of(0x3f, 0x80, 0, 0))
      .raw(new Uint8Array(rows * 28));
    out
      .number(start + vertices * 20, 4)
      .number(0, 4)
      .padded('wave', 8)
      .number(10, 2)
      .number(0, 2);
    out
      .number(start + vertices * 20, 4)
      .number(0, 4)
      .raw(new Uint8Array(vertices * 20));
    expect(() => open(script, out.bytes())).toThrow(/steps|more than may be used/);
  });
});

describe('the carving of Tallow & Tide: strips that begin anew, parts on one list of vertices, whole centimetres', () => {
  const script = parseScript(fs.readFileSync('scripts/formats/carving-harbour.yaml', 'utf8'));
  const meshes = cog();
  const woods = [
    { name: 'timber', picture: 'ships/cog_timber.print' },
    { name: 'sailcloth', picture: '' },
  ];
  const bytes = writeCarving(meshes, woods);
  const model = open(script, bytes);
  const spot = (at: readonly number[]): string => at.map((n) => Math.round(n * 100)).join();
  const round = (corners: readonly string[]): string => {
    const first = corners.indexOf([...corners].sort()[0]!);
    return [...corners.slice(first), ...corners.slice(0, first)].join(' ');
  };
  const inThrees = (corners: readonly string[]): string[] =>
    Array.from({ length: corners.length / 3 }, (_, k) => round(corners.slice(3 * k, 3 * k + 3)))
      // Those whose corners fall together have no surface.
      .filter((one) => new Set(one.split(' ')).size === 3)
      .sort();
  const drawnBy = ({ triangles, places }: Part): string[] =>
    inThrees([...triangles].map((corner) => spot([...places.subarray(3 * corner, 3 * corner + 3)])));

  test('is read as it was drawn, triangle by triangle', () => {
    const { parts, materials } = model.form;
    expect(parts.map(({ name, material }) => [name, material])).toEqual([
      ['hull', 0],
      ['mast', 0],
      ['sail', 1],
    ]);
    expect(materials.map(({ pictures }) => pictures.colour)).toEqual(['ships/cog_timber.print', undefined]);
    for (const [i, mesh] of meshes.entries()) {
      const part = parts[i]!;
      const drawn = inThrees(mesh.triangles.map((corner) => spot(mesh.corners[corner]!.place)));
      expect(drawnBy(part)).toEqual(drawn);
    }
  });

  test('is proved, and written anew with a part of another shape', () => {
    const archive = openArchive(script, memorySource(bytes, 'a'), { primitives: nodePrimitives });
    const { claims } = proveArchive(archive, { primitives: nodePrimitives });
    expect(claims.filter(({ holds }) => !holds)).toEqual([]);
    const [, mast] = model.form.parts;
    const square: Part = {
      ...mast!,
      places: Float32Array.of(0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0),
      normals: Float32Array.of(0, 0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1),
      coordinates: [Float32Array.of(0, 0, 1, 0, 1, 1, 0, 1)],
      triangles: Uint32Array.of(0, 1, 2, 0, 2, 3),
    };
    const made = open(script, model.rewrap([undefined, square, undefined])).form;
    expect([...made.parts[1]!.places].map((n) => Number(n.toFixed(2)) + 0)).toEqual([...square.places]);
    for (const i of [0, 2]) expect(drawnBy(made.parts[i]!)).toEqual(drawnBy(model.form.parts[i]!));
  });
});
