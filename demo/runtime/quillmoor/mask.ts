/** The numbers of the recurrence that the engine's mask is made by. */
const TIMES = 0x2c1b3c6d;
const PLUS = 0x297a2d39;

/** A file out from under the mask, which begins with its name (FNV-1a of 32 bits, lower case) and the seed of the project. */
export function unmasked(bytes: Buffer, name: string, seed: number): Buffer {
  let state = 0x811c9dc5;
  for (const byte of Buffer.from(name.toLowerCase())) state = Math.imul(state ^ byte, 0x01000193);
  state ^= seed;
  const out = Buffer.alloc(bytes.length);
  for (let i = 0; i < bytes.length; i++) {
    state = (Math.imul(state, TIMES) + PLUS) | 0;
    out[i] = bytes[i]! ^ ((state >>> 16) & 255);
  }
  return out;
}
