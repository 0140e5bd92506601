import type { Migration } from '../migrate';

/**
 * An installation knows the operation that made it, so that its record is written once, however often that is begun. Jobs have numbers,
 * since clocks go back, and count how often a worker ended under them.
 */
export const operations: Migration = {
  name: '010-operations',
  sql: `
    ALTER TABLE installations ADD COLUMN operation text UNIQUE;
    ALTER TABLE jobs ADD COLUMN number bigserial;
    ALTER TABLE jobs ADD COLUMN attempts integer NOT NULL DEFAULT 0;
    CREATE INDEX jobs_number ON jobs (number DESC);
  `,
};
