import { afterAll, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import zlib from 'node:zlib';
import os from 'node:os';
import path from 'node:path';
import { readShelf } from '@/platform/node/script-shelf';
import { writeForm } from '../../../demo/world/forms/form-writer';
import { writeGaits } from '../../../demo/world/forms/gait-writer';
import { Sculptor, type Joint } from '../../../demo/world/forms/mesh';
import { layouts } from '../../../demo/world/lanternfen/levels';
import { writeSheet } from '../../../demo/world/sheet-writer';
import { writeCarving } from '../../../demo/world/tallow/carving-writer';
import { BytesBuilder } from '../testing/bytes-builder';
import { entriesOf, holdBytes, key, options as keyed } from '../testing/holds';
import { bare, expectCutsAreSeen, openWith } from '../testing/round-trip';

/** Every script that ships, on a small file cut at every byte. Those of the demo's newer containers have tests of their own. */
const ELSEWHERE = [
  ...['call-harbour', 'cpio', 'harbour', 'hold-peatfire-4', 'masked-quillmoor', 'print-harbour'],
  ...['songbook-peatfire', 'spool-peatfire', 'stores-harbour'],
];

const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-cuts-'));
afterAll(() => fs.rmSync(folder, { recursive: true }));

function byTool(command: string, args: readonly string[], result: string): Uint8Array {
  fs.writeFileSync(path.join(folder, 'a.txt'), 'a small text');
  fs.writeFileSync(path.join(folder, 'b.txt'), 'b '.repeat(60));
  execFileSync(command, args, { cwd: folder });
  return new Uint8Array(fs.readFileSync(path.join(folder, result)));
}

function chunkFile(): Uint8Array {
  const out = new BytesBuilder().raw('RIFF').number(28, 4).raw('TEST');
  out.raw('one ').number(3, 4).raw('abc\0').raw('two ').number(4, 4).raw('defg');
  return out.bytes();
}

function model(): Uint8Array {
  const json = '{"asset":{"version":"2.0"}} ';
  const out = new BytesBuilder()
    .raw('glTF')
    .number(2, 4)
    .number(12 + 8 + json.length + 8 + 4, 4);
  out.number(json.length, 4).raw('JSON').raw(json);
  return out.number(4, 4).raw('BIN\0').raw('bits').bytes();
}

/** A texture of 4 x 4 texels in BC1, its head as the format's own description has it. */
function texture(): Uint8Array {
  const out = new BytesBuilder().raw('DDS ').number(124, 4).number(0x81007, 4).number(4, 4).number(4, 4);
  out.number(8, 4).number(0, 4).number(0, 4).fill(76);
  out.number(32, 4).number(4, 4).raw('DXT1').fill(108);
  return out.number(0x1000, 4).fill(128).raw('texels!!').bytes();
}

const pixels = { width: 4, height: 4, data: Buffer.alloc(64, 'abc') };
const joints: Joint[] = [{ name: 'foot', parent: -1, place: [0, 0, 0] }];
function form(): Uint8Array {
  const { meshes } = new Sculptor(4, 0).begin('box', 0).box([0, 0, 0], [1, 1, 1]);
  return new Uint8Array(writeForm({ meshes, joints, paints: [{ name: 'wood', colour: 'wood.sheet' }] }));
}
function carving(): Uint8Array {
  const { meshes } = new Sculptor(4, 0).begin('box', 0).box([0, 0, 0], [1, 1, 1]);
  return new Uint8Array(writeCarving(meshes, [{ name: 'wood', picture: 'wood.print' }]));
}
const gait = (): Uint8Array =>
  new Uint8Array(
    writeGaits(joints, [
      { name: 'nod', group: '', rate: 10, isLoop: true, tracks: [{ bone: 0, turns: [[0, 0, 0, 1]] }] },
    ]),
  );
function said(): Uint8Array {
  const rows = Buffer.alloc(24);
  const names = Buffer.from('one\0two\0');
  const texts = ['Mind the plank.\0', 'Krrr.\0'].map((text) => Buffer.from(text));
  let place = 20 + rows.length + names.length;
  texts.forEach((text, i) => {
    rows.writeUInt32LE(place, 12 * i);
    rows.writeUInt16LE(text.length, 12 * i + 4);
    place += text.length;
  });
  const head = Buffer.alloc(20);
  head.write('SAYINGS\0', 'latin1');
  head.writeUInt32LE(2, 8);
  head.writeUInt32LE(names.length, 12);
  head.writeUInt32LE(zlib.crc32(rows), 16);
  return new Uint8Array(Buffer.concat([head, rows, names, ...texts]));
}
function glyphs(): Uint8Array {
  const rows = Buffer.alloc(24);
  [0x41, 0x42].forEach((code, i) => {
    rows.writeUInt32LE(code, 12 * i);
    rows.writeUInt8(9, 12 * i + 4);
    rows.writeUInt32LE(40 + 8 * i, 12 * i + 8);
  });
  const head = Buffer.alloc(16);
  head.write('GLYPHS\0\0', 'latin1');
  head.writeUInt16LE(2, 8);
  head.writeUInt8(8, 10);
  head.writeUInt32LE(zlib.crc32(rows), 12);
  return new Uint8Array(Buffer.concat([head, rows, Buffer.alloc(16, 0x55)]));
}
const SAMPLES: Record<string, () => Uint8Array> = {
  ar: () => byTool('ar', ['rc', 'x.a', 'a.txt', 'b.txt'], 'x.a'),
  tar: () => byTool('tar', ['-b1', '-cf', 'x.tar', 'a.txt', 'b.txt'], 'x.tar'),
  zip: () => byTool('zip', ['-q', 'x.zip', 'a.txt', 'b.txt'], 'x.zip'),
  gzip: () => byTool('gzip', ['-k', 'b.txt'], 'b.txt.gz'),
  xz: () => byTool('xz', ['-k', 'b.txt'], 'b.txt.xz'),
  zstandard: () => byTool('zstd', ['-q', 'b.txt'], 'b.txt.zst'),
  bzip2: () => byTool('bzip2', ['-k', 'b.txt'], 'b.txt.bz2'),
  riff: chunkFile,
  'gltf-binary': model,
  dds: texture,
  'form-peatfire': form,
  'gait-peatfire': gait,
  'carving-harbour': carving,
  'sayings-peatfire': said,
  'glyphs-peatfire': glyphs,
  'layout-peatfire': () => new Uint8Array([...layouts().values()][2]!),
  'sheet-peatfire': () => new Uint8Array(writeSheet(pixels, 'bc3', 'colour')),
  'hold-peatfire-3': () => holdBytes(entriesOf({ 'a.txt': 'some text', b: 'b' }), { key }),
};

const shelf = readShelf();

test('there is a sample for every script', () => {
  expect([...Object.keys(SAMPLES), ...ELSEWHERE].sort()).toEqual(shelf.map(({ id }) => id).sort());
});

test.each(Object.keys(SAMPLES))('%s', (name) => {
  const { script } = shelf.find(({ id }) => id === name)!;
  const bytes = SAMPLES[name]!();
  const options = name.startsWith('hold') ? keyed : bare;
  expect(openWith(script, bytes, options).entries.length).toBeGreaterThan(0);
  expectCutsAreSeen(script, bytes, options);
});
