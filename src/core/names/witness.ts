/** What speaks for a name besides its hash. */
export interface Witnesses {
  /** What the bytes are agrees with the name's ending; undefined where the bytes do not say what they are. */
  readonly kind: boolean | undefined;
  /** Other names of the same folder are known. */
  readonly folder: boolean;
  /** The entry before or behind it in the table has a name of the same folder. */
  readonly neighbour: boolean;
}

/** Below this many false finds, a hash speaks for itself. */
const NONE_EXPECTED = 1e-6;
/** Below this, one more witness is enough. */
const FEW_EXPECTED = 1e-2;

/** How many of `candidates` names may be expected to fit one of `hashes` by chance alone. */
export const expectedByChance = (candidates: number, hashes: number, bits: number): number =>
  (candidates * hashes) / 2 ** bits;

/**
 * Whether a name that fits a hash is taken. A long hash speaks for itself; a short one, over many guesses, needs others to
 * speak for the name too, the more the likelier chance finds are. Bytes that are something else speak against every name.
 */
export function isTaken({ kind, folder, neighbour }: Witnesses, expected: number): boolean {
  if (kind === false) return false;
  if (expected < NONE_EXPECTED) return true;
  const witnesses = (kind === true ? 1 : 0) + (folder ? 1 : 0) + (neighbour ? 1 : 0);
  return witnesses >= (expected < FEW_EXPECTED ? 1 : 2);
}
