import type { Migration } from '../migrate';

/** Workers that share work, batch by batch, over any number of machines. */
export const workers: Migration = {
  name: '005-workers',
  sql: `
    CREATE TABLE workers (
      id uuid PRIMARY KEY,
      title text NOT NULL,
      place text NOT NULL,
      pid integer NOT NULL,
      born text NOT NULL,
      threads integer NOT NULL,
      blind jsonb NOT NULL DEFAULT '[]',
      started_at timestamptz NOT NULL DEFAULT now(),
      seen_at timestamptz NOT NULL DEFAULT now()
    );
    CREATE TABLE batches (
      id bigserial PRIMARY KEY,
      job_id uuid NOT NULL REFERENCES jobs ON DELETE CASCADE,
      number integer NOT NULL,
      state text NOT NULL DEFAULT 'open',
      attempts integer NOT NULL DEFAULT 0,
      worker_id uuid,
      body text NOT NULL,
      answer text
    );
    CREATE INDEX batches_by_job ON batches (job_id, state, id);
    ALTER TABLE jobs ADD COLUMN worker_id uuid;
    ALTER TABLE jobs ADD COLUMN served_at timestamptz;
    CREATE TABLE facts (
      name text PRIMARY KEY,
      value text NOT NULL
    );
  `,
};
