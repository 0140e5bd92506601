import type { Migration } from '../migrate';

/** Saved picks, recipes, and jobs that can be paused. */
export const recipes: Migration = {
  name: '004-recipes',
  sql: `
    CREATE TABLE pick_lists (
      id serial PRIMARY KEY,
      game_id integer NOT NULL REFERENCES games ON DELETE CASCADE,
      title text NOT NULL,
      paths text NOT NULL,
      created_at timestamptz NOT NULL DEFAULT now(),
      UNIQUE (game_id, title)
    );
    CREATE TABLE recipes (
      id serial PRIMARY KEY,
      game_id integer NOT NULL REFERENCES games ON DELETE CASCADE,
      title text NOT NULL,
      recipe jsonb NOT NULL,
      created_at timestamptz NOT NULL DEFAULT now()
    );
    ALTER TABLE jobs ADD COLUMN pause_asked boolean NOT NULL DEFAULT false;
  `,
};
