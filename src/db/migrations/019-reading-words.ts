import type { Migration } from '../migrate';

/** The words that steps in a field of a table are read in. */
export const readingWords: Migration = {
  name: '019-reading-words',
  sql: `
    CREATE TABLE reading_words (
      id serial PRIMARY KEY,
      game_id integer NOT NULL REFERENCES games(id) ON DELETE CASCADE,
      about text NOT NULL,
      text text NOT NULL,
      UNIQUE (game_id, about)
    );
  `,
};
