import type { Catalogue } from './catalogue';
import type { HashIndex } from './hash-references';

/** Smaller numbers are numbers of entries rather than hashes of names. */
const LEAST_HASH = 1n << 20n;
const MOST_HASH = (1n << 64n) - 1n;

/** The numbers that are meant by digits: decimal ones, also with a sign, hexadecimal ones behind `0x`, or as many of those as a hash has. */
function numbersSpelled(spelled: string): bigint[] {
  const found: bigint[] = [];
  if (/^\d{1,20}$/.test(spelled)) found.push(BigInt(spelled));
  // Hashes that are read with a sign.
  if (/^-\d{1,19}$/.test(spelled)) {
    const number = BigInt(spelled);
    found.push(BigInt.asUintN(number >= -(1n << 31n) ? 32 : 64, number));
  }
  if (/^0x[\da-f]{1,16}$/i.test(spelled)) found.push(BigInt(spelled));
  if (/^(?:[\da-f]{8}){1,2}$/i.test(spelled)) found.push(BigInt(`0x${spelled}`));
  return found.filter((number) => number <= MOST_HASH);
}

/**
 * The row that an entry means by a number in place of a path: the one whose name has it as its hash, of 32 or 64 bits; or the entry of that number,
 * from 0, in the archive of whoever says it, if that is one which can be meant: small numbers are many things. `own` is the row of that one, -1 for none.
 * Undefined for what is no number, or no row's.
 */
export function rowNumbered(
  catalogue: Catalogue,
  spelled: string,
  own: number,
  hashes: () => HashIndex,
  canBe: (row: number) => boolean,
): number | undefined {
  const numbers = numbersSpelled(spelled);
  for (const number of numbers) {
    if (number < LEAST_HASH) continue;
    const row = hashes().find(Number(number >> 32n), Number(number & 0xffffffffn));
    if (row >= 0) return row;
  }
  const [first] = numbers;
  if (first === undefined || first >= LEAST_HASH || own < 0) return undefined;
  const row = catalogue.rowOf(catalogue.columns.archives[own]!, Number(first));
  return row < 0 || row === own || !canBe(row) ? undefined : row;
}
