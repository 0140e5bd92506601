import type { Migration } from '../migrate';

/** Entries go from rows into catalogue files; archives lie in archives; marks, id tables, searches and findings are kept. */
export const oneTree: Migration = {
  name: '002-one-tree',
  sql: `
    DROP TABLE entries;
    ALTER TABLE games
      ADD COLUMN findings jsonb NOT NULL DEFAULT '{}',
      ADD COLUMN settings jsonb NOT NULL DEFAULT '{}';
    ALTER TABLE archives
      ADD COLUMN sort text NOT NULL DEFAULT 'file',
      ADD COLUMN parent_id integer REFERENCES archives ON DELETE CASCADE,
      ADD COLUMN parent_entry integer,
      ADD COLUMN chosen_script text,
      ADD COLUMN facts jsonb NOT NULL DEFAULT '{}';
    ALTER TABLE keys
      ADD COLUMN origin text NOT NULL DEFAULT 'pasted',
      ADD COLUMN tied_to text NOT NULL DEFAULT '';
    ALTER TABLE name_lists
      ADD COLUMN origin text NOT NULL DEFAULT 'loaded',
      ADD COLUMN shared boolean NOT NULL DEFAULT false;
    CREATE TABLE marks (
      id serial PRIMARY KEY,
      game_id integer NOT NULL REFERENCES games ON DELETE CASCADE,
      path text NOT NULL,
      tags text[] NOT NULL DEFAULT '{}',
      note text NOT NULL DEFAULT '',
      alias text NOT NULL DEFAULT '',
      UNIQUE (game_id, path)
    );
    CREATE TABLE id_tables (
      id serial PRIMARY KEY,
      game_id integer NOT NULL REFERENCES games ON DELETE CASCADE,
      title text NOT NULL,
      origin text NOT NULL,
      codes jsonb NOT NULL,
      created_at timestamptz NOT NULL DEFAULT now()
    );
    CREATE TABLE saved_searches (
      id serial PRIMARY KEY,
      game_id integer NOT NULL REFERENCES games ON DELETE CASCADE,
      title text NOT NULL,
      address text NOT NULL,
      created_at timestamptz NOT NULL DEFAULT now(),
      UNIQUE (game_id, title)
    );
  `,
};
