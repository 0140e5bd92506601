import { findingsOf, type Words } from '@/core/fit';

/** What is said of beacons that are brought back. */
export const beaconWording = {
  'no-beacon': ({ name }: { name: string }): Words => ({
    what: `${name} is no beacon`,
    why: 'The lamp would stay dark',
  }),
  flashes: ({ is, was }: { is: number; was: number }): Words => ({
    what: `${is} ${is === 1 ? 'flash' : 'flashes'} instead of ${was}`,
    why: is === was ? 'As the slot has it' : 'Boats count them',
  }),
};

export const foundInBeacons = findingsOf<typeof beaconWording>('beacon');
