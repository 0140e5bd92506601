import { FormatError } from '../bytes';

type Choices = readonly string[];

/** More names than this are not tried at a time. */
export const MOST_NAMES = 20_000_000;
const MOST_CHOICES = 1_000_000;

/**
 * Writes out a pattern: `{00..99}` counts, with as many digits as the first number has, `{a..z}` goes through letters,
 * and `{odd,ibis}` through words; everything else stands for itself. Throws FormatError where it is more than `MOST_NAMES`.
 */
export function* namesOfPattern(pattern: string): Generator<string> {
  const parts = partsOf(pattern);
  const count = parts.reduce((product, { length }) => product * length, 1);
  if (count > MOST_NAMES)
    throw new FormatError('budget', {
      fieldPath: 'pattern',
      expected: `at most ${MOST_NAMES.toLocaleString('en')} names`,
      actual: count.toLocaleString('en'),
      remedy: 'Make its ranges smaller',
    });
  yield* joined(parts, 0, '');
}

/** How many names a pattern stands for. */
export const countOfPattern = (pattern: string): number =>
  partsOf(pattern).reduce((product, { length }) => product * length, 1);

function* joined(parts: readonly Choices[], at: number, start: string): Generator<string> {
  const part = parts[at];
  if (!part) yield start;
  else for (const choice of part) yield* joined(parts, at + 1, start + choice);
}

function partsOf(pattern: string): Choices[] {
  return pattern
    .split(/(\{[^{}]*\})/)
    .filter((piece) => piece !== '')
    .map((piece) => (piece.startsWith('{') && piece.endsWith('}') ? choicesOf(piece) : [piece]));
}

function choicesOf(piece: string): Choices {
  const inner = piece.slice(1, -1);
  const range = /^(\d+)\.\.(\d+)$/.exec(inner);
  if (range) {
    const [first, last] = [Number(range[1]), Number(range[2])];
    if (Math.abs(last - first) >= MOST_CHOICES)
      throw new FormatError('budget', {
        fieldPath: 'pattern',
        expected: `at most ${MOST_CHOICES} numbers in ${piece}`,
        actual: `${Math.abs(last - first) + 1}`,
      });
    const step = last >= first ? 1 : -1;
    return Array.from({ length: Math.abs(last - first) + 1 }, (_, i) =>
      String(first + step * i).padStart(range[1]!.length, '0'),
    );
  }
  const letters = /^([a-z])\.\.([a-z])$/i.exec(inner);
  if (letters) {
    const [first, last] = [letters[1]!.charCodeAt(0), letters[2]!.charCodeAt(0)];
    return Array.from({ length: Math.max(0, last - first) + 1 }, (_, i) => String.fromCharCode(first + i));
  }
  return inner.includes(',') ? inner.split(',') : [piece];
}
