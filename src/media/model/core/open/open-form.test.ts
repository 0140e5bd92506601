import { afterAll, describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { boxOf, EMPTY_FORM, secondsOf, type Form, type Part } from '../form/form';
import { standing } from '../form/turns';
import { openEnding, readOpenForm, writeOpenForm, type ReadEnding, type WriteEnding } from './open-form';
import { withNormals, withTangents } from './with-three';

const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-models-'));
afterAll(() => fs.rmSync(folder, { recursive: true }));

/** A pyramid on a square, and a flag that two bones move. */
function pyramid(): Form {
  const places = Float32Array.of(0, 0, 0, 2, 0, 0, 2, 0, 2, 0, 0, 2, 1, 3, 1);
  const flag: Part = {
    ...{
      name: 'flag',
      level: 1,
      material: 1,
      morphs: [{ name: 'blown', places: Float32Array.of(0, 0, 0, 0, 0, 1, 0, 0, 2) }],
    },
    places: Float32Array.of(1, 3, 1, 2, 3, 1, 1, 4, 1),
    normals: Float32Array.of(0, 0, 1, 0, 0, 1, 0, 0, 1),
    coordinates: [Float32Array.of(0, 0.25, 1, 0.25, 0, 1)],
    colours: Float32Array.of(1, 0, 0, 1, 0, 1, 0, 1, 0, 0, 1, 1),
    joints: Uint16Array.of(0, 1, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0),
    weights: Float32Array.of(0.5, 0.5, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0),
    triangles: Uint32Array.of(0, 1, 2),
  };
  const body: Part = {
    ...{ name: 'body', level: 0, material: 0, coordinates: [], morphs: [], places },
    triangles: Uint32Array.of(0, 1, 2, 0, 2, 3, 4, 1, 0, 4, 2, 1, 4, 3, 2, 4, 0, 3),
  };
  return {
    parts: [body, flag],
    materials: [
      {
        name: 'stone',
        colour: [0.5, 0.25, 1, 1],
        pictures: { colour: 'stone/colour.sheet', mask: 'stone/mask.sheet' },
        isTwoSided: false,
      },
      { name: 'cloth', colour: [1, 1, 1, 1], pictures: {}, isTwoSided: true },
    ],
    bones: [
      { name: 'pole', parent: -1, place: [1, 0, 1], turn: [0, 0, 0, 1], size: [1, 1, 1] },
      { name: 'tip', parent: 0, place: [0, 3, 0], turn: [0, Math.SQRT1_2, 0, Math.SQRT1_2], size: [1, 1, 1] },
    ],
    clips: [
      {
        ...{ name: 'wave', group: 'wind', rate: 10, isLoop: true },
        tracks: [
          {
            bone: 1,
            sort: 'turn',
            times: Float32Array.of(0, 0.5),
            values: Float32Array.of(0, 0, 0, 1, 0, 1, 0, 0),
          },
          {
            bone: 0,
            sort: 'place',
            times: Float32Array.of(0, 1.5),
            values: Float32Array.of(1, 0, 1, 1, 1, 1),
          },
        ],
      },
    ],
  };
}

interface Told {
  vertices: number;
  faces: number;
  bones: number;
  clips: number;
  low: string;
  high: string;
}
/** What another program tells of a file. */
function told(name: string, bytes: Uint8Array): Told {
  const file = path.join(folder, name);
  fs.writeFileSync(file, bytes);
  const said = execFileSync('assimp', ['info', file], { encoding: 'utf8' });
  const number = (of: string): number => Number(new RegExp(`^${of}:\\s+(\\d+)`, 'm').exec(said)?.[1]);
  const point = (of: string): string => new RegExp(`^${of} point\\s+\\((.*)\\)`, 'm').exec(said)?.[1] ?? '';
  return {
    ...{
      vertices: number('Vertices'),
      faces: number('Faces'),
      bones: number('Bones'),
      clips: number('Animations'),
    },
    ...{ low: point('Minimum'), high: point('Maximum') },
  };
}

test('GLB: everything comes back, and another program sees the same', async () => {
  const form = pyramid();
  const made = await writeOpenForm(form, 'glb');
  expect(told('a.glb', made)).toMatchObject({
    vertices: 8,
    faces: 7,
    bones: 2,
    clips: 1,
    low: '0.000000 0.000000 0.000000',
    high: '2.000000 4.000000 2.000000',
  });
  const back = await readOpenForm(made, 'glb', 'a.glb');
  expect(back.bones.map((bone) => ({ ...bone, inverse: undefined }))).toEqual(form.bones);
  expect({ ...back, bones: form.bones }).toEqual(form);
  expect(standing(back.bones)[1]!.slice(12, 15)).toEqual([1, 3, 1]);
  expect(secondsOf(back.clips[0]!)).toBe(1.5);
});

test('GLB takes the pictures that are given, by the paths of materials', async () => {
  const png = Uint8Array.from(
    Buffer.from(
      'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
      'base64',
    ),
  );
  const made = await writeOpenForm(pyramid(), 'glb', (wanted) =>
    wanted === 'stone/colour.sheet' ? { bytes: png, type: 'image/png' } : undefined,
  );
  expect(Buffer.from(made).includes(Buffer.from(png))).toBe(true);
  expect(Buffer.from(made).includes('"stone/colour.sheet"')).toBe(true);
  expect((await readOpenForm(made, 'glb', 'a')).materials[0]!.pictures).toEqual({
    colour: 'stone/colour.sheet',
    mask: 'stone/mask.sheet',
  });
});

test.each<[WriteEnding, number]>([
  ['obj', 2],
  ['ply', 1],
  ['stl', 1],
])('%s: triangles and box come back, and another program sees them', async (ending, parts) => {
  const form = pyramid();
  const made = await writeOpenForm(form, ending);
  expect(told(`a.${ending}`, made)).toMatchObject({
    faces: 7,
    low: '0.000000 0.000000 0.000000',
    high: '2.000000 4.000000 2.000000',
  });
  const back = await readOpenForm(made, ending as ReadEnding, `a.${ending}`);
  expect(back.parts.length).toBe(parts);
  expect(back.parts.reduce((sum, { triangles }) => sum + triangles.length / 3, 0)).toBe(7);
  expect(boxOf(back.parts)).toEqual(boxOf(form.parts));
  if (ending === 'obj') {
    expect(back.parts.map(({ name, material }) => `${name} ${back.materials[material]?.name}`)).toEqual([
      'body stone',
      'flag cloth',
    ]);
    expect([...back.parts[1]!.coordinates[0]!]).toEqual([0, 0.25, 1, 0.25, 0, 1]);
  }
});

describe('files of other programs', () => {
  test('OBJ with faces of four corners, several materials in an object and counts from the end', async () => {
    const text =
      'o crate\nv 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nusemtl wood\nf 1 2 3 4\nusemtl iron\nf -4 -3 -2\n';
    const { parts, materials } = await readOpenForm(new TextEncoder().encode(text), 'obj', 'a.obj');
    expect(
      parts.map(
        ({ name, triangles, material }) => `${name} ${triangles.length / 3} ${materials[material]!.name}`,
      ),
    ).toEqual(['crate 2 wood', 'crate 1 iron']);
  });

  test.each(['ply', 'stl', 'obj', 'glb'])(
    'what another program writes as %s has the same box',
    async (ending) => {
      fs.writeFileSync(path.join(folder, 'in.obj'), await writeOpenForm(pyramid(), 'obj'));
      execFileSync('assimp', ['export', path.join(folder, 'in.obj'), path.join(folder, `out.${ending}`)], {
        stdio: 'ignore',
      });
      const back = await readOpenForm(
        new Uint8Array(fs.readFileSync(path.join(folder, `out.${ending}`))),
        ending as ReadEnding,
        'x',
      );
      expect(boxOf(back.parts)).toEqual(boxOf(pyramid().parts));
      expect(back.parts.reduce((sum, { triangles }) => sum + triangles.length / 3, 0)).toBe(7);
    },
  );

  test('nodes put what hangs on them in its place, mirrored ones turned over', async () => {
    const document = await asJson(
      await writeOpenForm({ ...EMPTY_FORM, parts: [pyramid().parts[0]!] }, 'glb'),
    );
    document.nodes = [
      { name: 'holder', translation: [5, 0, 0], scale: [-2, 2, 2], children: [1] },
      { ...document.nodes![0] },
    ];
    document.scenes = [{ nodes: [0] }];
    const back = await readOpenForm(asGltf(document), 'gltf', 'a.gltf');
    expect(boxOf(back.parts)).toEqual({ low: [1, 0, 0], high: [5, 6, 4] });
    expect([...back.parts[0]!.triangles.subarray(0, 3)]).toEqual([0, 2, 1]);
  });
});

/** A part of some thousand vertices. */
const wide = (): Form => ({
  ...EMPTY_FORM,
  parts: [{ ...pyramid().parts[0]!, places: new Float32Array(6000), triangles: new Uint32Array(3) }],
});

type Json = Record<string, unknown> & {
  nodes?: Record<string, unknown>[];
  scenes?: unknown;
  buffers: { uri?: string; byteLength: number }[];
  bufferViews: { byteLength: number }[];
  accessors: { count: number; type: string }[];
};

/** The document of a GLB with its bytes in an address of its own. */
async function asJson(glb: Uint8Array): Promise<Json> {
  const view = new DataView(glb.buffer, glb.byteOffset);
  const length = view.getUint32(12, true);
  const json = JSON.parse(new TextDecoder().decode(glb.subarray(20, 20 + length))) as Json;
  const bin = glb.subarray(28 + length);
  json.buffers[0]!.uri = `data:application/octet-stream;base64,${Buffer.from(bin).toString('base64')}`;
  return Promise.resolve(json);
}
const asGltf = (json: unknown): Uint8Array => new TextEncoder().encode(JSON.stringify(json));

describe('glTF that claims what it has not is refused in words, before anything is made of it', () => {
  test.each<[string, (json: Json) => void, RegExp]>([
    ['more items than bytes', (json) => void (json.accessors[0]!.count = 2 ** 31), /accessors\[0\]/],
    [
      'zeros without end',
      (json) => json.accessors.push({ count: 2e9, type: 'SCALAR', componentType: 5126 } as never),
      /items/,
    ],
    ['a view beyond its bytes', (json) => void (json.bufferViews[0]!.byteLength = 1e9), /bufferViews\[0\]/],
    [
      'bytes of a network',
      (json) => void (json.buffers[0]!.uri = 'https://example.invalid/a.bin'),
      /within this file/,
    ],
    ['bytes of a file above', (json) => void (json.buffers[0]!.uri = '../../etc/passwd'), /within this file/],
    ['nodes in a ring', (json) => void (json.nodes = [{ children: [1] }, { children: [0] }]), /nodes\[/],
    ['a node of two', (json) => void (json.nodes = [{ children: [2] }, { children: [2] }, {}]), /nodes\[1\]/],
    ['a type that there is not', (json) => void (json.accessors[0]!.type = 'VEC9'), /accessors\[0\]/],
  ])('%s', async (_what, spoil, message) => {
    const json = await asJson(await writeOpenForm(pyramid(), 'glb'));
    spoil(json);
    await expect(readOpenForm(asGltf(json), 'gltf', 'a.gltf')).rejects.toThrow(message);
  });

  test('one mesh on more nodes than can be held is refused, not made', async () => {
    const json = await asJson(await writeOpenForm(wide(), 'glb'));
    json.nodes = Array.from({ length: 30_000 }, () => ({ mesh: 0, translation: [1, 2, 3] }));
    json.scenes = [];
    await expect(readOpenForm(asGltf({ ...json, scene: undefined }), 'gltf', 'a.gltf')).rejects.toThrow(
      /on all nodes/,
    );
  });

  test('and so is what is none', async () => {
    for (const [ending, text] of [
      ['glb', 'glTF\x02\0\0\0'],
      ['gltf', '{"asset":1}'],
      ['gltf', 'no json'],
      ['ply', 'ply\nformat nonsense 1.0\nend_header\n'],
      ['ply', 'ply\nformat ascii 1.0\nelement vertex 2147483647\nproperty float x\nend_header\n1\n'],
      ['stl', `${'.'.repeat(80)}\xff\xff\xff\x7f${'.'.repeat(16)}`],
      ['stl', 'too short'],
      ['obj', '# nothing\n'],
    ] as const)
      await expect(readOpenForm(new Uint8Array(Buffer.from(text, 'latin1')), ending, 'x')).rejects.toThrow(
        /x/,
      );
    const cut = (await writeOpenForm(pyramid(), 'glb')).subarray(0, 700);
    await expect(readOpenForm(cut, 'glb', 'cut.glb')).rejects.toThrow(/cut\.glb/);
  });

  test('corners outside are told by their part', async () => {
    const { parts } = pyramid();
    const bad = { ...pyramid(), parts: [{ ...parts[0]!, triangles: Uint32Array.of(0, 1, 77) }] };
    await expect(readOpenForm(await writeOpenForm(bad, 'glb'), 'glb', 'a.glb')).rejects.toThrow(
      /body.*below 5.*77/,
    );
  });
});

test('what is not given is made: normals of a face, tangents along its texture', () => {
  const { parts } = pyramid();
  const square: Part = {
    ...parts[0]!,
    places: Float32Array.of(0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0),
    coordinates: [Float32Array.of(0, 1, 1, 1, 1, 0, 0, 0)],
    triangles: Uint32Array.of(0, 1, 2, 0, 2, 3),
  };
  const made = withTangents(withNormals(square));
  expect([...made.normals!.subarray(0, 3)]).toEqual([0, 0, 1]);
  expect([...made.tangents!.subarray(0, 3)]).toEqual([1, 0, 0]);
  expect(withTangents(parts[0]!).tangents).toBeUndefined();
});

test('a file is told by its first bytes, then by its ending', () => {
  const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
  expect(openEnding(bytes('glTF....'), 'bin')).toBe('glb');
  expect(openEnding(bytes('ply\n'), '')).toBe('ply');
  expect(openEnding(bytes('v 0 0 0'), 'obj')).toBe('obj');
  expect(openEnding(bytes('what'), 'glb')).toBeUndefined();
});
