import { afterAll, beforeAll, expect, test } from '@jest/globals';
import fs from 'node:fs';
import path from 'node:path';
import { collect } from '@/core/bytes';
import { ArchiveRow } from '@/db';
import type { GameView } from '../games/games';
import { TestBed } from '../testing/bed';
import { keepOpened, withOpened } from './held';
import { ArchivesInTurn, openedArchive, type OpenedArchive } from './opened';

const bed = new TestBed();
let game: GameView;
/** Numbers of the archives, by their names. */
let ids: Map<string, number>;
const NAMES = Array.from({ length: 20 }, (_, i) => `part${String(i).padStart(2, '0')}.zip`);

const scanned = async (): Promise<void> => {
  await bed.scan(game);
  ids = new Map(
    (await ArchiveRow.findAll({ where: { gameId: game.id } })).map(({ path: at, id }) => [at, id]),
  );
};
beforeAll(async () => {
  await bed.begin();
  game = await bed.game(
    'Parts',
    Object.fromEntries(NAMES.map((name) => [name, { 'a.txt': `the text of ${name}` }])),
  );
  const inner = path.join(bed.folder, 'inner.zip');
  bed.zip(inner, { 'deep.txt': 'what lies deep' });
  bed.zipBytes(path.join(game.folder, 'outer.zip'), { 'inner.zip': fs.readFileSync(inner) });
  await scanned();
});
afterAll(() => bed.end());

const open = (name: string): Promise<OpenedArchive> => openedArchive(game.id, ids.get(name)!);
const textOf = ({ archive }: OpenedArchive): string =>
  Buffer.from(collect(archive.plain(archive.entries[0]!))).toString();
/** Opens all archives but one, as other requests would. */
const others = async (but: string): Promise<void> => {
  for (const name of NAMES) if (name !== but) await open(name);
};

test('what a request has open stays so, whatever others open meanwhile', async () => {
  await withOpened(async () => {
    const first = await open(NAMES[0]!);
    await withOpened(() => others(NAMES[0]!));
    expect(textOf(first)).toBe(`the text of ${NAMES[0]}`);
  });
  const stale = await withOpened(() => open(NAMES[0]!));
  await others(NAMES[0]!);
  // Once nobody reads from it any more it is closed.
  expect(() => textOf(stale)).toThrow();
});

test('a stream keeps it open until it is over, however often that is said', async () => {
  const { opened, over } = await withOpened(async () => {
    const asked = await open(NAMES[1]!);
    return { opened: asked, over: keepOpened() };
  });
  await withOpened(() => others(NAMES[1]!));
  expect(textOf(opened)).toBe(`the text of ${NAMES[1]}`);
  over();
  over();
  expect(() => textOf(opened)).toThrow();
});

test('one request looks an archive up once', async () => {
  await withOpened(async () => {
    const [one, other] = await Promise.all([open(NAMES[2]!), open(NAMES[2]!)]);
    expect(other).toBe(one);
    expect(await open(NAMES[2]!)).toBe(one);
  });
  const [one, other] = [await withOpened(() => open(NAMES[2]!)), await withOpened(() => open(NAMES[2]!))];
  expect(other).not.toBe(one);
  // Between requests the archive itself stays open.
  expect(other.archive).toBe(one.archive);
});

test('an archive within another one is read while both would have been closed', async () => {
  const within = [...ids.keys()].find((at) => at.startsWith('outer.zip//'))!;
  await withOpened(async () => {
    const inner = await open(within);
    await withOpened(() => others(''));
    expect(textOf(inner)).toBe('what lies deep');
  });
});

test('a file that changed is opened anew, and whoever reads the old one reads that', async () => {
  const name = NAMES[3]!;
  await withOpened(async () => {
    const old = await open(name);
    const file = path.join(game.folder, name);
    fs.rmSync(file);
    bed.zip(file, { 'a.txt': 'a new text' });
    await withOpened(async () => {
      await scanned();
      expect(textOf(await open(name))).toBe('a new text');
    });
    expect(textOf(old)).toBe(`the text of ${name}`);
  });
});

test('of archives that are gone through the one at hand stays open, and the one before is let go', async () => {
  const inTurn = new ArchivesInTurn(game.id);
  const first = await inTurn.archive(ids.get(NAMES[4]!)!);
  expect(await inTurn.archive(ids.get(NAMES[4]!)!)).toBe(first);
  await withOpened(() => others(NAMES[4]!));
  expect(textOf(first)).toBe(`the text of ${NAMES[4]}`);
  const second = await inTurn.archive(ids.get(NAMES[5]!)!);
  expect(() => textOf(first)).toThrow('closed');
  expect(textOf(second)).toBe(`the text of ${NAMES[5]}`);
  inTurn.end();
  await expect(inTurn.archive(0)).rejects.toThrow('is not there');
});

test('what goes on after its request holds nothing open by it', async () => {
  let later: Promise<OpenedArchive> | undefined;
  await withOpened(() => {
    later = new Promise((resolve) => setTimeout(resolve, 5)).then(() => open(NAMES[6]!));
    return Promise.resolve();
  });
  const opened = await later!;
  expect(textOf(opened)).toBe(`the text of ${NAMES[6]}`);
  await others(NAMES[6]!);
  expect(() => textOf(opened)).toThrow('closed');
});
