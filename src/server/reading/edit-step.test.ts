import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { decode } from 'cborg';
import { selfSaid } from '../../../demo/world/quillmoor/cbor';
import { SCENE_WORDS, storyTables } from '../../../demo/world/quillmoor/tables';
import { ChangeRow } from '@/db';
import type { GameView } from '../games/games';
import { travel } from '../mods/history';
import { addMod } from '../mods/mods';
import { readBlob } from '../storage/storage';
import { TestBed } from '../testing/bed';
import { changeInWords } from './change-words';
import { editStep, type StepAsked } from './edit-step';
import { openReading } from './open-reading';
import { rowView } from './row-view';
import { keepWords } from './words';

const bed = new TestBed();
let game: GameView;
beforeAll(async () => {
  await bed.begin();
  const tables = Object.fromEntries(
    Object.entries(storyTables()).map(([name, rows]) => [`tables/${name}.cbor`, selfSaid(rows)]),
  );
  const days = [
    {
      id: 1,
      steps: [
        [1, 100, 300],
        [4, 2000],
      ],
    },
    { id: 2, steps: [[4, 2001]] },
  ];
  game = await bed.game('steps', {
    'story.zip': { ...tables, 'tables/days.json': JSON.stringify(days, null, 2) },
  });
  await keepWords(game.id, SCENE_WORDS);
  await keepWords(game.id, SCENE_WORDS.replace('scenes.steps', 'days.steps'));
});
afterAll(() => bed.end());

const SCENES = 'tables/scenes.cbor';
const first: StepAsked = {
  table: SCENES,
  row: 0,
  field: 'steps',
  at: 0,
  was: ['100', '300'],
  values: ['101', '302'],
};
const mod = async (title: string): Promise<number> => (await addMod(game.id, title)).id;
const said = async (modId: number, table = SCENES): Promise<string> =>
  (await rowView(await openReading(game.id, modId), table, 0)).steps[0]!.steps[0]!.says.map((part) =>
    'text' in part ? part.text : 'to' in part ? part.to.title : '?',
  ).join('');

test('a step means other rows, is told so, and undone', async () => {
  const own = await mod('other people');
  const { steps } = await rowView(await openReading(game.id), SCENES, 0);
  expect(steps[0]!.steps[0]).toMatchObject({
    called: 'comes',
    numbers: [
      { name: 'who', value: '100', means: 'people' },
      { name: 'to', value: '300', means: 'places' },
    ],
  });
  expect(await editStep(game.id, own, first, false)).toEqual({ findings: [], isWritten: true, fit: 'fits' });
  expect(await said(own)).toBe('Ibis comes to boathouse.');
  const [row] = await ChangeRow.findAll({ where: { modId: own } });
  const made = readBlob(row!.preparedBlob!);
  const before = selfSaid(storyTables().scenes!);
  expect(made.length).toBe(before.length);
  expect([...made].filter((byte, i) => byte !== before[i])).toHaveLength(2);
  expect((decode(made.subarray(3)) as unknown[]).length).toBe(40);
  expect((await changeInWords(game.id, own, row!.id))![0]).toMatchObject({ count: 1 });
  expect(await travel(own, 'undo')).toBe('comes at 0 of scenes 600: 100, 300 to 101, 302');
  expect(await said(own)).toBe('Odd Marren comes to jetty.');
});

test('what leads nowhere is written only where that is said, and what is no number not at all', async () => {
  const own = await mod('wrong');
  const wrong = await editStep(game.id, own, { ...first, values: ['100', '999'] }, false);
  expect(wrong.findings.map(({ what }) => what)).toEqual(['to: 999 is no row of tables/places.cbor']);
  expect(wrong.isWritten).toBe(false);
  const asks: StepAsked = { ...first, at: 10, was: ['2000', '20'], values: ['2000', '21'] };
  expect((await editStep(game.id, own, asks, false)).findings[0]!.what).toBe('else: no step begins at 21');
  for (const values of [
    ['ten', '300'],
    ['', '300'],
    ['70000', '300'],
    ['1e3', '300'],
  ])
    expect(await editStep(game.id, own, { ...first, values }, true)).toMatchObject({
      isWritten: false,
      findings: [{ isRefused: true }],
    });
  expect(await ChangeRow.count({ where: { modId: own } })).toBe(0);
  expect((await editStep(game.id, own, { ...first, values: ['100', '999'] }, true)).isWritten).toBe(true);
  await expect(editStep(game.id, own, first, true)).rejects.toThrow(/another step by now/);
  await expect(editStep(game.id, own, { ...first, at: 2 }, true)).rejects.toThrow(
    /No step of steps begins at 2/,
  );
  await expect(editStep(game.id, own, { ...first, table: 'tables/people.cbor' }, true)).rejects.toThrow(
    /No step/,
  );
});

test('steps in lists are spelled as they were but for the number', async () => {
  const own = await mod('lists');
  const asked: StepAsked = {
    table: 'tables/days.json',
    row: 0,
    field: 'steps',
    at: 0,
    was: ['100', '300'],
    values: ['102', '300'],
  };
  expect((await editStep(game.id, own, asked, false)).isWritten).toBe(true);
  expect(await said(own, 'tables/days.json')).toBe('The Reed Widow comes to jetty.');
  const [row] = await ChangeRow.findAll({ where: { modId: own } });
  const text = new TextDecoder().decode(readBlob(row!.preparedBlob!));
  expect(text.replace('102', '100')).toBe(
    JSON.stringify(
      [
        {
          id: 1,
          steps: [
            [1, 100, 300],
            [4, 2000],
          ],
        },
        { id: 2, steps: [[4, 2001]] },
      ],
      null,
      2,
    ),
  );
});
