import { afterAll, describe, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import fc from 'fast-check';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { openArchive } from '@/core/archive';
import { FormatError, memorySource } from '@/core/bytes';
import { parseScript } from '@/core/script';
import { nodePrimitives } from '@/platform/node/primitives';
import { isIvf, readIvfHead, readTracks } from '@/media/film/core';
import { readModelHead } from '@/media/model/core';
import { tellsOf } from '@/media/archive/core';

const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'heads-'));
afterAll(() => fs.rmSync(folder, { recursive: true }));

/** A file as the usual program for sound and film writes it. */
function made(name: string, ...how: string[]): Uint8Array {
  const file = path.join(folder, name);
  const { status, stderr } = spawnSync('ffmpeg', ['-v', 'error', '-y', ...how, file]);
  if (status !== 0) throw new Error(String(stderr));
  return new Uint8Array(fs.readFileSync(file));
}
const film = ['-f', 'lavfi', '-i', 'testsrc=size=64x48:rate=24:duration=2'];
const sine = ['-f', 'lavfi', '-i', 'sine=duration=2:sample_rate=22050'];

const heads = (bytes: Uint8Array, onRead?: (length: number) => void) =>
  readTracks(bytes.length, (offset, length) => {
    onRead?.(length);
    return bytes.subarray(offset, offset + length);
  });

describe('heads of sound and film', () => {
  test.each([
    ['wav', 'PCM-S16'],
    ['flac', 'FLAC'],
    ['mp3', 'MP3'],
    ['ogg', 'VORBIS'],
  ])('%s tells its length, rate and codec', async (ending, codec) => {
    const head = await heads(made(`sound.${ending}`, ...sine, '-ac', '2'));
    expect(head).toMatchObject({ sort: 'sound', codec, rate: 22050, channels: 2 });
    expect((head as { seconds: number }).seconds).toBeCloseTo(2, 0);
  });

  test.each([
    ['mp4', 'AVC'],
    ['webm', 'VP9'],
    ['mkv', 'AVC'],
  ])('%s tells its size, length, rate, codec and tracks of sound', async (ending, codec) => {
    const head = await heads(made(`film.${ending}`, ...film, ...sine));
    expect(head).toMatchObject({ sort: 'film', codec, width: 64, height: 48, sounds: 1 });
    const { seconds, pictureRate } = head as { seconds: number; pictureRate: number };
    expect(seconds).toBeCloseTo(2, 1);
    expect(pictureRate).toBeCloseTo(24, 0);
  });

  test('only what the index needs is read of a long film', async () => {
    const bytes = made('long.mp4', ...['-f', 'lavfi', '-i', 'mptestsrc=rate=25:duration=20'], '-qp', '0');
    let read = 0;
    expect(await heads(bytes, (length) => (read += length))).toMatchObject({ sort: 'film', width: 512 });
    expect(read).toBeLessThan(bytes.length / 2);
  });

  test('an IVF film tells what its head says', () => {
    const bytes = made('film.ivf', ...film, '-c:v', 'libvpx');
    expect(isIvf(bytes)).toBe(true);
    expect(readIvfHead(bytes)).toMatchObject({
      codec: 'VP8',
      width: 64,
      height: 48,
      pictureRate: 24,
      seconds: 2,
    });
    expect(() => readIvfHead(bytes.subarray(0, 20))).toThrow(FormatError);
    bytes.fill(0, 16, 20);
    expect(() => readIvfHead(bytes)).toThrow(/byte 16/);
  });

  test('damaged and foreign bytes tell nothing, and do not throw', async () => {
    const whole = made('cut.mp4', ...film);
    for (const length of [0, 7, 40, 400, whole.length - 10])
      await expect(heads(whole.subarray(0, length))).resolves.not.toThrow();
    await fc.assert(
      fc.asyncProperty(fc.uint8Array({ maxLength: 400 }), async (noise) => {
        expect(['undefined', 'object']).toContain(typeof (await heads(noise)));
      }),
      { numRuns: 40 },
    );
  });
});

const bytesOf = (text: string): Uint8Array => new TextEncoder().encode(text);

function glb(document: object, cut = 0): Uint8Array {
  const json = Buffer.from(JSON.stringify(document).padEnd(4, ' '));
  const head = Buffer.alloc(20);
  head.write('glTF');
  head.writeUInt32LE(2, 4);
  head.writeUInt32LE(20 + json.length, 8);
  head.writeUInt32LE(json.length, 12);
  head.writeUInt32LE(0x4e4f534a, 16);
  return new Uint8Array(Buffer.concat([head, json]).subarray(0, 20 + json.length - cut));
}

const HERON = {
  asset: { version: '2.0' },
  accessors: [{ count: 24 }, { count: 36 }, { count: 10 }],
  meshes: [
    { primitives: [{ attributes: { POSITION: 0 }, indices: 1 }] },
    { primitives: [{ attributes: { POSITION: 2 }, mode: 5 }] },
  ],
  materials: [{}],
  animations: [{}, {}],
  skins: [{ joints: [0, 1, 2] }],
};

describe('heads of models', () => {
  const expected = { vertices: 34, triangles: 20, meshes: 2, materials: 1, clips: 2, joints: 3 };

  test('glTF counts triangles of lists and strips, with and without a container', () => {
    expect(readModelHead(glb(HERON), 'glb')).toMatchObject({ format: 'glTF binary', ...expected });
    expect(readModelHead(bytesOf(JSON.stringify(HERON)), 'gltf')).toMatchObject({
      format: 'glTF',
      ...expected,
    });
  });

  test('a document that is none says why, with the place', () => {
    expect(() => readModelHead(glb(HERON, 30), 'glb')).toThrow(/byte 12/);
    expect(() => readModelHead(glb({ asset: {} }), 'glb')).toThrow(/version/);
    expect(() => readModelHead(bytesOf('{'), 'gltf')).toThrow(FormatError);
    const odd = glb(HERON);
    odd[16] = 0;
    expect(() => readModelHead(odd, 'glb')).toThrow(/byte 16/);
  });

  test('OBJ, STL and PLY tell what they count', () => {
    const obj = 'o a\nv 0 0 0\nv 1 0 0\nv 0 1 0\nv 1 1 0\nusemtl reed\nf 1 2 3 4\n';
    expect(readModelHead(bytesOf(obj), 'obj')).toMatchObject({
      vertices: 4,
      triangles: 2,
      meshes: 1,
      materials: 1,
    });
    const stl = new Uint8Array(84 + 3 * 50);
    stl[80] = 3;
    expect(readModelHead(stl, 'stl')).toMatchObject({ triangles: 3, vertices: 9 });
    expect(readModelHead(bytesOf('solid x\nfacet normal 0 0 1\nendfacet\nendsolid'), 'stl')).toMatchObject({
      triangles: 1,
    });
    const ply = 'ply\nformat ascii 1.0\nelement vertex 8\nelement face 12\nend_header\n';
    expect(readModelHead(bytesOf(ply), 'ply')).toMatchObject({ vertices: 8, triangles: 12 });
    expect(readModelHead(stl.subarray(0, 100), 'stl')).toBeUndefined();
    expect(readModelHead(bytesOf('ply\n'), 'ply')).toBeUndefined();
  });
});

const script = (tells: string): string => `
format script: 1
title: Box
recognise:
  - { at: 0, text: BOX1 }
byte order: little
records:
  head:
    tag: { type: text(4), fixed: BOX1 }
    width: u16
    seconds: u16
    spare: { type: bytes(2) }
parts:
  head: { type: head, at: 0 }
entries:
  each: head
  path: "'it'"
  payload: { field: spare }
tells:
${tells}`;

describe('what a script says that a file tells', () => {
  const bytes = new Uint8Array(Buffer.from('BOX1\x40\x00\x03\x00ab', 'latin1'));
  const told = (tells: string) =>
    tellsOf(openArchive(parseScript(script(tells)), memorySource(bytes), { primitives: nodePrimitives }));

  test('expressions over its fields, numbers and texts', () => {
    expect(told("  width: head.width\n  half: head.seconds / 2\n  name: head.tag + '!'\n")).toEqual([
      ['width', '64'],
      ['half', '1'],
      ['name', 'BOX1!'],
    ]);
  });

  test('what cannot be worked out is left out, the rest stays', () => {
    expect(told('  odd: head.width / (head.seconds - 3)\n  width: head.width\n')).toEqual([['width', '64']]);
  });

  test('titles that could not be searched for are refused with their line', () => {
    expect(() => parseScript(script("  'a b': head.width\n"))).toThrow(/a title of letters/);
  });
});
