import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { QueryTypes } from 'sequelize';
import { TestBed } from '@/server/testing/bed';
import { database } from './index';
import { MIGRATIONS, migrate } from './migrate';

/** The schema of every version that ever was, with data in it, comes to that of today and keeps the data. */
let bed: TestBed;
beforeEach(async () => {
  bed = new TestBed();
  await bed.begin(true);
});
afterEach(() => bed.end());

const ask = <T extends object>(sql: string): Promise<T[]> =>
  database().query<T>(sql, { type: QueryTypes.SELECT });

/** All columns, with their types and whether they may be empty. */
const schema = async (): Promise<string[]> =>
  (
    await ask<{ at: string }>(
      `SELECT table_name || '.' || column_name || ' ' || data_type || ' ' || is_nullable AS at
       FROM information_schema.columns WHERE table_schema = 'public' ORDER BY 1`,
    )
  ).map(({ at }) => at);

/** A row in each table of the first version, as an application of then would have written it. */
const FIRST_DATA = `
  INSERT INTO games (title, folder, created_at) VALUES ('Lanternfen', '/games/lanternfen', now());
  INSERT INTO mods (game_id, title) SELECT id, 'Lamp' FROM games;
  INSERT INTO changes (mod_id, archive_path, entry_index, path, kind, given_name, given_blob, given_size, original_size, fit, findings)
  SELECT id, 'base.lfp', 3, 'lamp.png', 'picture', 'lamp.png', 'ab', 1, 1, 'look', '[
    {"state": "look", "what": "16 x 12 given", "why": "It is larger", "mend": {"name": "resize", "label": "Resize it"}},
    {"state": "fits", "what": "taken", "why": "As the slot has it"}
  ]' FROM mods;
`;
/** A step that can be undone, as it was kept before findings had codes. */
const OLD_STEP = `
  INSERT INTO steps (mod_id, what, states) SELECT id, 'putting in lamp.png', '[
    {"archivePath": "base.lfp", "entryIndex": 3, "before": null,
     "after": {"path": "lamp.png", "findings": [{"state": "fits", "what": "taken", "why": "So"}]}}
  ]' FROM mods;
`;
const TOLD = [
  {
    state: 'look',
    code: 'change.told',
    facts: { what: '16 x 12 given', why: 'It is larger', mend: 'Resize it' },
    mend: 'resize',
  },
  { state: 'fits', code: 'change.told', facts: { what: 'taken', why: 'As the slot has it' } },
];

let today: string[] | undefined;

test.each(MIGRATIONS.map(({ name }, i) => [name, i + 1] as const))('from %s on', async (_name, count) => {
  const sequelize = database();
  expect(await migrate(sequelize, count)).toHaveLength(count);
  await sequelize.query(FIRST_DATA);
  const hasSteps = count >= 6 && count < 12;
  if (hasSteps) await sequelize.query(OLD_STEP);
  const before = await ask<{ title: string; folder: string }>('SELECT title, folder FROM games');
  const rest = await migrate(sequelize);
  expect(rest).toEqual(MIGRATIONS.slice(count).map(({ name }) => name));
  expect(await ask('SELECT title, folder FROM games')).toEqual(before);
  // What was found before findings had codes is kept as it was said, and its mend is offered still.
  if (count < 12) expect(await ask('SELECT findings FROM changes')).toEqual([{ findings: TOLD }]);
  const steps = await ask<{ states: unknown }>('SELECT states FROM steps');
  const found = { state: 'fits', code: 'change.told', facts: { what: 'taken', why: 'So' } };
  const after = { path: 'lamp.png', findings: [found] };
  if (hasSteps)
    expect(steps).toEqual([{ states: [{ archivePath: 'base.lfp', entryIndex: 3, before: null, after }] }]);
  // Whatever way it was come by, the schema is the same.
  today ??= await schema();
  expect(await schema()).toEqual(today);
  expect(await migrate(sequelize)).toEqual([]);
});

test('two processes that begin at once take each step once', async () => {
  const [one, other] = await Promise.all([migrate(database()), migrate(database())]);
  expect([...one, ...other].sort()).toEqual(MIGRATIONS.map(({ name }) => name).sort());
});

test('a step that fails leaves the schema as it was', async () => {
  await migrate(database(), 3);
  const before = await schema();
  const broken = { name: '999-broken', sql: 'CREATE TABLE half (id int); SELECT 1 / 0;' };
  await expect(migrate(database(), 3, [...MIGRATIONS.slice(0, 3), broken])).resolves.toEqual([]);
  await expect(migrate(database(), undefined, [...MIGRATIONS.slice(0, 3), broken])).rejects.toThrow(
    /division by zero/,
  );
  expect(await schema()).toEqual(before);
});
