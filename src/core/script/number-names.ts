import type { Located } from './located';

/** What numbers are called: one of several, or each of their bits. */
export interface NumberNames {
  readonly areFlags: boolean;
  readonly names: ReadonlyMap<number, string>;
}

/** Reads what numbers are called, under `names` or `flags` of a mapping; undefined where it says neither. Throws FormatError `script-wrong` with its line. */
export function readNumberNames(at: Located): NumberNames | undefined {
  const [plain, flags] = [at.get('names'), at.get('flags')];
  if (plain && flags) return flags.fail("'names' or 'flags'", 'both');
  const given = flags ?? plain;
  if (!given) return undefined;
  const names = new Map<number, string>();
  for (const [key, own] of given.entries()) {
    const number = Number(key);
    if (key.trim() === '' || !Number.isSafeInteger(number)) return own.fail('a whole number', `'${key}'`);
    if (flags && (number <= 0 || !Number.isInteger(Math.log2(number))))
      return own.fail('a bit: 1, 2, 4, 8 and so on', `'${key}'`);
    names.set(number, own.text());
  }
  if (names.size === 0) return given.fail('at least one name', 'none');
  return { areFlags: flags !== undefined, names };
}
