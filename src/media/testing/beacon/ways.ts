import type { MediumWays } from '../../way';

/** How beacons are taken out. */
export const beaconWays: MediumWays = {
  title: 'Beacons',
  one: 'beacon',
  ways: [{ name: 'csv', label: 'as CSV', said: 'beacons as CSV', help: 'A line for each flash.' }],
};
