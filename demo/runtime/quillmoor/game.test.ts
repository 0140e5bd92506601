import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { buildQuillmoor, PROJECT_SEED } from '../../world/quillmoor/build';
import { selfSaid, type Plain } from '../../world/quillmoor/cbor';
import { masked } from '../../world/quillmoor/mask';
import { storyTables } from '../../world/quillmoor/tables';
import { play, type Run } from './game';

const root = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-stand-in-'));
afterAll(() => fs.rmSync(root, { recursive: true, force: true }));
beforeAll(() => buildQuillmoor(path.join(root, 'demo')));

type Rows = Record<string, Plain>[];
let count = 0;
/** The project with some of its tables or files otherwise. */
function runOf({
  tables = () => undefined,
  files = () => undefined,
}: {
  readonly tables?: (all: Record<string, Rows>) => void;
  readonly files?: (put: (name: string, change: (bytes: Buffer) => Buffer) => void, folder: string) => void;
} = {}): Run {
  const folder = path.join(root, String(++count));
  fs.cpSync(path.join(root, 'demo'), folder, { recursive: true });
  const all = storyTables() as Record<string, Rows>;
  tables(all);
  for (const [name, rows] of Object.entries(all)) {
    const leaf = masked(selfSaid(rows), `${name}.leaf`, PROJECT_SEED.readUInt32LE());
    fs.writeFileSync(path.join(folder, 'tables', `${name}.leaf`), leaf);
  }
  files((name, change) => {
    const file = path.join(folder, name);
    fs.writeFileSync(file, change(fs.readFileSync(file)));
  }, folder);
  return play(folder);
}

const stallOf = ({ log, loaded }: Run): string => {
  expect(loaded).toBe(false);
  const { what, detail } = log.findLast(({ sort }) => sort === 'stall')!;
  return `${what} ${detail}`;
};
const flip =
  (at: number) =>
  (bytes: Buffer): Buffer => {
    bytes[at] = bytes[at]! ^ 0x10;
    return bytes;
  };

describe('the letter game', () => {
  test('walks from place to place, plays scenes, and keeps a promise that was made', () => {
    const { loaded, log, moor } = runOf();
    expect(loaded).toBe(true);
    expect(moor!.kept).toHaveLength(1);
    const promise = String(moor!.kept[0]!.what);
    const told = log.map(({ what, detail }) => `${what}: ${detail}`);
    expect(told.some((line) => line.endsWith(`a promise is kept: ${promise}`))).toBe(true);
    expect(told).toContain('causeway: walked jetty, causeway');
    expect(log.filter(({ sort }) => sort === 'took').map(({ what }) => what)).toContain('tables/people.leaf');
    expect(moor!.ground[0]).toHaveLength(Number(moor!.place.across));
    expect([...moor!.plates.keys()]).toContain('people/ibis_wary');
  });

  test('shows what was changed: another mood, another word, another home for a scene', () => {
    const { moor, log } = runOf({
      tables: ({ people, weathers, scenes }) => {
        people![1] = { ...people![1], mood: 2 };
        weathers![10] = { ...weathers![10], name: 'hail of ink' };
        scenes![0] = { ...scenes![0], place: 305 };
      },
    });
    expect([...moor!.plates.keys()]).toContain('people/ibis_glad');
    expect(moor!.sky.name).toBe('hail of ink');
    expect(log.some(({ detail }) => detail.startsWith('walked toll_bell'))).toBe(true);
  });

  test.each<readonly [string, (all: Record<string, Rows>) => void, string]>([
    [
      'a number that leads nowhere',
      (all) => (all.people![3]!.home = 999),
      'people.leaf row 103, home: 999 is no row of places',
    ],
    [
      'one within a list',
      (all) => (all.places![0]!.tiles = [50, 51, 99]),
      'places.leaf row 300, tiles 3: 99 is no row of grounds',
    ],
    [
      'one within a record of a list',
      (all) => (all.recipes![0]!.from = [{ item: 5, count: 1 }]),
      'recipes.leaf row 400, from 1.item: 5 is no row of items',
    ],
    [
      'a promise of the older draft',
      (all) => (all.scenes![0]!.makes = 2901),
      'scenes.leaf row 600, makes: 2901 is no row of promises',
    ],
    [
      'a field that is gone',
      (all) => delete all.letters![2]!.text,
      'letters.leaf row 1002, text: the engine looks for this field',
    ],
    [
      'a text for a number',
      (all) => (all.items![0]!.price = '12'),
      'items.leaf row 800, price: a number has to be here',
    ],
    [
      'a mood that nobody has',
      (all) => (all.people![0]!.mood = 4),
      'people.leaf row 100, mood: 4 is no whole number from 0 to 3',
    ],
    [
      'a fraction',
      (all) => (all.items![0]!.price = 1.5),
      'items.leaf row 800, price: 1.5 is no whole number',
    ],
    [
      'two rows of one number',
      (all) => (all.items![1]!.id = 800),
      'items.leaf row 800: there are two of this number',
    ],
    ['a row without a number', (all) => delete all.items![1]!.id, 'items.leaf row 2: it has no number'],
    [
      'ground that fills no row',
      (all) => (all.places![10]!.across = 7),
      'places.leaf row 310, tiles: 80 do not fill rows of 7',
    ],
    [
      'a place that no way leads to',
      (all) => (all.places![0]!.near = [300]),
      'places.leaf row 300, near: no way leads from jetty to causeway',
    ],
    [
      'a step that there is not',
      (all) => (all.scenes![7]!.steps = Buffer.from([9])),
      'scenes.leaf row 607, steps at 0: there is no step 9',
    ],
    [
      'a step that is cut off',
      (all) => (all.scenes![7]!.steps = Buffer.from([3, 1])),
      'scenes.leaf row 607, steps at 0: the step is cut off',
    ],
    [
      'a jump to where no step begins',
      (all) => (all.scenes![7]!.steps = Buffer.from([5, 0xd0, 7, 3, 0, 0])),
      'steps at 0: it goes on at 3, where no step begins',
    ],
    [
      'a step that means no row',
      (all) => (all.scenes![7]!.steps = Buffer.from([3, 1, 0, 0])),
      'steps at 0: 1 is no row of promises',
    ],
    [
      'steps that go in a circle',
      (all) => (all.scenes![0]!.steps = Buffer.from([5, 0xd0, 7, 0, 0])),
      'scenes.leaf row 600, steps: they go in a circle at 0',
    ],
  ])('%s stalls it', (_, tables, said) => {
    expect(stallOf(runOf({ tables }))).toContain(said);
  });

  test.each<readonly [string, string, (bytes: Buffer) => Buffer, string]>([
    [
      'a table under the mask of another name',
      'tables/people.leaf',
      () => masked(selfSaid([]), 'persons.leaf', PROJECT_SEED.readUInt32LE()),
      'people.leaf mask: what comes out from under it is no table',
    ],
    ['a table without a mask', 'tables/items.leaf', () => selfSaid([]), 'items.leaf mask'],
    ['a table that is cut', 'tables/items.leaf', (bytes) => bytes.subarray(0, -9), 'the table ends'],
    [
      'a table with bytes behind it',
      'tables/items.leaf',
      (bytes) => Buffer.concat([bytes, bytes]),
      'bytes behind the table',
    ],
    [
      'a picture whose bytes do not check',
      'plates/grounds/peat.plate',
      flip(60),
      'plates/grounds/peat.plate',
    ],
    [
      'a picture that is cut',
      'plates/people/ibis_wary.plate',
      (bytes) => bytes.subarray(0, 300),
      'plates/people/ibis_wary.plate',
    ],
    [
      'a picture without its mask',
      'plates/people/ibis_wary.plate',
      (bytes) => masked(bytes, 'ibis_wary.plate', PROJECT_SEED.readUInt32LE()),
      'plates/people/ibis_wary.plate mask',
    ],
    ['a sound without its mask', 'notes/post_bell.note', flip(1), 'notes/post_bell.note mask'],
    ['a project file that is none', 'project.json', () => Buffer.from('{'), 'project.json form'],
    [
      'a project without tables',
      'project.json',
      () => Buffer.from('{"tables":"../x"}'),
      'project.json tables: it names no folder',
    ],
    ['another seed', 'quillmoor.bin', (bytes) => flip(Math.floor(bytes.length * 0.61) | 7)(bytes), 'mask'],
  ])('%s stalls it', (_, name, change, said) => {
    expect(stallOf(runOf({ files: (put) => put(name, change) }))).toContain(said);
  });

  test('a file that is missing stalls it by its name', () => {
    const run = runOf({ files: (_, folder) => fs.rmSync(path.join(folder, 'tables/stirs.leaf')) });
    expect(stallOf(run)).toBe('tables/stirs.leaf file: it is not there');
  });
});
