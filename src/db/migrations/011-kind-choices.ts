import type { Migration } from '../migrate';

/** What the user says that a path, or all of an ending, is; it counts for more than what bytes and scripts say. */
export const kindChoices: Migration = {
  name: '011-kind-choices',
  sql: `
    CREATE TABLE kind_choices (
      id serial PRIMARY KEY,
      game_id integer NOT NULL REFERENCES games ON DELETE CASCADE,
      scope text NOT NULL CHECK (scope IN ('path', 'ending')),
      name text NOT NULL,
      kind text NOT NULL,
      UNIQUE (game_id, scope, name)
    );
  `,
};
