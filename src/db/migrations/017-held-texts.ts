import type { Migration } from '../migrate';

/** Texts that programs keep and that somebody put on the desk. */
export const heldTexts: Migration = {
  name: '017-held-texts',
  sql: `
    CREATE TABLE desk_held (
      id serial PRIMARY KEY,
      mod_id integer NOT NULL REFERENCES mods(id) ON DELETE CASCADE,
      archive text NOT NULL,
      path text NOT NULL,
      byte_offset bigint NOT NULL,
      encoding text NOT NULL CHECK (encoding IN ('utf-8', 'utf-16le')),
      room integer NOT NULL,
      UNIQUE (mod_id, archive, path, byte_offset)
    );
  `,
};
