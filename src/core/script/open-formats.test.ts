import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { nodePrimitives } from '@/platform/node/primitives';
import { readScriptFile } from '@/platform/node/script-shelf';
import { openArchive, type Archive } from '../archive';
import { collect, FormatError, memorySource, refOfBytes } from '../bytes';
import { planArchive, proveArchive } from '../mod';
import { BytesBuilder } from '../testing/bytes-builder';
import { emitted, failure } from '../testing/holds';
import { expectCutsAreSeen, expectRoundTrip } from '../testing/round-trip';

/** The scripts of open formats against files that ordinary tools make, and those tools against what they write. */
const options = { primitives: nodePrimitives };
const LONG = `in/${'n'.repeat(120)}.txt`;
const FILES: Record<string, Buffer> = {
  'in/one.txt': Buffer.from('hello\n'),
  'in/deep/two.txt': Buffer.from(Array.from({ length: 3000 }, (_, i) => `line ${i}\n`).join('')),
  'in/empty': Buffer.alloc(0),
  'in/noise.bin': Buffer.from(Array.from({ length: 70_001 }, (_, i) => (i * i * 31 + (i >> 3)) & 0xff)),
  [LONG]: Buffer.from('x'),
};
const CHANGED = Buffer.from('something else, and of an odd length');

let folder: string;
const at = (name: string): string => path.join(folder, name);
const run = (command: string, ...args: string[]): Buffer => execFileSync(command, args, { cwd: folder });

beforeAll(() => {
  folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-open-'));
  for (const [name, bytes] of Object.entries(FILES)) {
    fs.mkdirSync(path.dirname(at(name)), { recursive: true });
    fs.writeFileSync(at(name), bytes);
  }
  for (const format of ['gnu', 'posix']) run('tar', `--format=${format}`, '-cf', `${format}.tar`, 'in');
  run(
    'tar',
    '--format=ustar',
    '-cf',
    'ustar.tar',
    'in/one.txt',
    'in/deep/two.txt',
    'in/empty',
    'in/noise.bin',
  );
  run('ar', 'rc', 'short.a', 'in/one.txt', 'in/deep/two.txt', 'in/noise.bin', 'in/empty', LONG);
  run('zip', '-qr', 'deflated.zip', 'in');
  run('zip', '-qr0', 'stored.zip', 'in');
  execFileSync('zip', ['-qz', 'stored.zip'], { cwd: folder, input: 'a comment of the archive' });
  // What comes through a pipe has its sizes behind it, and in 64 bits.
  fs.writeFileSync(
    at('piped.zip'),
    execFileSync('zip', ['-q', '-', '-'], { cwd: folder, input: FILES['in/deep/two.txt'] }),
  );
  run('ffmpeg', '-v', 'error', '-f', 'lavfi', '-i', 'sine=d=1', 'tone.wav');
  run(
    'ffmpeg',
    '-v',
    'error',
    '-f',
    'lavfi',
    '-i',
    'testsrc=d=1:s=64x64',
    '-f',
    'lavfi',
    '-i',
    'sine=d=1',
    'film.avi',
  );
});
afterAll(() => fs.rmSync(folder, { recursive: true }));

const open = (script: string, bytes: Uint8Array): Archive =>
  openArchive(readScriptFile(`scripts/formats/${script}.yaml`), memorySource(bytes, script), options);
const read = (name: string): Uint8Array => new Uint8Array(fs.readFileSync(at(name)));
const plain = (archive: Archive, index: number): Buffer =>
  Buffer.from(collect(archive.plain(archive.entries[index]!)));

describe.each([
  ['tar', 'gnu.tar', true],
  ['tar', 'posix.tar', true],
  ['tar', 'ustar.tar', true],
  ['ar', 'short.a', false],
  ['zip', 'deflated.zip', true],
  ['zip', 'stored.zip', true],
  ['zip', 'piped.zip', false],
  ['riff', 'tone.wav', false],
  ['riff', 'film.avi', false],
] as const)('%s: %s', (script, file, hasPaths) => {
  test('every byte is explained, and the proof holds', () => {
    const archive = open(script, read(file));
    expect(archive.coverage).toMatchObject({ gaps: [], overlaps: [] });
    expect(proveArchive(archive, options)).toMatchObject({ holds: true });
  });

  test('entries are the files that went in', () => {
    const archive = open(script, read(file));
    if (hasPaths)
      for (const { index, path: name } of archive.entries)
        expect(plain(archive, index).equals(FILES[name]!)).toBe(true);
    expect(archive.entries.length).toBeGreaterThan(0);
  });

  test('each entry can be changed, the others stay, and the result proves itself', () => {
    const archive = open(script, read(file));
    for (const { index } of archive.entries.slice(0, 6)) {
      const built = open(script, emitted(planArchive(archive, new Map([[index, refOfBytes(CHANGED)]]))));
      expect(plain(built, index).equals(CHANGED)).toBe(true);
      for (const other of archive.entries)
        if (other.index !== index)
          expect(plain(built, other.index).equals(plain(archive, other.index))).toBe(true);
      expect(proveArchive(built, options)).toMatchObject({ holds: true });
    }
  });

  test('cut anywhere, it says where it broke or opens to what is whole', () => {
    const bytes = read(file);
    for (let i = 1; i < 60; i++) {
      const length = Math.floor((bytes.length * i) / 60);
      try {
        const archive = open(script, bytes.subarray(0, length));
        for (const entry of archive.entries)
          expect(entry.offset + entry.storedSize).toBeLessThanOrEqual(length);
      } catch (error) {
        expect(error).toBeInstanceOf(FormatError);
        expect((error as FormatError).facts.fieldPath ?? (error as FormatError).code).toBeTruthy();
      }
    }
  });
});

describe('the tools read what was written', () => {
  function rewritten(script: string, file: string, name: string): void {
    const archive = open(script, read(file));
    const entry = archive.entries.find((one) => one.path.endsWith(name))!;
    fs.writeFileSync(
      at(`new-${file}`),
      emitted(planArchive(archive, new Map([[entry.index, refOfBytes(CHANGED)]]))),
    );
  }

  test.each(['gnu.tar', 'posix.tar', 'ustar.tar'])('%s', (file) => {
    rewritten('tar', file, 'two.txt');
    expect(run('tar', '-xOf', `new-${file}`, 'in/deep/two.txt').equals(CHANGED)).toBe(true);
    expect(run('tar', '-xOf', `new-${file}`, 'in/noise.bin').equals(FILES['in/noise.bin']!)).toBe(true);
  });

  test('ar', () => {
    rewritten('ar', 'short.a', 'two.txt');
    expect(run('ar', 'p', 'new-short.a', 'two.txt').equals(CHANGED)).toBe(true);
    expect(run('ar', 'p', 'new-short.a', 'noise.bin').equals(FILES['in/noise.bin']!)).toBe(true);
  });

  test.each(['deflated.zip', 'stored.zip', 'piped.zip'])('%s', (file) => {
    rewritten('zip', file, file === 'piped.zip' ? '-' : 'two.txt');
    expect(run('unzip', '-tq', `new-${file}`).toString()).toContain('No errors');
    expect(
      run('unzip', '-p', `new-${file}`, file === 'piped.zip' ? '-' : 'in/deep/two.txt').equals(CHANGED),
    ).toBe(true);
  });

  test('a film plays on with another tag in it', () => {
    rewritten('riff', 'film.avi', '-ISFT');
    const before = run('ffmpeg', '-v', 'error', '-i', 'film.avi', '-f', 'md5', '-').toString();
    expect(run('ffmpeg', '-v', 'error', '-i', 'new-film.avi', '-f', 'md5', '-').toString()).toBe(before);
  });
});

test('glTF binary: chunks of four bytes are changed, others refused', () => {
  const json = '{"asset":{"version":"2.0"}}'.padEnd(28, ' ');
  const out = new BytesBuilder()
    .raw('glTF')
    .number(2, 4)
    .number(12 + 8 + 28 + 8 + 8, 4);
  out.number(28, 4).raw('JSON').raw(json).number(8, 4).raw('BIN\0').raw('12345678');
  const script = readScriptFile('scripts/formats/gltf-binary.yaml');
  expectRoundTrip(script, out.bytes(), { '0.json': json, '1.bin': '12345678' }, options, [
    'abcd',
    'x'.repeat(48),
  ]);
  expectCutsAreSeen(script, out.bytes());
  const archive = open('gltf-binary', out.bytes());
  expect(failure(() => planArchive(archive, new Map([[0, refOfBytes(Buffer.from('{} '))]]))).code).toBe(
    'does-not-fit',
  );
});

test('DDS: the head is kept, the levels are one entry', () => {
  const head = new BytesBuilder()
    .raw('DDS ')
    .number(124, 4)
    .number(0x1007, 4)
    .number(4, 4)
    .number(4, 4)
    .fill(76);
  head.number(32, 4).number(4, 4).raw('DXT1').fill(128);
  const script = readScriptFile('scripts/formats/dds.yaml');
  expectRoundTrip(
    script,
    head.raw('8 bytes.').raw('more one').bytes(),
    { levels: '8 bytes.more one' },
    options,
  );
  const wide = new BytesBuilder()
    .raw('DDS ')
    .number(124, 4)
    .fill(76)
    .number(32, 4)
    .number(4, 4)
    .raw('DX10')
    .fill(128);
  expect(
    open('dds', wide.number(98, 4).fill(148).raw('after the longer head').bytes()).entries[0]!.offset,
  ).toBe(148);
});

test('a derived field that is false is named', () => {
  const bytes = read('gnu.tar');
  bytes[148 + 2]! ^= 1;
  expect(failure(() => open('tar', bytes))).toMatchObject({
    code: 'derived-mismatch',
    facts: { fieldPath: 'members[0].head.check', byteOffset: 148 },
  });
});
