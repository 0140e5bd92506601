import type { Migration } from '../migrate';

/** Strips and pads: clips of any games, by their paths. `version` goes up with each change, so that two pages do not write over each other. */
export const boards: Migration = {
  name: '013-boards',
  sql: `
    CREATE TABLE boards (
      id serial PRIMARY KEY,
      sort text NOT NULL CHECK (sort IN ('strip', 'pad')),
      title text NOT NULL,
      content jsonb NOT NULL,
      version integer NOT NULL DEFAULT 1,
      created_at timestamptz NOT NULL DEFAULT now()
    );
  `,
};
