/** For tests only: what the examples of the reference hold. */
export const BODIES = ['the first', 'a second one, longer', 'third'];
export const NAMES = ['one.txt', 'two.txt', 'three.t'];

export interface Sample {
  readonly bytes: Uint8Array;
  readonly paths?: string[];
  /** Names for what has only hashes. */
  readonly names?: string[];
  readonly keys?: Readonly<Record<string, Uint8Array>>;
  /** Files beside it. */
  readonly beside?: Readonly<Record<string, Uint8Array>>;
}
