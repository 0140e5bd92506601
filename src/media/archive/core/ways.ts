import type { MediumWays } from '../../way';

/** How archives within archives are taken out. */
export const archiveWays: MediumWays = {
  title: 'Archives within archives',
  one: 'archive',
  ways: [
    {
      name: 'unpacked',
      label: 'unpacked into folders',
      said: 'archives unpacked',
      help: 'What is in them, each below a folder of its name.',
    },
  ],
};
