import { FormatError } from '@/core/bytes';
import { isList, type Cell } from '../cell';
import { MOST_STEPS, readSteps, type Step } from './read-steps';
import { JUMP, type StepArgument, type Vocabulary } from './vocabulary';
import { putNumbers, refuseNumbers, stepAsBytes, stepBytes } from './write-steps';

/** A step more, that begins at `at` then, or without the one that begins there; `at` counts as steps stand now. */
export type StepChange =
  | { readonly does: 'add'; readonly at: number; readonly code: number; readonly values: readonly number[] }
  | { readonly does: 'remove'; readonly at: number };

export interface ResizedSteps {
  readonly cell: Cell;
  /** The numbers of the new step as they stand in it. */
  readonly values: readonly number[];
  /** Numbers of other steps that say where to go on, and say it otherwise now: of which step and which number, in steps as they are then. */
  readonly moved: readonly { readonly step: number; readonly number: number; readonly value: number }[];
  /** How many steps go on at the one that is taken out; they go on at the one behind it. */
  readonly led: number;
}

/**
 * Steps with one more or less. Who goes on at what stands behind it goes on there still: places of bytes move by the length of the step, those of lists by one. All else of the steps stays as it is.
 * Throws FormatError `not-writable` where no step begins there, where a step has no word or is cut off (it might say where to go on as well), and for numbers that have no room.
 */
export function resizedSteps(
  cell: Cell | undefined,
  vocabulary: Vocabulary,
  change: StepChange,
): ResizedSteps {
  const { at } = change;
  const fieldPath = `${vocabulary.field} at ${at}`;
  const { cell: whole, steps, which } = placeIn(cell, vocabulary, change, fieldPath);
  const isBytes = whole instanceof Uint8Array;
  const fresh = change.does === 'add' ? freshStep(vocabulary, change, fieldPath) : undefined;
  const next = fresh ? at : (steps[which + 1]?.at ?? whole.length);
  const grows = !fresh ? at - next : isBytes ? stepBytes(vocabulary, fresh.numbers) : 1;
  // What is behind the place moves; what leads to a step that is taken out leads to the next, which stands there then.
  const placed = (numbers: readonly StepArgument[], values: readonly number[]): number[] =>
    values.map((value, i) => (numbers[i]!.means === JUMP && value >= next ? value + grows : value));
  const known = steps.map((step): Known => {
    const numbers = step.word!.with;
    const had = step.values.slice(0, numbers.length);
    return { step, numbers, had, now: placed(numbers, had) };
  });
  const others = known.filter((_, i) => fresh !== undefined || i !== which);
  for (const { step, numbers, now } of others)
    refuseNumbers(numbers, now, isBytes, `${vocabulary.field} at ${step.at}`);
  const values = fresh ? placed(fresh.numbers, fresh.values) : [];
  if (fresh) refuseNumbers(fresh.numbers, values, isBytes, fieldPath);
  const isOut = (i: number): boolean => !fresh && i === which;
  return {
    values,
    cell: isBytes
      ? inBytes(whole, vocabulary, others, {
          ...{ at, next },
          own: fresh ? stepAsBytes(vocabulary, fresh.code, fresh.numbers, values) : new Uint8Array(),
        })
      : withNumbers(whole, known).toSpliced(
          which,
          fresh ? 0 : 1,
          ...(fresh ? [[fresh.code, ...values]] : []),
        ),
    moved: known.flatMap(({ had, now }, i) =>
      isOut(i)
        ? []
        : now.flatMap((value, number) =>
            value === had[number] ? [] : [{ step: i < which ? i : i + (fresh ? 1 : -1), number, value }],
          ),
    ),
    led: fresh
      ? 0
      : others.filter(({ numbers, had }) =>
          had.some((value, i) => numbers[i]!.means === JUMP && value === at),
        ).length,
  };
}

/** A step whose numbers are known, as they were and as they are then. */
interface Known {
  readonly step: Step;
  readonly numbers: readonly StepArgument[];
  readonly had: readonly number[];
  readonly now: readonly number[];
}

function freshStep(
  { words }: Vocabulary,
  { code, values }: Extract<StepChange, { does: 'add' }>,
  fieldPath: string,
) {
  const word = words.get(code);
  if (!word) throw refused(fieldPath, 'a code that has a word', String(code));
  if (values.length !== word.with.length)
    throw refused(fieldPath, `${word.with.length} numbers`, `${values.length}`);
  return { code, values, numbers: word.with };
}

/** Where a change comes; refuses steps that are not all known, for they may say where to go on in a number that would be left as it is. */
function placeIn(
  cell: Cell | undefined,
  vocabulary: Vocabulary,
  { at, does }: StepChange,
  fieldPath: string,
): { readonly cell: Uint8Array | readonly Cell[]; readonly steps: readonly Step[]; readonly which: number } {
  if (!(cell instanceof Uint8Array) && !isList(cell))
    throw refused(fieldPath, 'steps, in bytes or lists', 'neither');
  const steps = readSteps(cell, vocabulary);
  if (steps.length >= MOST_STEPS) throw refused(fieldPath, `fewer than ${MOST_STEPS} steps`, 'more');
  const unread = steps.find(({ word, values }) => !word || values.length < word.with.length);
  if (unread)
    throw refused(fieldPath, 'steps that all have a word', `the one at ${unread.at} ${unread.problem}`);
  const odd = isList(cell) && steps.find((step) => !isPlain(cell[step.at]!, step));
  if (odd)
    throw refused(fieldPath, 'a code and its numbers in each step', `something else in the one at ${odd.at}`);
  const which = at === cell.length ? steps.length : steps.findIndex((step) => step.at === at);
  if (which < 0 || (does === 'remove' && which === steps.length))
    throw refused(fieldPath, 'a place where a step begins', 'none');
  return { cell, steps, which };
}

/** Whether the numbers of a step stand right behind its code. */
const isPlain = (list: Cell, { word }: Step): boolean =>
  word!.with.length === 0 ||
  (isList(list) && list.slice(1, 1 + word!.with.length).every((one) => typeof one === 'number'));

const refused = (fieldPath: string, expected: string, actual: string): FormatError =>
  new FormatError('not-writable', { fieldPath, expected, actual });

const withNumbers = (lists: readonly Cell[], known: readonly Known[]): Cell[] =>
  lists.map((one, i) =>
    isList(one) ? [one[0]!, ...known[i]!.now, ...one.slice(1 + known[i]!.now.length)] : one,
  );

/** Bytes with those between two places replaced, and the numbers of the steps around written anew. */
function inBytes(
  bytes: Uint8Array,
  vocabulary: Vocabulary,
  others: readonly Known[],
  { at, next, own }: { readonly at: number; readonly next: number; readonly own: Uint8Array },
): Uint8Array {
  const whole = bytes.slice();
  for (const { step, numbers, now } of others) putNumbers(whole, vocabulary, step.at, numbers, now);
  const made = new Uint8Array(whole.length + own.length - (next - at));
  made.set(whole.subarray(0, at));
  made.set(own, at);
  made.set(whole.subarray(next), at + own.length);
  return made;
}
