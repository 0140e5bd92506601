import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { worded } from '@/core/fit';
import { WORDINGS } from '@/media/wording';
import { mediaScripts } from '@/core/testing/media-scripts';
import { nodePrimitives } from '@/platform/node/primitives';
import { fitForm } from '../fit/fit-form';
import { secondsOf, verticesOf, type Part } from '../form/form';
import { CORNERS, waving } from '@/media/testing/waving';
import { readOpenForm, writeOpenForm } from '../open/open-form';
import { openModel, type WrappedModel } from './wrapped-model';

const script = mediaScripts.get('waving')!;
const open = (bytes: Uint8Array): WrappedModel => openModel(script, bytes, 'a.wave', nodePrimitives);

const glad = waving({ glad: [[3, 0, 0.5, 0]], far: [] });
const movesOf = (part: Part, name: string): number[] =>
  [...part.morphs.find((morph) => morph.name === name)!.places].map((value) => Number(value.toFixed(3)) + 0);
const still = (z: number): number[] => CORNERS.flatMap(([x]) => [0, 0, z * x + 0]);

describe('other shapes of a mesh', () => {
  test('are read: those that list what moves, and frames that keep every place', () => {
    const [part] = open(glad).form.parts;
    expect(part!.morphs.map(({ name }) => name)).toEqual(['glad', 'far', 'still 0', 'still 1', 'still 2']);
    expect(movesOf(part!, 'glad')).toEqual([0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0.5, 0]);
    expect(movesOf(part!, 'far')).toEqual(Array(12).fill(0));
    expect(movesOf(part!, 'still 1')).toEqual(still(1));
    expect(movesOf(part!, 'still 2')).toEqual(still(-1));
    const [clip] = open(glad).form.clips;
    expect(clip).toMatchObject({ name: 'wave', rate: 10, frames: { first: 2, count: 3 }, tracks: [] });
    expect(secondsOf(clip!)).toBeCloseTo(0.2, 9);
  });

  test('given back as they are, not a byte is another', () => {
    const model = open(glad);
    expect(model.rewrap(model.form.parts)).toBe(glad);
    expect(model.rewrap([{ ...model.form.parts[0]!, morphs: [] }])).toBe(glad);
  });

  test('one that moves more is longer, the others stay; a second change goes on from the first', () => {
    const model = open(glad);
    const [part] = model.form.parts;
    const moved = Float32Array.of(0, 0, 0.25, 0, 0, 0, 0, 0, 0, 0, 0.5, 0);
    const made = model.rewrap([{ ...part!, morphs: [{ name: 'glad', places: moved }] }]);
    expect(made.length).toBe(glad.length + 8);
    const again = open(made);
    expect(movesOf(again.form.parts[0]!, 'glad')).toEqual([...moved]);
    expect(movesOf(again.form.parts[0]!, 'still 1')).toEqual(still(1));
    const none = { name: 'glad', places: new Float32Array(12) };
    const fewer = open(again.rewrap([{ ...again.form.parts[0]!, morphs: [none] }]));
    expect(movesOf(fewer.form.parts[0]!, 'glad')).toEqual(Array(12).fill(0));
  });

  test('where the model moves, frames move along and shapes stay what they are', () => {
    const model = open(glad);
    const [part] = model.form.parts;
    const places = part!.places.map((value, i) => (i % 3 === 1 ? value + 2 : value));
    const [made] = open(model.rewrap([{ ...part!, places, morphs: [] }])).form.parts;
    expect([...made!.places]).toEqual([...places]);
    for (const { name } of part!.morphs) expect(movesOf(made!, name)).toEqual(movesOf(part!, name));
  });

  test('with other vertices the shapes of these names are taken, and nothing moves in the others', () => {
    const [part] = open(glad).form.parts;
    const three: Part = {
      ...part!,
      places: part!.places.slice(0, 9),
      triangles: Uint32Array.of(0, 1, 2),
      morphs: [{ name: 'still 1', places: Float32Array.of(0, 0, 1, 0, 0, 2, 0, 0, 3) }],
    };
    const [made] = open(open(glad).rewrap([three])).form.parts;
    expect(verticesOf(made!)).toBe(3);
    expect(movesOf(made!, 'still 1')).toEqual([0, 0, 1, 0, 0, 2, 0, 0, 3]);
    expect(movesOf(made!, 'glad')).toEqual(Array(9).fill(0));
  });

  test('go out as glTF with the clip that goes through them, and come back', async () => {
    const { form } = open(glad);
    const glb = await writeOpenForm(form, 'glb');
    const back = await readOpenForm(glb, 'glb', 'a.glb');
    expect(back.bones).toEqual([]);
    expect(back.clips[0]).toMatchObject({ name: 'wave', rate: 10, frames: { first: 2, count: 3 } });
    for (const { name } of form.parts[0]!.morphs)
      expect(movesOf(back.parts[0]!, name)).toEqual(movesOf(form.parts[0]!, name));
    const fitted = await fitForm(open(glad), back, 'a.glb', new Set(), (bytes) => open(bytes).form);
    expect(fitted.bytes).toBe(glad);
  });

  test('one that was made larger in a 3D editor goes back into its slot, and nothing else changes', async () => {
    const form = await readOpenForm(await writeOpenForm(open(glad).form, 'glb'), 'glb', 'a.glb');
    const [part] = form.parts;
    const morphs = part!.morphs.map((morph) =>
      morph.name === 'glad' ? { ...morph, places: morph.places.map((value) => 2 * value) } : morph,
    );
    const glb = await writeOpenForm({ ...form, parts: [{ ...part!, morphs }] }, 'glb');
    const back = await readOpenForm(glb, 'glb', 'a.glb');
    const fitted = await fitForm(open(glad), back, 'a.glb', new Set(), (bytes) => open(bytes).form);
    expect(fitted.bytes).toEqual(waving({ glad: [[3, 0, 1, 0]], far: [] }));
  });

  test('what becomes of each is said', async () => {
    const { form } = open(glad);
    const [part] = form.parts;
    const said = async (given: Part): Promise<string[]> =>
      (
        await fitForm(
          open(glad),
          { ...form, parts: [given] },
          'a.glb',
          new Set(),
          (bytes) => open(bytes).form,
        )
      ).findings
        .map((finding) => worded(finding, WORDINGS))
        .filter(({ state }) => state === 'look')
        .map(({ what }) => what);
    const places = part!.places.map((value) => value * 1.1);
    const [, ...others] = part!.morphs;
    expect(await said({ ...part!, places, morphs: others })).toEqual([
      `${part!.name}: shapes that were not given stay as they were: glad`,
    ]);
    const less = { ...part!, places: part!.places.slice(0, 9), triangles: Uint32Array.of(0, 1, 2) };
    const shrug = { name: 'shrug', places: new Float32Array(9) };
    expect(await said({ ...less, morphs: [shrug] })).toEqual([
      `${part!.name}: shapes that were not given, in which nothing moves now: glad, far, still 0, still 1 and 1 more`,
      `${part!.name}: shapes that the slot has not are left out: shrug`,
    ]);
  });

  test('a vertex that there is not, other vertices and frames that there are not are told with their place', () => {
    expect(() => open(waving({ glad: [[4, 0, 0, 1]] }))).toThrow(/vertex below 4/);
    const short = glad.slice();
    // The second still has 12 bytes: two vertices.
    new DataView(short.buffer).setUint32(4 + 8 + 4 + 8 + 32 + 8 + 4, 12, true);
    expect(() => open(short)).toThrow(/stills\/1.*4 vertices/s);
    const many = glad.slice();
    new DataView(many.buffer).setUint16(8, 9, true);
    expect(() => open(many)).toThrow();
  });

  test('whatever moves comes out as it went in, to a thousandth', () =>
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: -30_000, max: 30_000 }), { minLength: 12, maxLength: 12 }),
        (thousandths) => {
          const model = open(glad);
          const places = Float32Array.from(thousandths, (value) => value / 1000);
          const [made] = open(model.rewrap([{ ...model.form.parts[0]!, morphs: [{ name: 'far', places }] }]))
            .form.parts;
          movesOf(made!, 'far').forEach((value, i) => expect(value).toBeCloseTo(thousandths[i]! / 1000, 3));
        },
      ),
      { numRuns: 30 },
    ));
});
