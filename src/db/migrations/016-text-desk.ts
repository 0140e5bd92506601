import type { Migration } from '../migrate';

/** What was made of the lines of a game: the text and how far it is, what one press did to which, words of the glossary, and what people say of a line. */
export const textDesk: Migration = {
  name: '016-text-desk',
  sql: `
    CREATE TABLE desk_texts (
      id serial PRIMARY KEY,
      mod_id integer NOT NULL REFERENCES mods(id) ON DELETE CASCADE,
      tongue text NOT NULL,
      place text NOT NULL,
      key text NOT NULL,
      nth integer NOT NULL DEFAULT 0,
      text text NOT NULL,
      state text NOT NULL CHECK (state IN ('draft', 'done', 'reviewed')),
      by_whom text NOT NULL DEFAULT '',
      changed_at timestamptz NOT NULL DEFAULT now(),
      UNIQUE (mod_id, tongue, place, key, nth)
    );
    CREATE TABLE desk_steps (
      id serial PRIMARY KEY,
      mod_id integer NOT NULL REFERENCES mods(id) ON DELETE CASCADE,
      tongue text NOT NULL,
      what text NOT NULL,
      by_whom text NOT NULL DEFAULT '',
      lines jsonb NOT NULL,
      undone boolean NOT NULL DEFAULT false,
      created_at timestamptz NOT NULL DEFAULT now()
    );
    CREATE INDEX desk_steps_of_mod ON desk_steps (mod_id, tongue, id);
    CREATE TABLE desk_terms (
      id serial PRIMARY KEY,
      mod_id integer NOT NULL REFERENCES mods(id) ON DELETE CASCADE,
      tongue text NOT NULL,
      source text NOT NULL,
      target text NOT NULL,
      UNIQUE (mod_id, tongue, source)
    );
    CREATE TABLE desk_notes (
      id serial PRIMARY KEY,
      mod_id integer NOT NULL REFERENCES mods(id) ON DELETE CASCADE,
      place text NOT NULL,
      key text NOT NULL,
      nth integer NOT NULL DEFAULT 0,
      text text NOT NULL,
      by_whom text NOT NULL DEFAULT '',
      created_at timestamptz NOT NULL DEFAULT now()
    );
    CREATE INDEX desk_notes_of_mod ON desk_notes (mod_id, place, key);
    CREATE TABLE desk_tongues (
      id serial PRIMARY KEY,
      mod_id integer NOT NULL REFERENCES mods(id) ON DELETE CASCADE,
      tongue text NOT NULL,
      name text NOT NULL,
      UNIQUE (mod_id, tongue)
    );
  `,
};
