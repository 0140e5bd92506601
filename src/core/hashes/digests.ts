import type { Hash } from './hash';

function digest(name: 'md5' | 'sha1' | 'sha256' | 'sha512', about: string): Hash {
  return {
    name,
    about,
    start(primitives) {
      const state = primitives.digest(name);
      return { update: (bytes) => state.update(bytes), value: () => state.value() };
    },
  };
}

/** RFC 1321. */
export const md5 = digest('md5', 'MD5 (RFC 1321), 16 bytes');
/** FIPS 180-4. */
export const sha1 = digest('sha1', 'SHA-1 (FIPS 180-4), 20 bytes');
export const sha256 = digest('sha256', 'SHA-256 (FIPS 180-4), 32 bytes');
export const sha512 = digest('sha512', 'SHA-512 (FIPS 180-4), 64 bytes');
