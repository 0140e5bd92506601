import type { MediumWays } from '../../way';

/** How tables are taken out. */
export const tableWays: MediumWays = {
  title: 'Tables',
  one: 'table',
  ways: [
    {
      name: 'csv',
      label: 'as CSV',
      said: 'tables as CSV',
      help: 'A line a row; lists and records within a cell in a line. Of several tables in a file the largest.',
    },
    {
      name: 'json',
      label: 'as JSON',
      said: 'tables as JSON',
      help: 'All tables of the file, each a list of records.',
    },
  ],
};
