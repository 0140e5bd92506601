import { QueryTypes } from 'sequelize';
import { models } from './models';

/** A fact of the whole installation, by its name; undefined where nothing is noted. */
export async function factOf(name: string): Promise<string | undefined> {
  const [row] = await models().query<{ value: string }>('SELECT value FROM facts WHERE name = $1', {
    bind: [name],
    type: QueryTypes.SELECT,
  });
  return row?.value;
}

export async function setFact(name: string, value: string): Promise<void> {
  await models().query(
    'INSERT INTO facts (name, value) VALUES ($1, $2) ON CONFLICT (name) DO UPDATE SET value = excluded.value',
    { bind: [name, value] },
  );
}

/** Whether the database answers; throws where it does not. */
export async function pingDatabase(): Promise<void> {
  await models().query('SELECT 1');
}
