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
`;

let today: string[] | undefined;

test.each(MIGRATIONS.map(({ name }, i) => [name, i + 1] as const))('from %s on', async (_name, count) => {
  const sequelize = database();
  expect(await migrate(sequelize, count)).toHaveLength(count);
  await sequelize.query(FIRST_DATA);
  const before = await ask<{ title: string; folder: string }>('SELECT title, folder FROM games');
  const rest = await migrate(sequelize);
  expect(rest).toEqual(MIGRATIONS.slice(count).map(({ name }) => name));
  expect(await ask('SELECT title, folder FROM games')).toEqual(before);
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
