import type { Hash } from './hash';

/** CRC-32 as in ISO 3309 and ITU-T V.42: reflected, polynomial 0x04c11db7, all ones before and after. */
export const crc32: Hash = {
  name: 'crc32',
  about: 'CRC-32 (ISO 3309), 32 bits',
  start(primitives) {
    let crc = 0;
    return {
      update(bytes) {
        crc = primitives.crc32(bytes, crc);
      },
      value: () => crc,
    };
  },
};
