import { expect, test } from '@jest/globals';
import fs from 'node:fs';
import { worded } from '@/core/fit';
import type { Mend } from '@/core/fit';
import { parseScript } from '@/core/script';
import { WORDINGS } from '@/media/wording';
import { nodePrimitives } from '@/platform/node/primitives';
import { writeForm } from '../../../../../demo/world/forms/form-writer';
import { heronGaits } from '../../../../../demo/world/forms/gaits';
import { writeGaits } from '../../../../../demo/world/forms/gait-writer';
import { heron, heronBones } from '../../../../../demo/world/forms/heron';
import { lantern } from '../../../../../demo/world/forms/lantern';
import { hereFrom } from '../form/axes';
import { boxOf, type Form, type Part } from '../form/form';
import { readOpenForm, writeOpenForm } from '../open/open-form';
import { openModel } from '../wrapped/wrapped-model';
import { coarser } from './coarser';
import { fitForm } from './fit-form';

const script = parseScript(fs.readFileSync('scripts/formats/form-peatfire.yaml', 'utf8'));
const open = (bytes: Uint8Array) => openModel(script, bytes, 'a.form', nodePrimitives);
const bird = open(writeForm(heron()));
const lamp = open(writeForm(lantern()));

async function fit(
  slot: typeof bird,
  given: Form,
  ...mends: Mend[]
): Promise<{ said: string[]; form: Form | undefined }> {
  const { bytes, findings } = await fitForm(
    slot,
    given,
    'new.glb',
    new Set(mends),
    (made) => open(made).form,
  );
  return {
    said: findings.map((finding) => {
      const { state, what } = worded(finding, WORDINGS);
      return `${state}: ${what}`;
    }),
    form: bytes && open(bytes).form,
  };
}
const only = (form: Form, ...parts: Part[]): Form => ({ ...form, parts });
const moved = (part: Part, by: number): Part => ({ ...part, places: part.places.map((n) => n + by) });

test('what is as it was says so, part by part, and its bytes stay', async () => {
  const { said, form } = await fit(bird, bird.form);
  expect(said).toEqual([expect.stringMatching(/^fits: 11 parts as before: heron_body, heron_beak/)]);
  expect(form).toEqual(bird.form);
});

test('one part given: it comes in, the others stay on purpose, and its error is said', async () => {
  const crest = bird.form.parts.find(({ name }) => name === 'heron_crest')!;
  const { said, form } = await fit(bird, only(bird.form, moved(crest, 0.003)));
  expect(said).toEqual([
    'fits: heron_crest: 390 vertices, 588 triangles, was 390 vertices, 588 triangles',
    expect.stringMatching(/^look: not given, so the old ones stay: heron_body, .* and 5 more$/),
    'look: coarser levels are not given, so the old shape is seen from afar: heron_crest, level 1',
    expect.stringMatching(/^fits: read again: places at most 0\.0\d+ mm off$/),
  ]);
  expect(form!.parts[0]).toEqual(bird.form.parts[0]);
  expect(form!.parts[4]!.places[0]).toBeCloseTo(crest.places[0]! + 0.003, 4);
});

test('parts of no slot, bones that it has not, and nothing at all do not fit', async () => {
  const crest = bird.form.parts[4]!;
  expect((await fit(bird, only(bird.form, { ...crest, name: 'hat' }))).said).toContainEqual(
    'does not fit: no part of the slot is called so: hat',
  );
  const bones = bird.form.bones.map((bone) => (bone.name === 'crest_1' ? { ...bone, name: 'horn' } : bone));
  const { said, form } = await fit(bird, { ...only(bird.form, crest), bones });
  expect(said).toContainEqual('does not fit: heron_crest: bones that the slot has not: horn');
  expect(form).toBeUndefined();
  expect((await fit(bird, only(bird.form, { ...crest, triangles: new Uint32Array(0) }))).said).toEqual([
    'does not fit: new.glb has no triangles',
  ]);
  // As many as are missing, whatever they are called, come in their order.
  const other = lamp.form.parts.map((part, i) => ({ ...moved(part, 0.001), name: `Object.${i}`, level: 0 }));
  expect((await fit(lamp, only(lamp.form, ...other))).form).toBeDefined();
});

test('names are alike where only their spelling differs', async () => {
  const crest = moved(bird.form.parts[4]!, 0.002);
  const { said } = await fit(bird, only(bird.form, { ...crest, name: 'Heron Crest.001' }));
  expect(said[0]).toMatch(/^fits: heron_crest/);
});

test('without weights it hangs on one bone; without normals they are made', async () => {
  const crest = bird.form.parts[4]!;
  const bare = { ...moved(crest, 0.001), joints: undefined, weights: undefined, normals: undefined };
  const { said, form } = await fit(bird, only(bird.form, bare));
  expect(said).toContainEqual('look: heron_crest: nothing says which bones move it');
  expect(said).toContainEqual('look: heron_crest: normals made from its triangles');
  expect([...form!.parts[4]!.weights!.subarray(0, 4)]).toEqual([1, 0, 0, 0]);
  const made = form!.parts[4]!.normals!;
  expect(Math.hypot(made[0]!, made[1]!, made[2]!)).toBeCloseTo(1, 1);
});

test('clips come in by their names; those of no slot and bones without keys are said', async () => {
  const gaitScript = parseScript(fs.readFileSync('scripts/formats/gait-peatfire.yaml', 'utf8'));
  const { joints } = heronBones();
  const file = writeGaits(joints, heronGaits(joints));
  const gait = openModel(gaitScript, file, 'a.gait', nodePrimitives);
  const give = async (given: Form): Promise<string[]> => {
    const { findings } = await fitForm(gait, given, 'b.glb', new Set(), (made) => {
      return openModel(gaitScript, made, 'a.gait', nodePrimitives).form;
    });
    return findings.map((finding) => `${finding.state}: ${worded(finding, WORDINGS).what}`);
  };
  const again = await readOpenForm(await writeOpenForm(gait.form, 'glb'), 'glb', 'b.glb');
  expect(await give(again)).toEqual([expect.stringMatching(/^fits: 6 clips as before: walk, turn_left/)]);
  const [walk, ...rest] = gait.form.clips;
  const hum = { ...rest[0]!, name: 'hum' };
  const extra = {
    bone: 0,
    sort: 'size' as const,
    times: Float32Array.of(0),
    values: Float32Array.of(1, 1, 1),
  };
  const slower = walk!.tracks.map((track) => ({ ...track, times: track.times.map((at) => at * 2) }));
  const said = await give({ ...gait.form, clips: [{ ...walk!, tracks: [...slower, extra] }, hum] });
  expect(said).toEqual([
    'look: clip walk: moves bones that the slot keeps no keys for: root',
    'fits: clip walk: 3.13 s, was 1.57 s',
    'look: clips that the slot has not: hum',
  ]);
});

test('a model in centimetres is pointed out, and made as large as the slot on request', async () => {
  const large = hereFrom(only(lamp.form, ...lamp.form.parts), { up: 'y', isLeftHanded: false, unit: 100 });
  expect((await fit(lamp, large)).said).toContainEqual('look: 100 times larger than the original');
  const { said, form } = await fit(lamp, large, 'rescale');
  expect(said).toContainEqual('look: made 0.0100 times as large');
  expect(boxOf(form!.parts)!.high[1]).toBeCloseTo(boxOf(lamp.form.parts)!.high[1], 3);
});

test('a model that lies on its side is pointed out, and stood up on request', async () => {
  const lying = {
    ...lamp.form,
    parts: lamp.form.parts.map((part) => ({
      ...part,
      places: part.places.map((_, i) =>
        i % 3 === 1 ? -part.places[i + 1]! : i % 3 === 2 ? part.places[i - 1]! : part.places[i]!,
      ),
    })),
  };
  expect((await fit(lamp, lying)).said).toContainEqual('look: lies on its side: z is up in it');
  const { said, form } = await fit(lamp, lying, 'stand up');
  expect(said).toContainEqual('look: stood up');
  expect(boxOf(form!.parts)!.high[1]).toBeCloseTo(boxOf(lamp.form.parts)!.high[1], 3);
});

test('levels that were not given: the old shape stays and is said, or they are made, with how far they are off', async () => {
  const body = bird.form.parts.find(({ name, level }) => name === 'heron_body' && level === 0)!;
  const far = bird.form.parts.find(({ name, level }) => name === 'heron_body' && level === 1)!;
  const given = only(bird.form, moved(body, 0.01));
  const { said, form } = await fit(bird, given);
  expect(said).toContainEqual(
    'look: coarser levels are not given, so the old shape is seen from afar: heron_body, level 1',
  );
  expect(said.find((line) => line.includes('the old ones stay'))).not.toContain('heron_body');
  expect(form!.parts.find(({ name, level }) => name === 'heron_body' && level === 1)).toEqual(far);

  const mended = await fit(bird, given, 'make levels');
  expect(mended.said).toContainEqual(
    expect.stringMatching(
      /^fits: heron_body, level 1: made of the finest level, [\d,]+ triangles, its surface about [\d.]+ m?m off$/,
    ),
  );
  const made = mended.form!.parts.find(({ name, level }) => name === 'heron_body' && level === 1)!;
  const wanted = far.triangles.length;
  expect(Math.abs(made.triangles.length - wanted)).toBeLessThan(wanted * 0.1);
  // Every vertex is one of the finest level, with its weights.
  const corners = new Map<string, number>();
  const now = mended.form!.parts.find(({ name, level }) => name === 'heron_body' && level === 0)!;
  const spot = ({ places }: Part, i: number): string =>
    [...places.subarray(3 * i, 3 * i + 3)].map((n) => n.toFixed(3)).join();
  for (let i = 0; i < now.places.length / 3; i++) corners.set(spot(now, i), i);
  const near = Array.from({ length: made.places.length / 3 }, (_, i) => corners.has(spot(made, i)));
  expect(near.filter(Boolean).length).toBeGreaterThan(near.length * 0.9);
  // Given again with all its levels, nothing is lacking; as it was, nothing is said either.
  expect((await fit(bird, mended.form!, 'make levels')).said.join()).not.toContain('made of the finest');
  expect((await fit(bird, only(bird.form, body))).said.join()).not.toContain('coarser levels');
  // Nor of the same part whose bones are counted in another order.
  const order = bird.form.bones.map((_, i) => bird.form.bones.length - 1 - i);
  const turned = {
    ...only(bird.form, { ...body, joints: body.joints!.map((bone) => order[bone]!) }),
    bones: order.map((i) => ({ ...bird.form.bones[i]!, parent: -1 })),
  };
  expect((await fit(bird, turned)).said.join()).not.toContain('coarser levels');
});

test('made coarser, a part without normals and coordinates, of one triangle, and of none', async () => {
  const crest = bird.form.parts[4]!;
  const bare: Part = {
    ...crest,
    normals: undefined,
    coordinates: [],
    triangles: crest.triangles.slice(0, 90),
  };
  const half = await coarser(bare, 0.5);
  expect(half.part.triangles.length).toBeLessThanOrEqual(bare.triangles.length);
  expect(half.part.places.length / 3).toBeGreaterThan(Math.max(...half.part.triangles));
  expect(half.error).toBeGreaterThanOrEqual(0);
  for (const length of [3, 0]) {
    const few = await coarser({ ...crest, triangles: crest.triangles.slice(0, length) }, 0.1);
    expect(few.part.triangles.length).toBeLessThanOrEqual(length);
  }
});
