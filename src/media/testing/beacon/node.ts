import { FormatError } from '@/core/bytes';
import type { Kind } from '@/core/kinds';
import type { MediumNode } from '../../medium';
import { foundInBeacons } from './wording';
import { inMemory } from '@/platform/node/convert/converter';

/** Lengths of the flashes of a beacon, in tenths of a second. */
function flashesOf(bytes: Uint8Array, file: string): number[] {
  const count = bytes[4] ?? 0;
  if (bytes.length < 5 + count)
    throw new FormatError('truncated', {
      ...{ file, byteOffset: 4, fieldPath: 'flashes' },
      expected: `${count} bytes behind the count`,
      actual: `${Math.max(0, bytes.length - 5)}`,
    });
  return [...bytes.subarray(5, 5 + count)];
}

const isBeacon = (bytes: Uint8Array): boolean =>
  Buffer.from(bytes.subarray(0, 4)).toString('latin1') === 'BEAC';

/** Beacons, where there is Node. */
export const beaconNode: MediumNode = {
  kind: 'beacon' as Kind,
  converters: {
    csv: inMemory('.csv', (bytes, path) => Buffer.from(`tenths\n${flashesOf(bytes, path).join('\n')}\n`)),
  },
  head({ first, name }) {
    if (!isBeacon(first)) return Promise.resolve(undefined);
    const flashes = flashesOf(first, name);
    return Promise.resolve({ sort: 'told', facts: [['flashes', String(flashes.length)]] });
  },
  fit(slot, given) {
    if (!isBeacon(slot.bytes)) return Promise.resolve(undefined);
    if (!isBeacon(given.bytes))
      return Promise.resolve({
        bytes: undefined,
        findings: [foundInBeacons('does not fit', 'no-beacon', { name: given.name })],
      });
    const was = flashesOf(slot.bytes, slot.name).length;
    const is = flashesOf(given.bytes, given.name).length;
    return Promise.resolve({
      bytes: given.bytes,
      findings: [foundInBeacons(is === was ? 'fits' : 'look', 'flashes', { is, was })],
    });
  },
};
