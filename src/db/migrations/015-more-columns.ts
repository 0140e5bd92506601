import type { Migration } from '../migrate';

/** What a table of codes says of them besides their names. */
export const moreColumns: Migration = {
  name: '015-more-columns',
  sql: 'ALTER TABLE id_tables ADD COLUMN more jsonb;',
};
