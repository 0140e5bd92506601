import type { Hash } from './hash';

/** A CRC in the terms of the usual parameter model (Williams, A painless guide to CRC error detection algorithms). */
export interface CrcModel {
  readonly name: string;
  readonly about: string;
  readonly width: 8 | 16 | 32;
  /** Not reflected. */
  readonly polynomial: number;
  readonly start: number;
  readonly isReflected: boolean;
  readonly final: number;
}

function reflect(value: number, bits: number): number {
  let out = 0;
  for (let i = 0; i < bits; i++) if ((value >>> i) & 1) out |= 1 << (bits - 1 - i);
  return out >>> 0;
}

function tableOf({ width, polynomial, isReflected }: CrcModel): Uint32Array {
  const table = new Uint32Array(256);
  const mask = 2 ** width - 1;
  const turned = reflect(polynomial, width);
  for (let i = 0; i < 256; i++) {
    let value = isReflected ? i : (i << (width - 8)) >>> 0;
    for (let bit = 0; bit < 8; bit++) {
      if (isReflected) value = value & 1 ? (value >>> 1) ^ turned : value >>> 1;
      else value = (value >>> (width - 1)) & 1 ? (value << 1) ^ polynomial : value << 1;
    }
    table[i] = (value & mask) >>> 0;
  }
  return table;
}

/** The CRC of a model, `final` being what its last state is combined with. */
export function crc(model: CrcModel): Hash {
  let table: Uint32Array | undefined;
  const { name, about, width, isReflected } = model;
  const mask = 2 ** width - 1;
  return {
    name,
    about,
    seeded: true,
    start(_primitives, seed) {
      const values = (table ??= tableOf(model));
      let state = seed === undefined ? model.start : Number(BigInt.asUintN(width, seed));
      return {
        update(bytes) {
          if (isReflected) for (const byte of bytes) state = values[(state ^ byte) & 255]! ^ (state >>> 8);
          else
            for (const byte of bytes)
              state = ((values[((state >>> (width - 8)) ^ byte) & 255]! ^ (state << 8)) & mask) >>> 0;
        },
        value: () => (state ^ model.final) >>> 0,
      };
    },
  };
}

/** Every other CRC that a script may name; the check values are those of the published catalogue of CRCs. */
export const crcFamily: readonly Hash[] = [
  crc({
    name: 'crc32c',
    about: 'CRC-32C (Castagnoli, RFC 3720), 32 bits',
    width: 32,
    polynomial: 0x1edc6f41,
    start: 0xffffffff,
    isReflected: true,
    final: 0xffffffff,
  }),
  crc({
    name: 'crc32raw',
    about: 'CRC-32 without the last inversion; the seed is its start, 0xffffffff if nothing is said',
    width: 32,
    polynomial: 0x04c11db7,
    start: 0xffffffff,
    isReflected: true,
    final: 0,
  }),
  crc({
    name: 'crc32b',
    about: 'CRC-32, highest bit first, inverted at the end, as in bzip2',
    width: 32,
    polynomial: 0x04c11db7,
    start: 0xffffffff,
    isReflected: false,
    final: 0xffffffff,
  }),
  crc({
    name: 'crc32mpeg2',
    about: 'CRC-32, highest bit first, as in MPEG-2 sections (ISO 13818-1)',
    width: 32,
    polynomial: 0x04c11db7,
    start: 0xffffffff,
    isReflected: false,
    final: 0,
  }),
  crc({
    name: 'crc16',
    about: 'CRC-16, lowest bit first, polynomial 0x8005, start 0',
    width: 16,
    polynomial: 0x8005,
    start: 0,
    isReflected: true,
    final: 0,
  }),
  crc({
    name: 'crc16ccitt',
    about: 'CRC-16, highest bit first, polynomial 0x1021, start 0xffff',
    width: 16,
    polynomial: 0x1021,
    start: 0xffff,
    isReflected: false,
    final: 0,
  }),
];
