import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { versionsInProgram, versionsInText } from './versions';

let folder: string;
beforeAll(() => {
  folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-versions-'));
});
afterAll(() => fs.rmSync(folder, { recursive: true, force: true }));

const program = (...parts: Buffer[]): string => {
  const file = path.join(folder, `${Math.random()}.bin`);
  fs.writeFileSync(file, Buffer.concat(parts));
  return file;
};

/** The fixed part of a version resource: mark, structure version, file version as two words. */
function resource(...[a, b, c, d]: [number, number, number, number]): Buffer {
  const bytes = Buffer.alloc(52);
  bytes.writeUInt32LE(0xfeef04bd, 0);
  bytes.writeUInt32LE(0x00010000, 4);
  bytes.writeUInt32LE(a * 65536 + b, 8);
  bytes.writeUInt32LE(c * 65536 + d, 12);
  return bytes;
}

describe('versions in a program', () => {
  test('in its version resource, with its place', () =>
    expect(versionsInProgram(program(Buffer.alloc(1000, 1), resource(4, 0, 2, 77)), [])).toEqual([
      { what: 'version 4.0.2.77', byteOffset: 1000, how: 'its version resource' },
    ]));

  test('beside the name of an engine, also across the border of two pieces', () => {
    const at = (1 << 20) - 5;
    const file = program(Buffer.alloc(at), Buffer.from('Peatfire 4.1 by somebody\0'), Buffer.alloc(100));
    expect(versionsInProgram(file, ['Peatfire'])).toEqual([
      { what: 'Peatfire 4.1', byteOffset: at, how: 'the text "Peatfire 4.1 by somebody"' },
    ]);
  });

  test('no more than a few, and none in noise, an empty file, or a resource that is cut', () => {
    const many = Buffer.from(Array.from({ length: 50 }, (_, i) => `Peatfire ${i}.0\0`).join(''));
    expect(versionsInProgram(program(many), ['Peatfire']).length).toBeLessThanOrEqual(50);
    expect(versionsInProgram(program(Buffer.alloc(0)), ['Peatfire'])).toEqual([]);
    expect(versionsInProgram(program(resource(1, 2, 3, 4).subarray(0, 12)), [])).toEqual([]);
    expect(versionsInProgram(program(Buffer.from('Peat.fire 3')), ['Peat*fire'])).toEqual([]);
  });
});

describe('versions in a text', () => {
  test('of the engine, and of the game', () =>
    expect(versionsInText('Größe\nLanternfen on Peatfire 4\nversion = 4.0.1\n', ['Peatfire'])).toEqual([
      { what: 'Peatfire 4', byteOffset: 22, how: 'the text "Peatfire 4"' },
      { what: 'version 4.0.1', byteOffset: 33, how: 'the text "version = 4.0.1"' },
    ]));

  test('numbers alone are none', () => expect(versionsInText('1.2.3 of 4.5', ['Peatfire'])).toEqual([]));
});
