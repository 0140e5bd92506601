import type { MediumFormats } from '@/core/kinds/formats';

/** Files of beacons: the word `BEAC`, how many flashes there are (u8), and a length for each (u8, tenths of a second). */
export const beaconFormats: MediumFormats = {
  signs: [['beacon', { at: 0, text: 'BEAC' }]],
  endings: { signed: 'beacon' },
};
