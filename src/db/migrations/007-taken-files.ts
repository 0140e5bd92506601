import type { Migration } from '../migrate';

/** What was taken from work folders, so that it does not come back by itself once it was taken out. */
export const takenFiles: Migration = {
  name: '007-taken-files',
  sql: `
    CREATE TABLE taken_files (
      mod_id integer NOT NULL REFERENCES mods ON DELETE CASCADE,
      path text NOT NULL,
      sha256 text NOT NULL,
      PRIMARY KEY (mod_id, path, sha256)
    );
  `,
};
