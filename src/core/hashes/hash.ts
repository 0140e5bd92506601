import type { Primitives } from '../primitives';

/** A checksum or hash that takes bytes piece by piece. */
export interface HashState {
  update(bytes: Uint8Array): void;
  /** A number up to 53 bits, a bigint up to 64, or raw bytes for the wide ones. */
  value(): number | bigint | Uint8Array;
}

export interface Hash {
  readonly name: string;
  readonly about: string;
  /** Whether `start` takes a seed; others have none. */
  readonly seeded?: boolean;
  start(primitives: Primitives, seed?: bigint): HashState;
}
