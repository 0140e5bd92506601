import { FormatError } from '@/core/bytes';
import { isList, type Cell } from '../cell';
import { readSteps, type Step } from './read-steps';
import type { StepArgument, Vocabulary } from './vocabulary';

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

/** Refuses numbers that fields of a step cannot hold. Throws FormatError `not-writable`. */
export function refuseNumbers(
  numbers: readonly StepArgument[],
  values: readonly number[],
  /** Numbers of lists have no size of their own. */
  isSized: boolean,
  fieldPath: string,
): void {
  const refuse = (expected: string, actual: string): FormatError =>
    new FormatError('not-writable', { fieldPath, expected, actual });
  if (values.length !== numbers.length)
    throw refuse('a step with as many numbers', `${values.length} numbers`);
  for (const [i, value] of values.entries()) {
    const [least, most] = rangeOf(numbers[i]!);
    if (!Number.isSafeInteger(value) || (isSized && (value < least || value > most)))
      throw refuse(`${numbers[i]!.name} from ${least} to ${most}`, String(value));
  }
}

/** Writes a number of a step into bytes. */
function putNumber(view: DataView, at: number, bytes: number, value: number, isBig: boolean): void {
  if (bytes === 1) view.setUint8(at, value & 0xff);
  else if (bytes === 2) view.setUint16(at, value & 0xffff, !isBig);
  else view.setUint32(at, value >>> 0, !isBig);
}

/** Writes the numbers behind the code of the step that begins at `at`. */
export function putNumbers(
  bytes: Uint8Array,
  { codeBytes, isBig }: Vocabulary,
  at: number,
  numbers: readonly StepArgument[],
  values: readonly number[],
): void {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  let place = at + codeBytes;
  for (const [i, value] of values.entries()) {
    putNumber(view, place, numbers[i]!.bytes, value, isBig);
    place += numbers[i]!.bytes;
  }
}

/** How many bytes a step takes that has these numbers. */
export const stepBytes = ({ codeBytes }: Vocabulary, numbers: readonly StepArgument[]): number =>
  numbers.reduce<number>((sum, { bytes }) => sum + bytes, codeBytes);

/** A step as bytes. */
export function stepAsBytes(
  vocabulary: Vocabulary,
  code: number,
  numbers: readonly StepArgument[],
  values: readonly number[],
): Uint8Array {
  const made = new Uint8Array(stepBytes(vocabulary, numbers));
  putNumber(new DataView(made.buffer), 0, vocabulary.codeBytes, code, vocabulary.isBig);
  putNumbers(made, vocabulary, 0, numbers, values);
  return made;
}

/**
 * Steps with other numbers behind the code of one of them; all other bytes, or items of lists, stay. Throws FormatError `not-writable` for a number that its field cannot hold, and where no step begins there.
 */
export function withStepNumbers(
  cell: Cell | undefined,
  vocabulary: Vocabulary,
  at: number,
  values: readonly number[],
): Cell {
  const step = stepAt(cell, vocabulary, at);
  const fieldPath = `${vocabulary.field} at ${at}`;
  if (!step)
    throw new FormatError('not-writable', {
      ...{ fieldPath, expected: 'a step with as many numbers', actual: 'none that begins there' },
    });
  const numbers = step.word!.with;
  refuseNumbers(numbers, values, !isList(cell), fieldPath);
  if (isList(cell))
    return cell.map((one, i) => (i === at && isList(one) ? one.map((old, n) => values[n - 1] ?? old) : one));
  const bytes = (cell as Uint8Array).slice();
  putNumbers(bytes, vocabulary, at, numbers, values);
  return bytes;
}
