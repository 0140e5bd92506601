import type { Migration } from '../migrate';

/** What a mod does with what is only worth a look, notes, the steps that can be undone, and a folder that is watched. */
export const changes: Migration = {
  name: '006-changes',
  sql: `
    ALTER TABLE mods ADD COLUMN policy text NOT NULL DEFAULT 'warn';
    ALTER TABLE mods ADD COLUMN work_folder text;
    ALTER TABLE changes ADD COLUMN note text NOT NULL DEFAULT '';
    CREATE TABLE steps (
      id serial PRIMARY KEY,
      mod_id integer NOT NULL REFERENCES mods ON DELETE CASCADE,
      what text NOT NULL,
      states jsonb NOT NULL,
      undone boolean NOT NULL DEFAULT false,
      created_at timestamptz NOT NULL DEFAULT now()
    );
    CREATE INDEX steps_by_mod ON steps (mod_id, id);
  `,
};
