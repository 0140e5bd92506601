import { QueryTypes, type Sequelize } from 'sequelize';
import { Umzug } from 'umzug';
import { first } from './migrations/001-first';
import { oneTree } from './migrations/002-one-tree';
import { keyVersions } from './migrations/003-key-versions';
import { recipes } from './migrations/004-recipes';
import { workers } from './migrations/005-workers';
import { changes } from './migrations/006-changes';
import { takenFiles } from './migrations/007-taken-files';
import { together } from './migrations/008-together';
import { addedEntries } from './migrations/009-added-entries';
import { operations } from './migrations/010-operations';
import { kindChoices } from './migrations/011-kind-choices';
import { findingCodes } from './migrations/012-finding-codes';
import { boards } from './migrations/013-boards';
import { wayChoices } from './migrations/014-way-choices';
import { moreColumns } from './migrations/015-more-columns';
import { textDesk } from './migrations/016-text-desk';
import { heldTexts } from './migrations/017-held-texts';
import { readingLinks } from './migrations/018-reading-links';
import { readingWords } from './migrations/019-reading-words';

/** One step of the schema; steps are only ever added. */
export interface Migration {
  readonly name: string;
  readonly sql: string;
}

/** All steps in their order. */
export const MIGRATIONS: readonly Migration[] = [
  first,
  oneTree,
  keyVersions,
  recipes,
  workers,
  changes,
  takenFiles,
  together,
  addedEntries,
  operations,
  kindChoices,
  findingCodes,
  boards,
  wayChoices,
  moreColumns,
  textDesk,
  heldTexts,
  readingLinks,
  readingWords,
];

/** Any number, the same for every process that migrates this database. */
const LOCK = 728_211;

/** Brings the schema up to date, or to where it was after the first `count` steps, one process at a time. Returns the names of the steps taken. */
export async function migrate(
  sequelize: Sequelize,
  count?: number,
  steps: readonly Migration[] = MIGRATIONS,
): Promise<string[]> {
  return sequelize.transaction(async (transaction) => {
    await sequelize.query(`SELECT pg_advisory_xact_lock(${LOCK})`, { transaction });
    await sequelize.query('CREATE TABLE IF NOT EXISTS migrations (name text PRIMARY KEY)', { transaction });
    const umzug = new Umzug({
      migrations: steps.slice(0, count).map(({ name, sql }) => ({
        name,
        up: async () => void (await sequelize.query(sql, { transaction })),
      })),
      storage: {
        executed: async () =>
          (
            await sequelize.query<{ name: string }>('SELECT name FROM migrations', {
              type: QueryTypes.SELECT,
              transaction,
            })
          ).map(({ name }) => name),
        logMigration: async ({ name }) =>
          void (await sequelize.query('INSERT INTO migrations VALUES ($1)', { bind: [name], transaction })),
        unlogMigration: async () => undefined,
      },
      logger: undefined,
    });
    return (await umzug.up()).map(({ name }) => name);
  });
}
