import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { writeForm } from '../../../../../demo/world/forms/form-writer';
import { heron } from '../../../../../demo/world/forms/heron';
import { parseScript } from '@/core/script';
import type { Head } from '@/media/head';
import type { HeadFile } from '@/media/medium';
import { modelHead } from '../../node/head';
import { nodePrimitives } from '@/platform/node/primitives';
import { boxOf, type Form, type Track } from '../form/form';
import { standing } from '../form/turns';
import { openModel } from '../wrapped/wrapped-model';
import { readOpenForm, writeOpenForm } from './open-form';

let folder: string;
beforeAll(() => {
  folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-dae-'));
});
afterAll(() => fs.rmSync(folder, { recursive: true }));

/** What another program writes as COLLADA. */
async function asCollada(form: Form): Promise<Uint8Array> {
  fs.writeFileSync(path.join(folder, 'a.glb'), await writeOpenForm(form, 'glb'));
  execFileSync('assimp', ['export', path.join(folder, 'a.glb'), path.join(folder, 'a.dae')], {
    stdio: 'ignore',
  });
  return new Uint8Array(fs.readFileSync(path.join(folder, 'a.dae')));
}
const text = (document: string): Uint8Array => new TextEncoder().encode(document);
const read = (bytes: Uint8Array): Promise<Form> => readOpenForm(bytes, 'dae', 'a.dae');

/** A document of one triangle, and whatever else is wanted. */
const triangle = (nodes: string, up = 'Y_UP', unit = 1): string => `<?xml version="1.0"?>
<COLLADA xmlns="http://www.collada.org/2005/11/COLLADASchema" version="1.4.1">
<asset><unit name="x" meter="${unit}"/><up_axis>${up}</up_axis></asset>
<library_images><image id="i"><init_from>./art/sail%20one.png</init_from></image></library_images>
<library_effects><effect id="e"><profile_COMMON>
<newparam sid="surface"><surface type="2D"><init_from>i</init_from></surface></newparam>
<newparam sid="sampler"><sampler2D><source>surface</source></sampler2D></newparam>
<technique sid="c"><lambert><diffuse><texture texture="sampler" texcoord="t"/></diffuse></lambert></technique>
</profile_COMMON></effect></library_effects>
<library_materials><material id="m" name="sail"><instance_effect url="#e"/></material></library_materials>
<library_geometries><geometry id="g" name="jib"><mesh>
<source id="g-positions"><float_array id="g-positions-array" count="9">0 0 0 2 0 0 0 3 0</float_array>
<technique_common><accessor source="#g-positions-array" count="3" stride="3"><param name="X" type="float"/><param name="Y" type="float"/><param name="Z" type="float"/></accessor></technique_common></source>
<vertices id="g-vertices"><input semantic="POSITION" source="#g-positions"/></vertices>
<triangles count="1" material="sail"><input semantic="VERTEX" source="#g-vertices" offset="0"/><p>0 1 2</p></triangles>
</mesh></geometry></library_geometries>
${nodes}
<scene><instance_visual_scene url="#s"/></scene></COLLADA>`;
const JIB = `<instance_geometry url="#g"><bind_material><technique_common><instance_material symbol="sail" target="#m"/></technique_common></bind_material></instance_geometry>`;
const scene = (inner: string): string =>
  `<library_visual_scenes><visual_scene id="s"><node id="n" name="jib">${inner}</node></visual_scene></library_visual_scenes>`;

describe('COLLADA', () => {
  test('parts, materials with what they are painted with, axes and unit are read', async () => {
    const form = await read(text(triangle(scene(JIB), 'Z_UP', 0.01)));
    expect(form.parts.map(({ name }) => name)).toEqual(['jib']);
    expect(form.materials.map(({ name, pictures }) => [name, pictures])).toEqual([
      ['sail', { colour: 'art/sail%20one.png' }],
    ]);
    const { low, high } = boxOf(form.parts)!;
    [0, 0, -0.03].forEach((value, i) => expect(low[i as 0]).toBeCloseTo(value, 6));
    [0.02, 0, 0].forEach((value, i) => expect(high[i as 0]).toBeCloseTo(value, 6));
  });

  test('a creature that another program saved has its parts, its bones and where they stand', async () => {
    const script = parseScript(fs.readFileSync('scripts/formats/form-peatfire.yaml', 'utf8'));
    const bird = openModel(script, writeForm(heron()), 'a.form', nodePrimitives).form;
    const body = { ...bird, parts: bird.parts.filter(({ level }) => level === 0) };
    const back = await read(await asCollada(body));
    expect(back.parts.reduce((sum, { triangles }) => sum + triangles.length, 0)).toBe(
      body.parts.reduce((sum, { triangles }) => sum + triangles.length, 0),
    );
    const vertices = ({ parts }: Form): number =>
      parts.reduce((sum, { places }) => sum + places.length / 3, 0);
    expect(vertices(back)).toBeLessThanOrEqual(vertices(body));
    const [was, is] = [boxOf(body.parts)!, boxOf(back.parts)!];
    for (const axis of [0, 1, 2] as const) {
      expect(is.low[axis]).toBeCloseTo(was.low[axis], 3);
      expect(is.high[axis]).toBeCloseTo(was.high[axis], 3);
    }
    const names = back.bones.map(({ name }) => name);
    for (const { name } of bird.bones) expect(names).toContain(name);
    const [before, after] = [standing(bird.bones), standing(back.bones)];
    const head = (form: Form, at: number[][]): number[] =>
      at[form.bones.findIndex(({ name }) => name === 'head')]!.slice(12, 15);
    head(back, after as number[][]).forEach((value, i) =>
      expect(value).toBeCloseTo(head(bird, before as number[][])[i]!, 3),
    );
    expect(back.parts.every(({ joints, weights }) => joints && weights)).toBe(true);
  });

  test('a clip that another program saved moves the bone that it moved', async () => {
    const script = parseScript(fs.readFileSync('scripts/formats/form-peatfire.yaml', 'utf8'));
    const bird = openModel(script, writeForm(heron()), 'a.form', nodePrimitives).form;
    const bone = bird.bones.findIndex(({ name }) => name === 'head');
    const values = Float32Array.of(0, 0, 0, 1, 0, Math.SQRT1_2, 0, Math.SQRT1_2);
    const nod = { bone, sort: 'turn' as const, times: Float32Array.of(0, 1), values };
    const { place } = bird.bones[bone]!;
    // The other program keeps a movement only where place, turn and size have as many keys.
    const stays = [
      { ...nod, sort: 'place' as const, values: Float32Array.of(...place, ...place) },
      { ...nod, sort: 'size' as const, values: Float32Array.of(1, 1, 1, 1, 1, 1) },
    ];
    const moving = (tracks: Track[]): Form => ({
      ...bird,
      parts: bird.parts.slice(0, 1),
      clips: [{ name: 'nod', group: '', rate: 30, isLoop: false, tracks }],
    });
    // Of one alone it writes where it would stand, and nothing there.
    expect((await read(await asCollada(moving([nod])))).bones.length).toBeGreaterThanOrEqual(
      bird.bones.length,
    );
    const back = await read(await asCollada(moving([...stays, nod])));
    const turns = back.clips.flatMap(({ tracks }) =>
      tracks.filter((track) => track.sort === 'turn' && back.bones[track.bone]!.name === 'head'),
    );
    expect(turns).toHaveLength(1);
    // It writes milliseconds where the standard has seconds; what is read is what stands there.
    expect(turns[0]!.times.at(-1)).toBe(1000);
    [...turns[0]!.values.slice(-4)].forEach((value, i) =>
      expect(Math.abs(value)).toBeCloseTo([0, Math.SQRT1_2, 0, Math.SQRT1_2][i]!, 3),
    );
  });

  test('what its head tells is what is drawn of it: polygons of four corners are two triangles', async () => {
    const square = triangle(scene(JIB))
      .replace('count="9">0 0 0 2 0 0 0 3 0', 'count="12">0 0 0 2 0 0 2 3 0 0 3 0')
      .replace('count="3" stride', 'count="4" stride')
      .replace('<triangles count="1"', '<polylist count="1"')
      .replace('<p>0 1 2</p></triangles>', '<vcount>4</vcount><p>0 1 2 3</p></polylist>');
    const headOf = (document: string, isHeld = true): Promise<Head | undefined> => {
      const bytes = text(document);
      const held = (): Uint8Array | undefined => (isHeld ? bytes : undefined);
      return modelHead({ first: bytes, name: 'a.dae', held } as HeadFile, () => undefined);
    };
    expect(await headOf(square)).toEqual({
      ...{ sort: 'model', format: 'COLLADA', vertices: 4, triangles: 2 },
      ...{ meshes: 1, materials: 1, clips: 0, joints: 0 },
    });
    expect((await read(text(square))).parts[0]!.triangles).toHaveLength(6);
    expect(await headOf(square, false)).toEqual({ sort: 'large' });
    expect(await headOf('<svg/>')).toBeUndefined();
    await expect(headOf(square.slice(0, 900))).rejects.toThrow(/COLLADA/);
  });

  test.each([
    ['no XML', 'o crate', /COLLADA/],
    ['another document', '<svg xmlns="http://www.w3.org/2000/svg"/>', /<svg>/],
    ['nothing', '', /COLLADA/],
    ['cut short', triangle(scene(JIB)).slice(0, 900), /COLLADA/],
    ['no scene', '<COLLADA version="1.4.1"><asset/></COLLADA>', /./],
    [
      'nodes that stand in themselves',
      triangle(
        `<library_nodes><node id="a"><instance_node url="#a"/></node></library_nodes>${scene('<instance_node url="#a"/>')}`,
      ),
      /itself/,
    ],
    [
      'nodes that double thirty times',
      triangle(
        `<library_nodes>${Array.from({ length: 30 }, (_, i) => `<node id="d${i}"><instance_node url="#d${i + 1}"/><instance_node url="#d${i + 1}"/></node>`).join('')}<node id="d30">${JIB}</node></library_nodes>${scene('<instance_node url="#d0"/>')}`,
      ),
      /more than 100000 nodes/,
    ],
    ['places that are no numbers', triangle(scene(JIB)).replace('0 0 0 2 0 0', 'a b c 2 0 0'), /places/],
  ])('%s is refused in words', async (_, document, words) => {
    await expect(read(text(document))).rejects.toThrow(words);
  });

  test('what names entities or other files is read without them', async () => {
    const secret = path.join(folder, 'secret.txt');
    fs.writeFileSync(secret, 'jib-secret');
    const document = triangle(scene(JIB)).replace(
      '<COLLADA',
      `<!DOCTYPE COLLADA [<!ENTITY x SYSTEM "file://${secret}">]><COLLADA`,
    );
    const form = await read(text(document));
    expect(JSON.stringify(form.materials)).not.toContain('jib-secret');
    await expect(read(text(document.replace('name="jib"', 'name="&x;"')))).rejects.toThrow(/entity|COLLADA/i);
  });
});
