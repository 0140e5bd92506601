import { toldOf, type MediumLens } from '@/ui/contents/lens';

/** Beacons in lists. */
export const beaconLens: MediumLens = {
  kind: 'beacon',
  title: 'Beacons',
  columns: [{ title: 'Flashes', width: '62px', value: (head) => toldOf(head).replace('flashes ', '') }],
  spelled: (head) => toldOf(head),
};
