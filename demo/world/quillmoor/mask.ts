const TIMES = 0x2c1b3c6dn;
const PLUS = 0x297a2d39n;

/** FNV-1a of 32 bits over a file's name in lower case. */
export function nameSeed(name: string): number {
  let hash = 2166136261;
  for (const byte of Buffer.from(name.toLowerCase())) hash = Math.imul(hash ^ byte, 16777619) >>> 0;
  return hash;
}

/**
 * Bytes under the engine's mask, or out from under it: a recurrence of 32 bits that begins at the name's number
 * and the project's seed; bits 16 to 23 of each new state go over one byte.
 */
export function masked(data: Buffer, name: string, projectSeed: number): Buffer {
  let state = BigInt((nameSeed(name) ^ projectSeed) >>> 0);
  return Buffer.from(
    data.map((byte) => {
      state = (state * TIMES + PLUS) & 0xffffffffn;
      return byte ^ Number((state >> 16n) & 255n);
    }),
  );
}
