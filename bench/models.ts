import { Document, WebIO } from '@gltf-transform/core';
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { parseScript } from '@/core/script';
import { openModel, packForm, trianglesOf, writeOpenForm } from '@/media/model/core';
import { findingsOf } from '@/media/model/core/print/findings';
import { repair } from '@/media/model/core/print/repair';
import { PrintSettings } from '@/media/model/core/print/settings';
import type { Solid } from '@/media/model/core/print/solid';
import { weld } from '@/media/model/core/print/weld';
import { nodePrimitives } from '@/platform/node/primitives';
import { writeForm } from '../demo/world/forms/form-writer';
import { heronGaits } from '../demo/world/forms/gaits';
import { heron, heronBones } from '../demo/world/forms/heron';
import { lantern } from '../demo/world/forms/lantern';
import { hills } from './hills';

/** Models: decoding through a script against a hand loop, facts of many, and writing GLB against the package alone. */

const script = parseScript(fs.readFileSync('scripts/formats/form-peatfire.yaml', 'utf8'));

async function best(times: number, work: () => unknown): Promise<number> {
  let least = Infinity;
  for (let i = 0; i < times; i++) {
    const began = performance.now();
    await work();
    least = Math.min(least, performance.now() - began);
  }
  return least;
}
const say = (text: string): void => void process.stdout.write(`${text}\n`);
const row = (what: string, baseline: number, ours: number): void =>
  say(
    `| ${what} | ${baseline.toFixed(1)} ms | ${ours.toFixed(1)} ms | **${(ours / baseline).toFixed(2)}** |`,
  );

/** What somebody would write by hand for this one format: the same numbers in the same space. */
function byHand(bytes: Buffer): number {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  const [bones, parts] = [view.getUint16(8, true), view.getUint16(12, true)];
  let at = 64 + 64 * bones;
  for (let paint = view.getUint16(10, true); paint > 0; paint--) {
    at += 24;
    for (let k = 0; k < 4; k++) at += 2 + view.getUint16(at, true);
  }
  let sum = 0;
  for (let part = 0; part < parts; part++) {
    const stretch = at + 40 * part;
    const [place, count] = [view.getUint32(stretch, true), view.getUint32(stretch + 4, true)];
    const places = new Float32Array(3 * count);
    const normals = new Float32Array(3 * count);
    const spots = new Float32Array(2 * count);
    const joints = new Uint16Array(4 * count);
    const weights = new Float32Array(4 * count);
    const f = (k: number): number => view.getFloat32(stretch + 16 + 4 * k, true);
    const [lx, ly, lz, sx, sy, sz] = [f(0), f(1), f(2), f(3), f(4), f(5)];
    for (let v = 0, from = place; v < count; v++, from += 24) {
      places[3 * v] = (lx + sx * view.getUint16(from, true)) * 0.01;
      places[3 * v + 1] = (lz + sz * view.getUint16(from + 4, true)) * 0.01;
      places[3 * v + 2] = (ly + sy * view.getUint16(from + 2, true)) * 0.01;
      normals[3 * v] = Math.max(-1, view.getInt8(from + 6) / 127);
      normals[3 * v + 1] = Math.max(-1, view.getInt8(from + 8) / 127);
      normals[3 * v + 2] = Math.max(-1, view.getInt8(from + 7) / 127);
      spots[2 * v] = view.getUint16(from + 10, true) / 65_535;
      spots[2 * v + 1] = view.getUint16(from + 12, true) / 65_535;
      for (let k = 0; k < 4; k++) {
        joints[4 * v + k] = bytes[from + 16 + k]!;
        weights[4 * v + k] = bytes[from + 20 + k]! / 255;
      }
    }
    const row16 = at + 40 * parts + 16 * part;
    const [list, length] = [view.getUint32(row16, true), view.getUint32(row16 + 4, true)];
    const corners = new Uint32Array(length);
    for (let i = 0; i < length; i++) corners[i] = view.getUint16(list + 2 * i, true);
    for (const corner of corners) if (corner >= count) throw new Error('outside');
    for (const value of places) if (!(Math.abs(value) < 1e9)) throw new Error('no place');
    sum += places.length + normals.length + spots.length + joints.length + weights.length + corners.length;
  }
  return sum;
}

say('| what | baseline | ours | ratio |\n| --- | --- | --- | --- |');
const large = writeForm({ meshes: hills(200_000), joints: [], paints: [{ name: 'grass' }] });
const opened = openModel(script, large, 'hills.form', nodePrimitives);
const count = opened.form.parts.reduce((sum, part) => sum + trianglesOf(part), 0);
row(
  `${count} triangles decoded through the script, against a hand loop`,
  await best(7, () => byHand(large)),
  await best(7, () => openModel(script, large, 'hills.form', nodePrimitives)),
);
say(`packed to be drawn: ${(await best(5, () => packForm(opened.form, 1))).toFixed(1)} ms`);
const small = writeForm(lantern());
const many = await best(3, () => {
  for (let i = 0; i < 200; i++) openModel(script, small, 'lantern.form', nodePrimitives);
});
say(`facts of forms of ${small.length} bytes: ${(200_000 / many).toFixed(0)} a second`);

const { joints } = heronBones();
const bird = openModel(script, writeForm(heron()), 'heron.form', nodePrimitives).form;
const clips = [0, 1, 2, 3]
  .flatMap(() => heronGaits(joints).slice(0, 5))
  .map((gait, i) => ({
    ...{ name: `${gait.name} ${i}`, group: gait.group, rate: gait.rate, isLoop: gait.isLoop },
    tracks: gait.tracks.flatMap(({ bone, turns }) =>
      turns
        ? [
            {
              bone,
              sort: 'turn' as const,
              times: Float32Array.from(turns, (_, k) => k / gait.rate),
              values: Float32Array.from(turns.flat()),
            },
          ]
        : [],
    ),
  }));
const form = { ...bird, clips };
/** The package given the same arrays, and nothing else done. */
async function bare(): Promise<Uint8Array> {
  const document = new Document();
  const buffer = document.createBuffer();
  const put = (type: 'SCALAR' | 'VEC2' | 'VEC3' | 'VEC4', values: Float32Array | Uint16Array | Uint32Array) =>
    document
      .createAccessor()
      .setType(type)
      .setArray(values as Float32Array<ArrayBuffer>)
      .setBuffer(buffer);
  const nodes = form.bones.map(({ name }) => document.createNode(name));
  const skin = document.createSkin();
  for (const node of nodes) skin.addJoint(node);
  for (const part of form.parts) {
    const primitive = document
      .createPrimitive()
      .setIndices(put('SCALAR', new Uint16Array(part.triangles)))
      .setAttribute('POSITION', put('VEC3', part.places))
      .setAttribute('NORMAL', put('VEC3', part.normals!))
      .setAttribute('TEXCOORD_0', put('VEC2', part.coordinates[0]!))
      .setAttribute('JOINTS_0', put('VEC4', part.joints!))
      .setAttribute('WEIGHTS_0', put('VEC4', part.weights!));
    document
      .createNode(part.name)
      .setMesh(document.createMesh(part.name).addPrimitive(primitive))
      .setSkin(skin);
  }
  for (const clip of form.clips) {
    const animation = document.createAnimation(clip.name);
    for (const { bone, times, values } of clip.tracks) {
      const sampler = document
        .createAnimationSampler()
        .setInput(put('SCALAR', times))
        .setOutput(put('VEC4', values));
      animation
        .addSampler(sampler)
        .addChannel(
          document
            .createAnimationChannel()
            .setTargetNode(nodes[bone]!)
            .setTargetPath('rotation')
            .setSampler(sampler),
        );
    }
  }
  return new WebIO().writeBinary(document);
}
row(
  'GLB with skin and 20 clips, against the package on the same data',
  await best(7, bare),
  await best(7, () => writeOpenForm(form, 'glb')),
);

/** A ring of 100,352 triangles in millimetres, closed but for one of them. */
function ring(): Solid {
  const side = 224;
  const places = new Float64Array(3 * side * side);
  const corners = new Uint32Array(6 * side * side - 3);
  for (let i = 0; i < side; i++)
    for (let j = 0; j < side; j++) {
      const [a, b] = [(i / side) * 2 * Math.PI, (j / side) * 2 * Math.PI];
      const wide = 60 + 20 * Math.cos(b) + Math.sin(9 * a);
      places.set([wide * Math.cos(a), wide * Math.sin(a), 20 * Math.sin(b)], 3 * (i * side + j));
      const at = (x: number, y: number): number => (x % side) * side + (y % side);
      const quad = [at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j), at(i + 1, j + 1), at(i, j + 1)];
      corners.set(quad.slice(0, i === side - 1 && j === side - 1 ? 3 : 6), 6 * (i * side + j));
    }
  return { places, corners };
}
const solid = ring();
const stl = path.join(os.tmpdir(), `zero-latch-bench-${process.pid}.stl`);
fs.writeFileSync(
  stl,
  await writeOpenForm(
    {
      parts: [
        {
          ...{ name: '', level: 0, material: -1, coordinates: [], morphs: [] },
          ...{ places: new Float32Array(solid.places), triangles: solid.corners },
        },
      ],
      ...{ materials: [], bones: [], clips: [] },
    },
    'stl',
  ),
);
const admesh = await best(3, () => execFileSync('admesh', ['--exact', stl], { stdio: 'ignore' }));
fs.rmSync(stl);
row(
  'printing: shells, holes, crossings, thin walls of 100,351 triangles, against admesh, which looks for holes alone',
  admesh,
  await best(3, () => findingsOf(solid, 0.8)),
);
row(
  'printing: the same welded, turned, closed, and looked at again',
  admesh,
  await best(3, () => findingsOf(repair(weld(solid, 0).solid, PrintSettings.parse({})).solid, 0.8)),
);
