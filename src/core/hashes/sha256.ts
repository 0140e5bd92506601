import type { Hash } from './hash';

/** SHA-256 (FIPS 180-4) of at most what fits in memory; it is used for keys and small tables. */
export const sha256: Hash = {
  name: 'sha256',
  about: 'SHA-256 (FIPS 180-4), 32 bytes',
  start(primitives) {
    const parts: Uint8Array[] = [];
    return {
      update(bytes) {
        parts.push(bytes.slice());
      },
      value() {
        const all = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
        let at = 0;
        for (const part of parts) {
          all.set(part, at);
          at += part.length;
        }
        return primitives.sha256(all);
      },
    };
  },
};
