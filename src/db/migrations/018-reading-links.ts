import type { Migration } from '../migrate';

/** What somebody said of a field: which rows it means, or that it means none. */
export const readingLinks: Migration = {
  name: '018-reading-links',
  sql: `
    CREATE TABLE reading_links (
      id serial PRIMARY KEY,
      game_id integer NOT NULL REFERENCES games(id) ON DELETE CASCADE,
      from_table text NOT NULL,
      field text NOT NULL,
      to_table text NOT NULL DEFAULT '',
      by_field text NOT NULL DEFAULT '',
      UNIQUE (game_id, from_table, field)
    );
  `,
};
