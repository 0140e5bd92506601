import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { decode } from 'cborg';
import { selfSaid } from '../../../demo/world/quillmoor/cbor';
import { SCENE_WORDS, storyTables } from '../../../demo/world/quillmoor/tables';
import { ChangeRow } from '@/db';
import type { GameView } from '../games/games';
import { travel } from '../mods/history';
import { addMod } from '../mods/mods';
import { readBlob } from '../storage/storage';
import { TestBed } from '../testing/bed';
import { editItem } from './edit-item';
import { openReading } from './open-reading';
import { resizeSteps, type StepsAsked } from './resize-steps';
import { rowView } from './row-view';
import type { StepsView } from './step-view';
import { keepWords } from './words';

const bed = new TestBed();
let game: GameView;
const DAYS = `[
  { "id": 1, "steps": [[5, 2000, 2], [1, 100, 300], [4, 2000]], "near": [] },
  { "id": 2, "steps": [[4, 2001]], "near": [300] },
  { "id": 3, "steps": [], "near": [] }
]
`;
beforeAll(async () => {
  await bed.begin();
  const tables = Object.fromEntries(
    Object.entries(storyTables()).map(([name, rows]) => [`tables/${name}.cbor`, selfSaid(rows)]),
  );
  game = await bed.game('steps', { 'story.zip': { ...tables, 'tables/days.json': DAYS } });
  await keepWords(game.id, SCENE_WORDS);
  await keepWords(game.id, SCENE_WORDS.replace('scenes.steps', 'days.steps'));
});
afterAll(() => bed.end());

const SCENES = 'tables/scenes.cbor';
const DAY_TABLE = 'tables/days.json';
const mod = async (title: string): Promise<number> => (await addMod(game.id, title)).id;
const stepsOf = async (modId: number | undefined, table: string, row: number): Promise<StepsView> =>
  (await rowView(await openReading(game.id, modId), table, row)).steps[0]!;
const told = ({ steps }: StepsView): unknown[] =>
  steps.map(({ at, called, numbers }) => [at, called, ...numbers.map(({ value }) => Number(value))]);
const asked = async (
  modId: number,
  more: Partial<StepsAsked> & Pick<StepsAsked, 'at'>,
): Promise<StepsAsked> => {
  const { table = SCENES, row = 0 } = more;
  const { stamp } = await stepsOf(modId, table, row);
  return { ...{ table, row, field: 'steps', stamp }, ...more };
};
const fileOf = async (modId: number): Promise<Buffer> => {
  const [row] = await ChangeRow.findAll({ where: { modId } });
  return Buffer.from(readBlob(row!.preparedBlob!));
};

describe('a step of bytes', () => {
  test('comes behind another; who goes on further behind goes on there still; told, undone, and taken out again', async () => {
    const own = await mod('one more');
    const before = await stepsOf(own, SCENES, 0);
    expect(before).toMatchObject({ end: 27, isWritable: true });
    expect(before.words.map(({ called }) => called)).toContain('gives');
    const add = { code: 1, values: ['101', '302'] };
    expect(await resizeSteps(game.id, own, await asked(own, { at: 5, add }), false)).toEqual({
      ...{ findings: [], isWritten: true, fit: 'fits' },
    });
    expect(told(await stepsOf(own, SCENES, 0))).toEqual([
      [0, 'comes', 100, 300],
      [5, 'comes', 101, 302],
      [10, 'reads', 100, 1000],
      [15, 'asks', 2000, 25],
      [20, 'gives', 100, 800],
      [25, 'makes', 2000],
      [28, 'weather', 500],
      [31, 'ends'],
    ]);
    // All other rows are byte for byte what they were.
    const rows = decode((await fileOf(own)).subarray(3)) as { steps: Uint8Array }[];
    const old = storyTables().scenes as { steps: Uint8Array }[];
    expect(rows.slice(1).map(({ steps }) => Buffer.from(steps).toString('hex'))).toEqual(
      old.slice(1).map(({ steps }) => Buffer.from(steps).toString('hex')),
    );
    expect(await resizeSteps(game.id, own, await asked(own, { at: 5 }), false)).toMatchObject({
      isWritten: true,
    });
    // Nothing is left of it.
    expect(await ChangeRow.count({ where: { modId: own } })).toBe(0);
    expect(await travel(own, 'undo')).toBe('comes at 5 taken out of steps of scenes 600');
    expect(told(await stepsOf(own, SCENES, 0))).toHaveLength(8);
    expect(await travel(own, 'undo')).toBe('comes put at 5 of steps of scenes 600');
    expect(await stepsOf(own, SCENES, 0)).toEqual(before);
  });

  test('that others go on at is taken out only where that is said', async () => {
    const own = await mod('without');
    const out = await resizeSteps(game.id, own, await asked(own, { at: 20 }), false);
    expect(out).toMatchObject({
      isWritten: false,
      findings: [{ state: 'look', what: '1 step goes on at it' }],
    });
    expect((await resizeSteps(game.id, own, await asked(own, { at: 20 }), true)).isWritten).toBe(true);
    expect(told(await stepsOf(own, SCENES, 0)).slice(2)).toEqual([
      [10, 'asks', 2000, 20],
      [15, 'gives', 100, 800],
      [20, 'weather', 500],
      [23, 'ends'],
    ]);
  });

  test('that leads nowhere is told first; what is none, or was asked of others, is refused', async () => {
    const own = await mod('wrong');
    const add = (code: number, ...values: string[]): Promise<StepsAsked> =>
      asked(own, { at: 0, add: { code, values } });
    const of = async (which: Promise<StepsAsked>, isDespite = false) =>
      resizeSteps(game.id, own, await which, isDespite);
    expect((await of(add(5, '2000', '11'))).findings[0]!.what).toBe('else: no step begins at 16');
    expect((await of(add(1, '1', '300'))).findings[0]!.what).toMatch(/who: 1 is no row of tables\/people/);
    for (const wrong of [add(1, '100'), add(77), add(1, 'x', '300'), add(1, '70000', '300')])
      expect(await of(wrong, true)).toMatchObject({ isWritten: false, findings: [{ isRefused: true }] });
    expect(await of(asked(own, { at: 3 }), true)).toMatchObject({ findings: [{ isRefused: true }] });
    await expect(of(asked(own, { at: 0, stamp: 'old' }))).rejects.toThrow(/others by now/);
    await expect(of(asked(own, { at: 0, field: 'title', stamp: '' }))).rejects.toThrow(/has no title/);
    expect(await ChangeRow.count({ where: { modId: own } })).toBe(0);
    expect((await of(add(1, '1', '300'), true)).isWritten).toBe(true);
  });
});

describe('a step of a list', () => {
  test('comes and goes as one line, and numbers that say where to go on follow', async () => {
    const own = await mod('lists');
    const add = { code: 1, values: ['101', '302'] };
    await resizeSteps(game.id, own, await asked(own, { table: DAY_TABLE, at: 1, add }), false);
    expect((await fileOf(own)).toString()).toBe(
      DAYS.replace('[5, 2000, 2], [1', '[5, 2000, 3], [1, 101, 302], [1'),
    );
    await resizeSteps(game.id, own, await asked(own, { table: DAY_TABLE, row: 2, at: 0, add }), false);
    expect((await fileOf(own)).toString()).toContain('{ "id": 3, "steps": [[1, 101, 302]], "near": [] }');
    await resizeSteps(game.id, own, await asked(own, { table: DAY_TABLE, row: 2, at: 0 }), false);
    await resizeSteps(game.id, own, await asked(own, { table: DAY_TABLE, at: 1 }), false);
    expect(await ChangeRow.count({ where: { modId: own } })).toBe(0);
  });

  test('is no item that comes or goes without the others', async () => {
    const own = await mod('items');
    const { values } = await rowView(await openReading(game.id, own), DAY_TABLE, 0);
    const steps = values.find(({ name }) => name === 'steps')!;
    expect(steps.within.map(({ item }) => item)).toEqual([null, null, null]);
    const item = { ...{ table: DAY_TABLE, row: 0, column: 'steps', within: [0] }, was: '5, 2000, 2' };
    await expect(editItem(game.id, own, { ...item, does: 'copy' })).rejects.toThrow(/are steps/);
  });
});

test('an empty list gets a first item, like that of another row', async () => {
  const own = await mod('first');
  const value = async (row: number) =>
    (await rowView(await openReading(game.id, own), DAY_TABLE, row)).values.find(
      ({ name }) => name === 'near',
    )!;
  expect((await value(0)).first).toEqual({ text: '300', of: 'days 2' });
  expect((await value(1)).first).toBeNull();
  const item = {
    ...{ table: DAY_TABLE, row: 2, column: 'near', within: [0] },
    was: '',
    does: 'first' as const,
  };
  expect((await editItem(game.id, own, item)).isWritten).toBe(true);
  expect((await fileOf(own)).toString()).toBe(
    DAYS.replace('"id": 3, "steps": [], "near": []', '"id": 3, "steps": [], "near": [300]'),
  );
  await expect(editItem(game.id, own, item)).rejects.toThrow(/another list by now/);
  expect(await travel(own, 'undo')).toBe('near of days 3: a first item, 300');
});
