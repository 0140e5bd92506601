import type { Migration } from '../migrate';

/** Several mods of a game built together, in an order and with choices; what counts as a game's originals. */
export const together: Migration = {
  name: '008-together',
  sql: `
    ALTER TABLE mods ADD COLUMN place integer NOT NULL DEFAULT 0;
    ALTER TABLE mods ADD COLUMN together boolean NOT NULL DEFAULT false;
    UPDATE mods SET place = id;
    CREATE TABLE mod_choices (
      game_id integer NOT NULL REFERENCES games ON DELETE CASCADE,
      path text NOT NULL,
      mod_id integer NOT NULL REFERENCES mods ON DELETE CASCADE,
      PRIMARY KEY (game_id, path)
    );
    ALTER TABLE builds ADD COLUMN mods jsonb NOT NULL DEFAULT '[]';
    ALTER TABLE builds ADD COLUMN way text NOT NULL DEFAULT 'shifted';
    ALTER TABLE installations ADD COLUMN mods jsonb NOT NULL DEFAULT '[]';
    CREATE TABLE original_choices (
      game_id integer NOT NULL REFERENCES games ON DELETE CASCADE,
      path text NOT NULL,
      found text NOT NULL,
      original text NOT NULL,
      PRIMARY KEY (game_id, path)
    );
    ALTER TABLE trials ADD COLUMN installed text NOT NULL DEFAULT '';
    ALTER TABLE games ADD COLUMN terms text NOT NULL DEFAULT '';
    ALTER TABLE games ADD COLUMN listing text NOT NULL DEFAULT '';
  `,
};
