import { FormatError } from '@/core/bytes';
import { isList, type Cell } from '../cell';
import { readSteps, type Step } from './read-steps';
import type { Vocabulary } from './vocabulary';

/** Numbers that a field of a step can hold. */
function rangeOf({
  bytes,
  isSigned,
}: {
  readonly bytes: number;
  readonly isSigned: boolean;
}): readonly [least: number, most: number] {
  const all = 2 ** (8 * bytes);
  return isSigned ? [-all / 2, all / 2 - 1] : [0, all - 1];
}

/** The step that begins at a place and whose numbers are all there; undefined where there is none. */
export const stepAt = (cell: Cell | undefined, vocabulary: Vocabulary, at: number): Step | undefined =>
  readSteps(cell, vocabulary).find(
    (step) => step.at === at && step.word !== undefined && step.values.length >= step.word.with.length,
  );

/**
 * Steps with other numbers behind the code of one of them; all other bytes, or items of lists, stay. Throws FormatError `out-of-range` for a number that its field cannot hold, and `not-writable` where no step begins there.
 */
export function withStepNumbers(
  cell: Cell | undefined,
  vocabulary: Vocabulary,
  at: number,
  values: readonly number[],
): Cell {
  const step = stepAt(cell, vocabulary, at);
  const refuse = (expected: string, actual: string): FormatError =>
    new FormatError('not-writable', { fieldPath: `${vocabulary.field} at ${at}`, expected, actual });
  if (!step || values.length !== step.word!.with.length)
    throw refuse('a step with as many numbers', step ? `${values.length} numbers` : 'none that begins there');
  const numbers = step.word!.with;
  for (const [i, value] of values.entries()) {
    const [least, most] = rangeOf(numbers[i]!);
    // Numbers of lists have no size of their own.
    const isHeld = Number.isSafeInteger(value) && (isList(cell) || (value >= least && value <= most));
    if (!isHeld) throw refuse(`${numbers[i]!.name} from ${least} to ${most}`, String(value));
  }
  if (isList(cell))
    return cell.map((one, i) => (i === at && isList(one) ? one.map((old, n) => values[n - 1] ?? old) : one));
  const bytes = (cell as Uint8Array).slice();
  const view = new DataView(bytes.buffer);
  let place = at + vocabulary.codeBytes;
  for (const [i, value] of values.entries()) {
    const { bytes: size } = numbers[i]!;
    if (size === 1) view.setUint8(place, value & 0xff);
    else if (size === 2) view.setUint16(place, value & 0xffff, !vocabulary.isBig);
    else view.setUint32(place, value >>> 0, !vocabulary.isBig);
    place += size;
  }
  return bytes;
}
