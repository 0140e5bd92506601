import type { MediumWays } from '../../way';

/** How fonts are taken out. */
export const fontWays: MediumWays = {
  title: 'Fonts',
  one: 'font',
  ways: [
    {
      name: 'signs',
      label: 'as a table of their signs',
      said: 'signs of fonts as CSV',
      help: 'A line for each sign: its code point, itself, how wide it is.',
    },
  ],
};
