import type { MediumWays } from '../../way';

/** How sounds are taken out. */
export const soundWays: MediumWays = {
  title: 'Sounds',
  one: 'sound',
  ways: [
    {
      name: 'wav',
      label: 'as WAV',
      said: 'sounds as WAV',
      help: 'Plain samples, as wide as the sound has them; a WAV of plain samples stays as it is.',
    },
  ],
};
