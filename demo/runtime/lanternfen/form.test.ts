import { describe, expect, test } from '@jest/globals';
import zlib from 'node:zlib';
import { writeForm } from '../../world/forms/form-writer';
import { writeGaits } from '../../world/forms/gait-writer';
import { Sculptor, type Joint } from '../../world/forms/mesh';
import { poseOf, readForm } from './form';
import { drawForm } from './stage';

/** Forms that the tests make: a mast on a foot, the upper half of which hangs on a bone. */
const joints: Joint[] = [
  { name: 'foot', parent: -1, place: [0, 0, 0] },
  { name: 'top', parent: 0, place: [0, 1, 0] },
];
function mast(): Buffer {
  const s = new Sculptor(6, 0);
  s.begin('mast', 0).box([0, 0.5, 0], [0.2, 1, 0.2], [[0, 1]]);
  s.begin('flag', 1).box([0, 1.5, 0], [0.2, 1, 0.2], [[1, 1]]);
  return writeForm({
    meshes: s.meshes,
    joints,
    paints: [{ name: 'wood', colour: 'wood.sheet' }, { name: 'cloth' }],
  });
}
const gait = (): Buffer =>
  writeGaits(joints, [
    {
      ...{ name: 'bow', group: '', rate: 10, isLoop: false },
      tracks: [
        {
          bone: 1,
          turns: [
            [0, 0, 0, 1],
            [0, 0, Math.SQRT1_2, Math.SQRT1_2],
          ],
        },
      ],
    },
  ]);
/** With its check and length made right again. */
function mended(bytes: Buffer, size: number): Buffer {
  bytes.writeUInt32LE(bytes.length, 20);
  bytes.writeUInt32LE(zlib.crc32(bytes.subarray(size)), 16);
  return bytes;
}
const wide = (rgba: Buffer): number => {
  const columns = new Set<number>();
  for (let i = 0; i < rgba.length / 4; i++) if (rgba[4 * i + 3]! > 0) columns.add(i % 288);
  return columns.size;
};

test('a form is drawn in its colours, and as its clip moves it', () => {
  const form = readForm(mast(), 'mast.form');
  expect(form.meshes.map(({ name, corners }) => `${name} ${corners.length / 3}`)).toEqual([
    'mast 12',
    'flag 12',
  ]);
  expect(form.paints).toEqual(['wood.sheet', '']);
  const red = { width: 1, height: 1, layout: 1, rgba: Buffer.from([200, 10, 10, 255]) };
  const still = drawForm(form, [red, undefined]);
  const hues = new Set<string>();
  for (let i = 0; i < still.rgba.length; i += 4)
    if (still.rgba[i + 3]) hues.add(still.rgba[i]! > 3 * still.rgba[i + 1]! ? 'red' : 'plain');
  expect([...hues].sort()).toEqual(['plain', 'red']);
  const bowed = drawForm(form, [red, undefined], poseOf(gait(), 'mast.gait', 'bow', 1));
  // What hung above lies beside it.
  expect(wide(bowed.rgba)).toBeGreaterThan(2 * wide(still.rgba));
  expect(
    drawForm(form, [red, undefined], poseOf(gait(), 'mast.gait', 'bow', 0)).rgba.equals(still.rgba),
  ).toBe(true);
});

describe('it stalls', () => {
  const parts = 64 + 2 * 64 + (24 + 2 + 10 + 6) + (24 + 8) + 2 * (40 + 16);
  test.each<[string, (of: Buffer) => Buffer, RegExp]>([
    [
      'at a byte that is another',
      (of) => (of.writeUInt8(of[of.length - 1]! ^ 1, of.length - 1), of),
      /check/,
    ],
    ['at a length that is another', (of) => Buffer.concat([of, Buffer.alloc(4)]), /length/],
    ['at another engine', (of) => (of.writeUInt8(9, 4), of), /tag/],
    ['at a bone that comes later', (of) => (of.writeInt16LE(1, 64 + 64 + 24), mended(of, 64)), /bone/],
    ['at a part of no mesh', (of) => (of.writeUInt16LE(7, parts + 28), mended(of, 64)), /part/],
    ['at a vertex outside its box', (of) => (of.writeFloatLE(-1, parts + 52), mended(of, 64)), /box/],
    ['at a corner of no vertex', (of) => (of.writeUInt16LE(500, of.length - 2), mended(of, 64)), /corner/],
    [
      'at a stream that is too long',
      (of) => (of.writeUInt32LE(5000, parts - 2 * 56 + 4), mended(of, 64)),
      /stream/,
    ],
  ])('%s', (_what, spoil, why) => {
    expect(() => readForm(spoil(mast()), 'mast.form')).toThrow(why);
  });

  test('at a clip that there is not, a track that leads outside, and a key that goes back', () => {
    expect(() => poseOf(gait(), 'mast.gait', 'walk', 0)).toThrow(/no clip walk/);
    const row = 32 + 2 * 48 + 64;
    const outside = gait();
    outside.writeUInt32LE(9000, row);
    expect(() => poseOf(mended(outside, 32), 'mast.gait', 'bow', 0)).toThrow(/leads outside/);
    const back = gait();
    back.writeUInt16LE(9, back.readUInt32LE(row));
    expect(() => poseOf(mended(back, 32), 'mast.gait', 'bow', 0)).toThrow(/goes back/);
  });
});
