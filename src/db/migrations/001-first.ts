import type { Migration } from '../migrate';

/** Games with their archives, keys and entries; mods, builds and installations; jobs and trials. */
export const first: Migration = {
  name: '001-first',
  sql: `
    CREATE TABLE games (
      id serial PRIMARY KEY,
      title text NOT NULL,
      folder text NOT NULL UNIQUE,
      notes text NOT NULL DEFAULT '',
      stand_in text,
      scanned_at timestamptz,
      created_at timestamptz NOT NULL DEFAULT now()
    );
    CREATE TABLE keys (
      id serial PRIMARY KEY,
      game_id integer NOT NULL REFERENCES games ON DELETE CASCADE,
      label text NOT NULL,
      bytes bytea NOT NULL,
      created_at timestamptz NOT NULL DEFAULT now(),
      UNIQUE (game_id, bytes)
    );
    CREATE TABLE name_lists (
      id serial PRIMARY KEY,
      game_id integer NOT NULL REFERENCES games ON DELETE CASCADE,
      title text NOT NULL,
      names text NOT NULL,
      created_at timestamptz NOT NULL DEFAULT now()
    );
    CREATE TABLE archives (
      id serial PRIMARY KEY,
      game_id integer NOT NULL REFERENCES games ON DELETE CASCADE,
      path text NOT NULL,
      size bigint NOT NULL,
      modified_ms bigint NOT NULL,
      rank integer NOT NULL,
      script text,
      state text NOT NULL,
      reason text NOT NULL DEFAULT '',
      next_step text NOT NULL DEFAULT '',
      key_id integer REFERENCES keys ON DELETE SET NULL,
      keyed boolean NOT NULL DEFAULT false,
      entry_count integer NOT NULL DEFAULT 0,
      named_count integer NOT NULL DEFAULT 0,
      fields_held integer NOT NULL DEFAULT 0,
      UNIQUE (game_id, path)
    );
    CREATE TABLE entries (
      archive_id integer NOT NULL REFERENCES archives ON DELETE CASCADE,
      game_id integer NOT NULL,
      index integer NOT NULL,
      path text NOT NULL,
      folder text NOT NULL,
      named boolean NOT NULL,
      hash text,
      place bigint NOT NULL,
      stored_size bigint NOT NULL,
      size bigint NOT NULL,
      kind text NOT NULL,
      problem text,
      wins boolean NOT NULL DEFAULT true,
      PRIMARY KEY (archive_id, index)
    );
    CREATE INDEX entries_by_path ON entries (game_id, path);
    CREATE INDEX entries_by_folder ON entries (game_id, folder text_pattern_ops) WHERE wins;
    CREATE TABLE mods (
      id serial PRIMARY KEY,
      game_id integer NOT NULL REFERENCES games ON DELETE CASCADE,
      title text NOT NULL,
      created_at timestamptz NOT NULL DEFAULT now()
    );
    CREATE TABLE changes (
      id serial PRIMARY KEY,
      mod_id integer NOT NULL REFERENCES mods ON DELETE CASCADE,
      archive_path text NOT NULL,
      entry_index integer NOT NULL,
      path text NOT NULL,
      kind text NOT NULL,
      given_name text NOT NULL,
      given_blob text NOT NULL,
      given_size bigint NOT NULL,
      prepared_blob text,
      prepared_size bigint,
      original_size bigint NOT NULL,
      mends jsonb NOT NULL DEFAULT '[]',
      findings jsonb NOT NULL DEFAULT '[]',
      fit text NOT NULL,
      created_at timestamptz NOT NULL DEFAULT now(),
      UNIQUE (mod_id, archive_path, entry_index)
    );
    CREATE TABLE builds (
      id serial PRIMARY KEY,
      mod_id integer NOT NULL REFERENCES mods ON DELETE CASCADE,
      holds boolean NOT NULL,
      changes_digest text NOT NULL,
      report jsonb NOT NULL,
      created_at timestamptz NOT NULL DEFAULT now()
    );
    CREATE TABLE installations (
      id serial PRIMARY KEY,
      game_id integer NOT NULL REFERENCES games ON DELETE CASCADE,
      build_id integer REFERENCES builds ON DELETE SET NULL,
      title text NOT NULL,
      state text NOT NULL,
      files jsonb NOT NULL,
      created_at timestamptz NOT NULL DEFAULT now(),
      ended_at timestamptz
    );
    CREATE TABLE trials (
      id serial PRIMARY KEY,
      game_id integer NOT NULL REFERENCES games ON DELETE CASCADE,
      stand_in text NOT NULL,
      loaded boolean NOT NULL,
      report jsonb NOT NULL,
      created_at timestamptz NOT NULL DEFAULT now()
    );
    CREATE TABLE jobs (
      id uuid PRIMARY KEY,
      game_id integer REFERENCES games ON DELETE CASCADE,
      kind text NOT NULL,
      title text NOT NULL,
      state text NOT NULL,
      input jsonb NOT NULL,
      progress jsonb NOT NULL DEFAULT '{}',
      result jsonb,
      error text,
      cancel_asked boolean NOT NULL DEFAULT false,
      created_at timestamptz NOT NULL DEFAULT now(),
      ended_at timestamptz
    );
    CREATE INDEX jobs_by_game ON jobs (game_id, created_at DESC);
  `,
};
