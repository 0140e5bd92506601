import type { Migration } from '../migrate';

/** In which of several ways the user said that a sound is to be read: one of a path, or all that a script of a title describes. */
export const wayChoices: Migration = {
  name: '014-way-choices',
  sql: `
    CREATE TABLE way_choices (
      id serial PRIMARY KEY,
      game_id integer NOT NULL REFERENCES games ON DELETE CASCADE,
      scope text NOT NULL CHECK (scope IN ('path', 'script')),
      name text NOT NULL,
      way integer NOT NULL,
      UNIQUE (game_id, scope, name)
    );
  `,
};
