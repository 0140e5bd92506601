import type { MediumWays } from '../../way';

/** How texts are taken out. */
export const textWays: MediumWays = {
  title: 'Texts',
  one: 'text',
  ways: [
    {
      name: 'utf-8',
      label: 'in UTF-8',
      said: 'texts in UTF-8',
      help: 'Whatever encoding the text has, as UTF-8 without a mark.',
    },
    {
      name: 'pretty',
      label: 'in UTF-8, JSON in lines',
      said: 'JSON in lines',
      help: 'As UTF-8; JSON with a line for each value.',
    },
  ],
};
