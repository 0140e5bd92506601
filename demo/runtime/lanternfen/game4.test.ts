import { afterAll, describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import zlib from 'node:zlib';
import type { HoldEntry } from '../../world/hold-writer';
import { writeHold4 } from '../../world/hold4-writer';
import { FROST_KEY, FROSTWATER_KEY, programFile } from '../../world/lanternfen/program';
import { writeSheet } from '../../world/sheet-writer';
import { bell } from '../../world/sounds';
import { play } from './game';

const root = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-stand-in-4-'));
afterAll(() => fs.rmSync(root, { recursive: true, force: true }));

const scene = {
  backdrop: 'far/back.sheet',
  figure: 'pictures/figure.sheet',
  title: 'pictures/title.sheet',
  lines: 'text/en/all.lines',
  line: 'hello',
  voice: 'voice/en/hello.wav',
  water: 'sound/water.wav',
};
const picture = (red: number): Buffer =>
  writeSheet(
    { width: 16, height: 8, data: Buffer.alloc(16 * 8 * 4, Buffer.from([red, 20, 30, 255])) },
    'bc1',
    'colour',
  );
const entry = (name: string, data: Buffer): HoldEntry => ({ path: name, data: () => data });
/** Longer than a block, half of it of no order, so that packed and raw blocks stand in one payload. */
const long = Buffer.concat([
  Buffer.from('hello\tIt has frozen over.\n'),
  Buffer.alloc(150_000, 'more\tand more\n'),
]);

let count = 0;

/** A folder of Peatfire 4 with an open hold, a keyed one and one of an expansion. */
function game(change: (holds: string) => void = () => undefined): string {
  const folder = path.join(root, String(++count));
  const holds = path.join(folder, 'holds');
  fs.mkdirSync(holds, { recursive: true });
  fs.writeFileSync(path.join(folder, 'Lanternfen.bin'), programFile('frost test', 60_000, [FROST_KEY]));
  fs.writeFileSync(path.join(folder, 'frostwater.bin'), programFile('water test', 60_000, [FROSTWATER_KEY]));
  fs.writeFileSync(path.join(folder, 'settings.ini'), '[game]\nscene=pond\ntongue=en\n');
  const common = { roll: true, salt: Buffer.alloc(16, 5), title: '' };
  writeHold4(
    path.join(holds, 'a.hold'),
    [
      entry('scenes/pond.scene', Buffer.from(JSON.stringify(scene))),
      entry(scene.lines, long),
      entry(scene.water, bell(200)),
    ],
    { ...common, rank: 0 },
  );
  writeHold4(
    path.join(holds, 'b.hold'),
    [entry(scene.figure, picture(9)), entry(scene.title, picture(90)), entry(scene.voice, bell(300))],
    { ...common, rank: 1, key: FROST_KEY, rowsPerPage: 2 },
  );
  writeHold4(path.join(holds, 'c.hold'), [entry(scene.backdrop, picture(200))], {
    ...common,
    rank: 30,
    key: FROSTWATER_KEY,
    second: true,
    title: 'Water',
  });
  change(holds);
  return folder;
}

function stallOf(folder: string, version: 3 | 4 = 4): string {
  const { loaded, log } = play(folder, version);
  expect(loaded).toBe(false);
  const last = log.at(-1)!;
  return `${last.what}: ${last.detail}`;
}

/** Changes bytes of a hold; head and mirror are checked anew, so that the field itself is what stalls. */
function patched(name: string, change: (bytes: Buffer) => void, isHeadRight = true): string {
  return game((holds) => {
    const file = path.join(holds, name);
    const bytes = fs.readFileSync(file);
    change(bytes);
    if (isHeadRight) {
      bytes.writeUInt32LE(0, 92);
      bytes.writeUInt32LE(zlib.crc32(bytes.subarray(0, 96)), 92);
      Buffer.from(bytes.subarray(0, 96))
        .reverse()
        .copy(bytes, bytes.length - 96);
    }
    fs.writeFileSync(file, bytes);
  });
}

describe('the stand-in of the frost update', () => {
  test('loads open, keyed and expansion holds, and says what it took from where', () => {
    const { loaded, scene: shown, log } = play(game(), 4);
    expect(loaded).toBe(true);
    expect(shown!.line).toBe('It has frozen over.');
    expect(log.find(({ what }) => what === scene.backdrop)?.from).toBe('c.hold');
    expect(log.find(({ what }) => what === scene.figure)?.from).toBe('b.hold');
  });

  test('the stand-in of Peatfire 3 mounts none of its holds, and says which version it met', () => {
    expect(stallOf(game(), 3)).toBe('a.hold: version: 4 instead of 3');
  });

  test('without the program of the expansion its hold has no key', () => {
    const folder = game();
    fs.rmSync(path.join(folder, 'frostwater.bin'));
    expect(stallOf(folder)).toContain('c.hold: ring');
  });

  test('without settings it says which file is missing', () => {
    const folder = game();
    fs.rmSync(path.join(folder, 'settings.ini'));
    expect(stallOf(folder)).toContain('settings.ini: file: it is missing');
  });

  test.each<[string, string, (bytes: Buffer) => void, string]>([
    ['tag', 'a.hold', (bytes) => bytes.write('X', 0), 'tag'],
    ['version', 'a.hold', (bytes) => bytes.writeUInt16LE(5, 8), 'version'],
    ['count', 'a.hold', (bytes) => bytes.writeUInt32LE(9, 16), 'entry count'],
    ['file size', 'a.hold', (bytes) => bytes.writeUInt32LE(9, 24), 'file size'],
    ['page count', 'b.hold', (bytes) => bytes.writeUInt32LE(7, 52), 'page count'],
    ['ring', 'b.hold', (bytes) => bytes.writeUInt32LE(7, 64), 'ring'],
    ['title', 'c.hold', (bytes) => bytes.write('X', 72), 'title check'],
    ['page tag', 'a.hold', (bytes) => bytes.write('X', 96), 'page 0 tag'],
    ['page check', 'b.hold', (bytes) => (bytes[96 + 34]! ^= 1), 'page 0 check'],
    ['payload', 'c.hold', (bytes) => (bytes[96 + 32 + 40 + 30]! ^= 1), 'c.hold, far/back.sheet'],
  ])('one wrong byte in the %s stalls and names it', (_what, hold, change, named) => {
    expect(stallOf(patched(hold, change))).toContain(named);
  });

  test('a head that does not check, and an end that does not mirror it', () => {
    expect(stallOf(patched('a.hold', (bytes) => (bytes[60]! ^= 1), false))).toContain('head check');
    expect(stallOf(patched('a.hold', (bytes) => (bytes[bytes.length - 5]! ^= 1), false))).toContain('mirror');
  });
});
