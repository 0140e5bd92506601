import type { Migration } from '../migrate';

/** Entries that a mod adds or takes out; the folder in which a game looks for loose files. */
export const addedEntries: Migration = {
  name: '009-added-entries',
  sql: `
    ALTER TABLE changes ADD COLUMN action text NOT NULL DEFAULT 'replace';
    ALTER TABLE changes ADD COLUMN like_index integer;
    ALTER TABLE games ADD COLUMN loose_folder text NOT NULL DEFAULT '';
  `,
};
