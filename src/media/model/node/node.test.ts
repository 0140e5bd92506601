import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { collect, FormatError, memorySource, refOfBytes } from '@/core/bytes';
import { worded } from '@/core/fit';
import { headBy } from '@/media/asking';
import { spelledHead } from '@/media/lenses';
import type { MediaTools } from '@/media/medium';
import { MEDIA_NODE } from '@/media/node';
import { WORDINGS } from '@/media/wording';
import { mediaScriptsOn } from '@/platform/node/media-scripts';
import { readShelf } from '@/platform/node/script-shelf';
import { writeForm } from '../../../../demo/world/forms/form-writer';
import { heronGaits } from '../../../../demo/world/forms/gaits';
import { writeGaits } from '../../../../demo/world/forms/gait-writer';
import { heron, heronBones } from '../../../../demo/world/forms/heron';
import { lantern } from '../../../../demo/world/forms/lantern';
import { writeSheet } from '../../../../demo/world/sheet-writer';
import { readOpenForm, unpackForm, packForm, writeOpenForm } from '../core';
import { modelNode } from './index';
import { formOf } from './forms';

const scripts = mediaScriptsOn(readShelf());
const lamp = writeForm(lantern());

const headOf = (bytes: Uint8Array, name: string) =>
  headBy(
    MEDIA_NODE,
    {
      ...{
        name,
        first: bytes.subarray(0, 256 << 10),
        source: memorySource(bytes, name),
        describedKind: undefined,
      },
      held: () => bytes,
    },
    scripts,
  );

test('lists tell what a script describes as they tell open formats', async () => {
  expect(spelledHead(await headOf(writeForm(heron()), 'a.form'))).toBe(
    '13,516 triangles, 8,050 vertices, 6 meshes, 5 materials, 38 bones, Form, Peatfire',
  );
  const { joints } = heronBones();
  expect(await headOf(writeGaits(joints, heronGaits(joints)), 'a.gait')).toMatchObject({
    sort: 'model',
    clips: 6,
    triangles: 0,
  });
  const glb = await writeOpenForm((await formOf(lamp, 'a.form', scripts))!.form, 'glb');
  expect(await headOf(glb, 'a.glb')).toMatchObject({ sort: 'model', format: 'glTF binary', meshes: 6 });
  await expect(headOf(lamp.subarray(0, 400), 'cut.form')).rejects.toThrow(/cut\.form/);
});

async function converted(
  way: string,
  bytes: Uint8Array,
  path: string,
  beside: Record<string, Uint8Array> = {},
): Promise<Uint8Array | FormatError> {
  let made: Uint8Array | FormatError | undefined;
  await modelNode.converters![way]!.convert(
    [{ plain: refOfBytes(bytes), path, beside: (wanted) => beside[wanted] }],
    { mediaScripts: scripts, check: () => undefined },
    (_index, result) => (made = result instanceof FormatError ? result : collect(result)),
  );
  return made!;
}

describe('models are taken out', () => {
  test.each(['glb', 'obj', 'ply', 'stl'])('as %s', async (way) => {
    const made = await converted(way, lamp, 'props/lantern.form');
    if (made instanceof FormatError) throw made;
    const back = await readOpenForm(made, way as 'glb', `a.${way}`);
    expect(back.parts.reduce((sum, { triangles }) => sum + triangles.length / 3, 0)).toBe(1508);
  });

  test('as 3MF, in millimetres from where a bed begins, which another program opens', async () => {
    const made = await converted('3mf', lamp, 'props/lantern.form');
    if (made instanceof FormatError) throw made;
    const file = path.join(os.tmpdir(), `zero-latch-${process.pid}.3mf`);
    try {
      fs.writeFileSync(file, made);
      const text = execFileSync('unzip', ['-p', file, '3D/3dmodel.model'], { encoding: 'utf8' });
      expect(text).toContain('unit="millimeter"');
      const low = Math.min(
        ...[...text.matchAll(/<vertex x="([^"]+)" y="([^"]+)" z="([^"]+)"/g)].flatMap((one) =>
          one.slice(1).map(Number),
        ),
      );
      expect(low).toBe(0);
      // The finest level alone.
      expect(execFileSync('assimp', ['info', file], { encoding: 'utf8' })).toMatch(/Meshes:\s+1/);
    } finally {
      fs.rmSync(file, { force: true });
    }
  });

  test('with the pictures that lie beside them, as PNG; what is no picture is left out', async () => {
    const red = Buffer.from(Array.from({ length: 256 }, () => [192, 48, 32, 255]).flat());
    const sheet = writeSheet({ width: 16, height: 16, data: red }, 'bc1', 'colour');
    const beside = {
      'props/lantern/glass_colour.sheet': new Uint8Array(sheet),
      'props/boathook/wood_colour.sheet': Uint8Array.of(1, 2, 3),
    };
    const made = await converted('glb', lamp, 'props/lantern/lantern.form', beside);
    const text = Buffer.from(made as Uint8Array);
    expect(text.includes(Buffer.from('\x89PNG', 'latin1'))).toBe(true);
    expect(text.includes('"mimeType":"image/png"')).toBe(true);
    expect(text.toString('latin1').split('\x89PNG').length - 1).toBe(1);
  });

  test('what is no model says what it should be', async () => {
    expect(await converted('glb', Uint8Array.of(1, 2, 3), 'a.bin')).toMatchObject({ code: 'not-recognised' });
    expect(await converted('obj', lamp.subarray(0, 500), 'a.form')).toBeInstanceOf(FormatError);
  });
});

describe('models are put back', () => {
  const tools = { scripts } as MediaTools;
  async function fit(
    slot: Uint8Array,
    path: string,
    given: Uint8Array,
    name: string,
  ): Promise<[Uint8Array | undefined, string[]]> {
    const ready = await modelNode.fit!(
      { bytes: slot, name: path, kind: 'model' },
      { bytes: given, name },
      new Set(),
      tools,
    );
    const said = ready?.findings.map((finding) => {
      const { state, what } = worded(finding, WORDINGS);
      return `${state}: ${what}`;
    });
    return [ready?.bytes, said ?? []];
  }

  test('a GLB that was taken out goes back without a byte changed', async () => {
    const glb = (await converted('glb', lamp, 'a.form')) as Uint8Array;
    const [bytes, said] = await fit(lamp, 'a.form', glb, 'lantern.glb');
    expect(said).toEqual([expect.stringMatching(/^fits: 6 parts as before/)]);
    expect(Buffer.from(bytes!).equals(lamp)).toBe(true);
  });

  test('an OBJ goes into the parts that it names', async () => {
    const obj = Buffer.from((await converted('obj', lamp, 'a.form')) as Uint8Array).toString();
    const taller = obj.replace(
      /^v (\S+) (\S+) (\S+)$/gm,
      (_line, x: string, y: string, z: string) => `v ${x} ${Number(y) * 1.1} ${z}`,
    );
    const [bytes, said] = await fit(lamp, 'a.form', new Uint8Array(Buffer.from(taller)), 'lantern.obj');
    expect(said).toContainEqual(expect.stringMatching(/^fits: lantern_glass/));
    const highest = async (of: Uint8Array): Promise<number> =>
      Math.max(
        ...(await formOf(of, 'a.form', scripts))!.form.parts[1]!.places.filter((_, at) => at % 3 === 1),
      );
    expect((await highest(bytes!)) / (await highest(lamp))).toBeCloseTo(1.1, 3);
  });

  test('a file of the very format goes in as it is; another open format is saved in that of the slot', async () => {
    const other = writeForm(heron());
    expect((await fit(other, 'a.form', lamp, 'lamp.form'))[1]).toContainEqual(
      expect.stringMatching(/^look: bones of the slot that it has not: root, body_1/),
    );
    const [bytes, said] = await fit(lamp, 'a.form', other, 'bird.form');
    expect(bytes).toBe(other);
    expect(said).toEqual(['fits: Form, Peatfire, taken as given']);
    const [stl, ply] = [
      await converted('stl', lamp, 'a.form'),
      await converted('ply', lamp, 'a.form'),
    ] as Uint8Array[];
    const [made, why] = await fit(stl!, 'a.stl', ply!, 'b.ply');
    expect(why).toEqual(['look: saved as STL']);
    expect(made!.length).toBe(stl!.length);
  });

  test('what is no model is refused in words, and nothing is changed', async () => {
    await expect(fit(lamp, 'a.form', Uint8Array.of(1, 2), 'note.txt')).rejects.toThrow(
      /note\.txt is no model.*Nothing was changed/,
    );
    await expect(fit(lamp, 'a.form', new Uint8Array(Buffer.from('glTFxx')), 'x.glb')).rejects.toThrow(
      /x\.glb cannot be read/,
    );
  });
});

test('a packed form is what was packed, in arrays that a page takes as they lie', async () => {
  const { form, unit } = (await formOf(lamp, 'a.form', scripts))!;
  const { form: packed, floats, corners } = unpackForm(packForm(form, unit).buffer);
  packed.parts.forEach((part, i) => {
    expect(floats(part.places, 3 * part.vertices)).toEqual(form.parts[i]!.places);
    expect(corners(part.corners, 3 * part.triangles)).toEqual(form.parts[i]!.triangles);
  });
  expect(packed.box!.high[1]).toBeCloseTo(0.477, 3);
  expect(packed.unit).toBe(0.01);
  expect(() => unpackForm(new ArrayBuffer(4))).toThrow();
});
