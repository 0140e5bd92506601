import { crcFamily } from '../hashes/crc-family';
import type { Primitives } from '../primitives';

/** The marks of a block and of the end: the digits of pi and of its root. */
export const BLOCK_MARK = [0x314159, 0x265359] as const;
export const END_MARK = [0x177245, 0x385090] as const;
/** Bytes of a block for each of the levels 1 to 9. */
export const LEVEL_BYTES = 100_000;
/** Codes before another table may be chosen. */
export const GROUP = 50;
/** The two digits of a run of zeros. */
export const RUN_A = 0;
export const RUN_B = 1;

const crc = crcFamily.find(({ name }) => name === 'crc32b')!;

/** The check of a block: CRC-32, highest bit first. */
export function blockCheck(bytes: Uint8Array): number {
  const state = crc.start(undefined as unknown as Primitives);
  state.update(bytes);
  return state.value() as number;
}

/** The check of a stream goes on with that of a block. */
export const combined = (check: number, block: number): number =>
  (((check << 1) | (check >>> 31)) ^ block) >>> 0;
