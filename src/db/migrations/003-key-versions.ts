import type { Migration } from '../migrate';

/** Keys are for versions of a game, not only for archives. */
export const keyVersions: Migration = {
  name: '003-key-versions',
  sql: `ALTER TABLE keys ADD COLUMN version text NOT NULL DEFAULT '';`,
};
