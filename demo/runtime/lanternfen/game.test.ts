import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import zlib from 'node:zlib';
import { nameHash, writeHold, type HoldEntry } from '../../world/hold-writer';
import { GAME_KEY, programFile } from '../../world/lanternfen/program';
import { writeSheet } from '../../world/sheet-writer';
import { bell } from '../../world/sounds';
import { play } from './game';

const root = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-stand-in-'));
afterAll(() => fs.rmSync(root, { recursive: true, force: true }));

const scene = {
  backdrop: 'pictures/back.sheet',
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

/** A game with other contents than the demo's. */
function files(changes: Record<string, Buffer | undefined> = {}): HoldEntry[] {
  const all: Record<string, Buffer | undefined> = {
    'scenes/cellar.scene': Buffer.from(JSON.stringify(scene)),
    [scene.backdrop]: picture(10),
    [scene.figure]: picture(200),
    [scene.title]: picture(90),
    [scene.lines]: Buffer.from('hello\tGood evening from the cellar.\n'),
    [scene.voice]: bell(300),
    [scene.water]: bell(200),
    ...changes,
  };
  return Object.entries(all).flatMap(([name, data]) => (data ? [{ path: name, data: () => data }] : []));
}

let count = 0;

function game(entries = files(), more: HoldEntry[] = []): string {
  const folder = path.join(root, String(++count));
  fs.mkdirSync(path.join(folder, 'holds'), { recursive: true });
  fs.writeFileSync(path.join(folder, 'Lanternfen.bin'), programFile('test', 60_000, [GAME_KEY]));
  fs.writeFileSync(path.join(folder, 'settings.ini'), '[game]\nscene=cellar\ntongue=en\n');
  writeHold(path.join(folder, 'holds', 'one.hold'), entries, {
    key: GAME_KEY,
    roll: true,
    rank: 1,
    salt: Buffer.alloc(16, 3),
  });
  if (more.length > 0)
    writeHold(path.join(folder, 'holds', 'two.hold'), more, {
      key: GAME_KEY,
      roll: false,
      rank: 5,
      salt: Buffer.alloc(16, 4),
    });
  return folder;
}

const stallOf = (folder: string): string => {
  const { loaded, log } = play(folder);
  expect(loaded).toBe(false);
  const last = log.at(-1)!;
  expect(last.sort).toBe('stall');
  return `${last.what}: ${last.detail}`;
};

describe('the stand-in', () => {
  test('loads a folder of other contents and says what it took from where', () => {
    const { loaded, scene: shown, log } = play(game());
    expect(loaded).toBe(true);
    expect(shown).toMatchObject({ name: 'cellar', line: 'Good evening from the cellar.' });
    [200, 20, 30, 255].forEach((value, c) =>
      expect(Math.abs(shown!.figure.rgba[c]! - value)).toBeLessThan(9),
    );
    expect(log.filter(({ sort }) => sort === 'took').every(({ from }) => from === 'one.hold')).toBe(true);
  });

  test('a hold of higher rank overrides', () => {
    const { scene: shown, log } = play(
      game(files(), [{ path: scene.lines, data: () => Buffer.from('hello\tOverridden.\n') }]),
    );
    expect(shown!.line).toBe('Overridden.');
    expect(log.find(({ what }) => what === scene.lines)!.from).toBe('two.hold');
  });

  test.each([
    [
      'a sheet that is none',
      { [scene.figure]: Buffer.from('hello there, this is no sheet at all') },
      'sheet tag',
    ],
    ['a missing entry', { [scene.voice]: undefined }, 'no hold has it'],
    ['a missing line', { [scene.lines]: Buffer.from('bye\tx\n') }, 'there is no such line'],
    [
      'lines in another encoding',
      { [scene.lines]: Buffer.from('hello\tgr\xfc\xdfe\n', 'latin1') },
      'lines must be UTF-8',
    ],
    ['a scene that cannot be read', { 'scenes/cellar.scene': Buffer.from('{') }, 'cannot be read'],
  ])('stalls at %s', (_what, changes, expected) => {
    expect(stallOf(game(files(changes)))).toContain(expected);
  });

  test.each([
    [20, 'wave format', (b: Buffer) => b.writeUInt16LE(17, 20)],
    [22, 'wave channels', (b: Buffer) => b.writeUInt16LE(2, 22)],
    [24, 'wave rate', (b: Buffer) => b.writeUInt32LE(44100, 24)],
    [4, 'wave length', (b: Buffer) => b.writeUInt32LE(5, 4)],
    [0, 'wave head', (b: Buffer) => b.write('JUNK', 0)],
  ])('stalls at a wave whose field at %i is wrong: %s', (_at, field, change) => {
    const voice = bell(300);
    change(voice);
    expect(stallOf(game(files({ [scene.voice]: voice })))).toContain(field);
  });

  test.each([
    ['sheet layout', (b: Buffer) => (b[6] = 9)],
    ['sheet size', (b: Buffer) => b.writeUInt16LE(0, 8)],
    ['sheet length', (b: Buffer) => b.writeUInt32LE(1, 12)],
    ['sheet check', (b: Buffer) => (b[40]! ^= 1)],
    ['sheet levels', (b: Buffer) => (b[7] = 2)],
  ])('stalls at a sheet whose %s is wrong', (field, change) => {
    const bytes = picture(50);
    change(bytes);
    expect(stallOf(game(files({ [scene.title]: bytes })))).toContain(field);
  });
});

describe('one flipped byte in each checked field of a hold', () => {
  let good: Buffer;
  let folder: string;
  const file = (): string => path.join(folder, 'holds', 'one.hold');
  beforeAll(() => {
    folder = game();
    good = fs.readFileSync(file());
  });

  const headAgain = (b: Buffer): void => {
    b.writeUInt32LE(zlib.crc32(b.subarray(0, 60)), 60);
    Buffer.from(b.subarray(0, 64))
      .reverse()
      .copy(b, b.length - 64);
  };

  test.each([
    ['tag', 0, false],
    ['version', 8, true],
    ['head check', 33, false],
    ['head check', 60, false],
    ['file size', 24, true],
    ['entry count', 12, true],
    ['page count', 16, true],
    ['roll tag', 48, true],
    ['mirror', -1, false],
    ['page 0 tag', 64, false],
    ['page 0 number', 70, false],
    ['page 0 check', 76, false],
    ['page 0 check', 90, false],
  ] as const)('stalls at %s (byte %i)', (field, at, mend) => {
    const bytes = Buffer.from(good);
    bytes[at < 0 ? bytes.length + at : at]! ^= 4;
    if (mend) headAgain(bytes);
    fs.writeFileSync(file(), bytes);
    expect(stallOf(folder)).toContain(field);
  });

  test('stalls at a payload that does not check, and at one that cannot be unpacked', () => {
    const seen = new Set<string>();
    for (let at = 700; at < 1400; at += 23) {
      const bytes = Buffer.from(good);
      bytes[at]! ^= 0x10;
      fs.writeFileSync(file(), bytes);
      const { log } = play(folder);
      seen.add(log.at(-1)!.detail.split(':')[0]!);
    }
    expect([...seen].some((field) => ['check', 'packing', 'block table', 'size'].includes(field))).toBe(true);
  });

  test('stalls at a missing program and a folder without holds', () => {
    fs.rmSync(path.join(folder, 'holds'), { recursive: true });
    expect(stallOf(folder)).toContain('the engine');
  });
});

describe('sheets that belong together', () => {
  const [near, far] = ['ground/planks_near.sheet', 'ground/planks_far.sheet'];
  const plain = (side: number, layout: 'bc1' | 'bc3'): Buffer =>
    writeSheet({ width: side, height: side, data: Buffer.alloc(side * side * 4, 90) }, layout, 'near');
  const link = (nearSide: number, farSide: number): Buffer => {
    const out = Buffer.alloc(32);
    out.write('LINK');
    out.writeUInt32LE(1, 4);
    out.writeBigUInt64LE(nameHash(near), 8);
    out.writeBigUInt64LE(nameHash(far), 16);
    out.writeUInt32LE(nearSide, 24);
    out.writeUInt32LE(farSide, 28);
    return out;
  };
  const whole = (): Record<string, Buffer | undefined> => ({
    'scenes/cellar.scene': Buffer.from(JSON.stringify({ ...scene, ground: near, glass: near, cape: far })),
    [near]: plain(64, 'bc1'),
    [far]: plain(16, 'bc1'),
    'links/sheets.links': link(64, 16),
  });

  test('are shown, the far half by its hash alone', () => {
    const run = play(game(files(whole())));
    expect(run.loaded).toBe(true);
    expect(Object.keys(run.scene!.more).sort()).toEqual(['cape', 'glass', 'ground far', 'ground near']);
    expect(run.log.some(({ what }) => what === `#${nameHash(far).toString(16).padStart(16, '0')}`)).toBe(
      true,
    );
  });

  test.each([
    ['a missing far half', { [far]: undefined }, 'no hold has it'],
    ['a far half of another size', { [far]: plain(32, 'bc1') }, 'the far half is 32 wide, the link says 16'],
    [
      'a near half of another size',
      { [near]: plain(32, 'bc1') },
      'the near half is 32 wide, the link says 64',
    ],
    ['halves in two codecs', { [far]: plain(16, 'bc3') }, 'the halves are in two codecs'],
    ['no table', { 'links/sheets.links': undefined }, 'no hold has it'],
    ['a table of something else', { 'links/sheets.links': Buffer.alloc(32) }, 'this is no table of links'],
    ['a table that is cut', { 'links/sheets.links': link(64, 16).subarray(0, 30) }, '1 links, but 30 bytes'],
    [
      'a table without the link',
      { 'links/sheets.links': Buffer.concat([Buffer.from('LINK'), Buffer.alloc(4)]) },
      'no link has it',
    ],
  ])('%s stalls', (_what, changes, detail) => {
    const run = play(game(files({ ...whole(), ...changes })));
    expect(run.loaded).toBe(false);
    expect(run.log.at(-1)!.detail).toContain(detail);
  });
});
