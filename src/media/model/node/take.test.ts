import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterAll, describe, expect, test } from '@jest/globals';
import sharp from 'sharp';
import { mediaScriptsOn } from '@/platform/node/media-scripts';
import { readShelf } from '@/platform/node/script-shelf';
import { writeForm } from '../../../../demo/world/forms/form-writer';
import { writeGaits } from '../../../../demo/world/forms/gait-writer';
import { heronGaits } from '../../../../demo/world/forms/gaits';
import { heron, heronBones } from '../../../../demo/world/forms/heron';
import { stemFor, TakeSettings } from '../core/take';
import type { MediaTools } from '@/media/medium';
import { unzipAll } from '@/platform/node/unzip-all';
import { prepareModel } from './fit';
import { takeModel, toldOfTake, type ToTake } from './take';
import { zipped } from './zipped';

/** A model as a file to keep, as others read it. */

const scripts = mediaScriptsOn(readShelf());
const bird = { bytes: new Uint8Array(writeForm(heron())), name: 'creatures/bog_heron/bog_heron.form' };
const { joints } = heronBones();
const gait = { bytes: new Uint8Array(writeGaits(joints, heronGaits(joints))), name: 'bog_heron.gait' };
const FOLDER = 'creatures/bog_heron';
const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-take-'));
afterAll(() => fs.rmSync(folder, { recursive: true }));

type Texel = readonly [number, number, number, number];

async function png(name: string, texel: (i: number) => Texel): Promise<ToTake['pictures'][number]> {
  const data = Uint8Array.from(Array.from({ length: 16 * 16 }, (_, i) => texel(i)).flat());
  const made = await sharp(data, { raw: { width: 16, height: 16, channels: 4 } })
    .png()
    .toBuffer();
  return { path: `${FOLDER}/${name}`, name: `${name}.png`, bytes: new Uint8Array(made) };
}
const taking = (given: object, pictures: ToTake['pictures'] = []): ToTake => ({
  ...bird,
  settings: TakeSettings.parse(given),
  other: gait,
  pictures,
});

interface Gltf {
  readonly materials: readonly {
    readonly name: string;
    readonly alphaMode?: string;
    readonly occlusionTexture?: { readonly index: number };
    readonly pbrMetallicRoughness?: {
      readonly metallicRoughnessTexture?: { readonly index: number };
      readonly baseColorTexture?: { readonly index: number };
    };
  }[];
  readonly animations?: readonly { readonly name: string }[];
  readonly textures?: readonly { readonly source: number }[];
  readonly images?: readonly { readonly bufferView: number }[];
  readonly bufferViews: readonly { readonly byteOffset?: number; readonly byteLength: number }[];
}
function glbOf(bytes: Uint8Array): { json: Gltf; binary: Buffer } {
  const file = Buffer.from(bytes);
  const length = file.readUInt32LE(12);
  return {
    json: JSON.parse(file.subarray(20, 20 + length).toString()) as Gltf,
    binary: file.subarray(28 + length),
  };
}
const materialOf = ({ materials }: Gltf, name: string) => materials.find((one) => one.name === name)!;

test('clips of another file go along; what is told is what another program counts', async () => {
  const settings = { leftMaterials: ['damage'], clips: ['walk', 'strike'] };
  const told = await toldOfTake(taking(settings), scripts);
  expect(told).toMatchObject({ parts: 5, missing: [], clips: [{ name: 'walk' }, { name: 'strike' }] });
  const made = await takeModel(taking(settings), scripts);
  expect(made.ending).toBe('glb');
  const file = path.join(folder, 'heron.glb');
  fs.writeFileSync(file, made.bytes);
  const said = execFileSync('assimp', ['info', file], { encoding: 'utf8' });
  expect(Number(/^Animations:\s+(\d+)/m.exec(said)![1])).toBe(2);
  expect(Number(/^Faces:\s+(\d+)/m.exec(said)![1])).toBe(told.triangles);
  expect(glbOf(made.bytes).json.materials.map(({ name }) => name)).not.toContain('damage');
});

test('thinned, it is smaller, and off by no more than was allowed', async () => {
  const whole = await takeModel(taking({}), scripts);
  const thin = taking({ thin: { place: 1, turn: 0.5 } });
  const { clips } = await toldOfTake(thin, scripts);
  for (const clip of clips) {
    expect(clip.keys).toBeLessThan(clip.keysBefore);
    expect(clip.place).toBeLessThanOrEqual(1);
    expect(clip.turn).toBeLessThanOrEqual(0.5 + 1e-4);
  }
  expect((await takeModel(thin, scripts)).bytes.length).toBeLessThan(whole.bytes.length - 10_000);
});

test('what is see-through stays so: as a hard edge, as a soft one, or not at all', async () => {
  const pictures = [
    await png('plumage_colour.sheet', () => [90, 90, 90, 255]),
    await png('horn_colour.sheet', (i) => [200, 120, 40, i % 3 === 0 ? 0 : 255]),
    await png('crest_colour.sheet', (i) => [20, 40, 60, i]),
  ];
  const { json } = glbOf((await takeModel(taking({}, pictures), scripts)).bytes);
  expect(materialOf(json, 'plumage').alphaMode).toBeUndefined();
  expect(materialOf(json, 'horn').alphaMode).toBe('MASK');
  expect(materialOf(json, 'crest').alphaMode).toBe('BLEND');
});

test('grey maps are put together as glTF wants them, and left out where nothing is said of them', async () => {
  const pictures = [await png('plumage_grey.sheet', (i) => [i, 200, 7, 255])];
  const silent = glbOf((await takeModel(taking({}, pictures), scripts)).bytes).json;
  expect(silent.images ?? []).toHaveLength(0);
  const greys = { red: { is: 'roughness' }, green: { is: 'shade', inverted: true } };
  const { json, binary } = glbOf((await takeModel(taking({ greys }, pictures), scripts)).bytes);
  const { occlusionTexture, pbrMetallicRoughness } = materialOf(json, 'plumage');
  expect(occlusionTexture!.index).toBe(pbrMetallicRoughness!.metallicRoughnessTexture!.index);
  const view = json.bufferViews[json.images![json.textures![occlusionTexture!.index]!.source]!.bufferView]!;
  const image = binary.subarray(view.byteOffset ?? 0, (view.byteOffset ?? 0) + view.byteLength);
  const texels = await sharp(image).raw().toBuffer();
  expect([...texels.subarray(0, 6)]).toEqual([55, 0, 0, 55, 1, 0]);
});

test('glTF with files beside it is a ZIP that another program opens; what is no picture is left out', async () => {
  const pictures = [
    await png('plumage_colour.sheet', () => [90, 90, 90, 255]),
    { path: `${FOLDER}/horn_colour.sheet`, name: 'horn_colour.sheet', bytes: Uint8Array.of(1, 2, 3) },
  ];
  const made = await takeModel(taking({ as: 'gltf' }, pictures), scripts);
  expect(made.ending).toBe('zip');
  fs.writeFileSync(path.join(folder, 'heron.zip'), made.bytes);
  execFileSync('unzip', ['-q', '-o', 'heron.zip', '-d', 'beside'], { cwd: folder });
  const said = execFileSync('assimp', ['info', 'beside/bog_heron.gltf'], { cwd: folder, encoding: 'utf8' });
  expect(said).toMatch(/^Faces:\s+16572/m);
  expect(fs.readdirSync(path.join(folder, 'beside')).filter((name) => name.endsWith('.png'))).toHaveLength(1);
});

test.each(['obj', 'ply', 'stl', '3mf'] as const)(
  'as %s without bones; with nothing left it says so',
  async (as) => {
    const made = await takeModel(taking({ as, finest: true }), scripts);
    const file = path.join(folder, `finest.${made.ending}`);
    fs.writeFileSync(file, made.bytes);
    expect(execFileSync('assimp', ['info', file], { encoding: 'utf8' })).toMatch(/^Faces:\s+13\d{3}$/m);
    const none = taking({ as, left: (await toldOfTake(taking({}), scripts)).names.slice() });
    await expect(takeModel(none, scripts)).rejects.toThrow(/nothing is left/);
  },
);

/** Two triangles of two materials that name no pictures. */
const BARE = `v 0 0 0
v 1 0 0
v 0 1 0
v 0 0 1
vt 0 0
vt 1 0
vt 0 1
usemtl wood
f 1/1 2/2 3/3
usemtl iron
f 1/1 2/2 4/3
`;

test('a picture that was put on by hand goes along, in the place of another and where none is named', async () => {
  const other = await png('plumage_colour.sheet', () => [10, 20, 30, 255]);
  const { json, binary } = glbOf((await takeModel(taking({}, [other]), scripts)).bytes);
  expect(materialOf(json, 'plumage').pbrMetallicRoughness?.baseColorTexture).toBeDefined();
  expect(binary.length).toBeGreaterThan(0);
  const bare = { ...taking({}), bytes: Buffer.from(BARE), name: 'hook.obj', other: undefined };
  const unnamed = { ...other, path: '#0' };
  const put = glbOf((await takeModel({ ...bare, pictures: [unnamed] }, scripts)).bytes).json;
  expect(put.materials.map(({ pbrMetallicRoughness: of }) => of?.baseColorTexture !== undefined)).toEqual([
    true,
    false,
  ]);
});

describe('a ZIP with a model comes back into its slot', () => {
  const give = async (bytes: Uint8Array, name = 'heron.zip') =>
    prepareModel({ ...bird, kind: 'model' }, { bytes, name }, new Set(), { scripts } as MediaTools);
  const files = async (): Promise<Map<string, Uint8Array>> =>
    unzipAll((await takeModel(taking({ as: 'gltf' }), scripts)).bytes, 'heron.zip');
  const again = (of: ReadonlyMap<string, Uint8Array>): Promise<Uint8Array> =>
    zipped([...of].map(([name, bytes]) => ({ path: name, bytes })));

  test('as it was taken out, also in a folder, and as a GLB', async () => {
    const made = await files();
    const inFolder = new Map([...made].map(([name, bytes]) => [`work/heron/${name}`, bytes]));
    const glb = new Map([['new.glb', (await takeModel(taking({}), scripts)).bytes]]);
    for (const one of [made, inFolder, glb]) {
      const prepared = await give(await again(one));
      expect(prepared!.bytes).toBeDefined();
      expect(prepared!.findings.filter(({ state }) => state === 'does not fit')).toEqual([]);
      expect(prepared!.findings.map(({ code }) => code)).toContain('model.unchanged');
    }
  });

  test.each<[string, (of: Map<string, Uint8Array>) => void, RegExp]>([
    [
      'none of its files',
      (of) => void of.delete([...of.keys()].find((name) => name.endsWith('.bin'))!),
      /given along/,
    ],
    [
      'less of it than it says',
      (of) => {
        const name = [...of.keys()].find((one) => one.endsWith('.bin'))!;
        of.set(name, of.get(name)!.subarray(0, 1000));
      },
      /byteLength/,
    ],
    [
      'no model',
      (of) => void [...of.keys()].forEach((name) => name.endsWith('.gltf') && of.delete(name)),
      /one model in it/,
    ],
    ['two models', (of) => void of.set('other.obj', Buffer.from(BARE)), /one model in it/],
  ])('with %s it is refused', async (_, change, said) => {
    const of = await files();
    change(of);
    await expect(give(await again(of))).rejects.toThrow(said);
  });

  test('cut short, it is refused', async () => {
    const bytes = await again(await files());
    await expect(give(bytes.subarray(0, bytes.length - 40))).rejects.toThrow(/ZIP file that is whole/);
  });
});

test.each([
  ['', 'props/boathook_fine.form', 'boathook_fine'],
  ['ibis', 'a/blouse.form', 'ibis'],
  ['ibis.glb', 'a/blouse.form', 'ibis'],
  ['Ibis.GLTF', 'a/blouse.form', 'Ibis'],
  ['ibis.form', 'a/blouse.form', 'ibis'],
  // Points that are part of the name stay.
  ['blouse v1.2', 'a/blouse.form', 'blouse v1.2'],
  ['../../etc/pass:wd', 'a/b.form', '_.._etc_pass_wd'],
  ['  . ', 'a/b.form', 'b'],
  ['.glb', 'a/b.form', 'b'],
  ['', 'a/.form', 'model'],
  ['\u00dcber\n\u202e', 'b.form', '\u00dcber_'],
])('called %j, the file of %s is %j', (called, of, stem) => {
  expect(stemFor(called, of)).toBe(stem);
});
