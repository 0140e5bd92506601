import { isList, type Cell } from '../cell';
import { JUMP, type StepArgument, type StepWord, type Vocabulary } from './vocabulary';

/** A step of a scene or event. */
export interface Step {
  /** Where it begins: its first byte, or its number from 0 where steps are kept as lists. */
  readonly at: number;
  readonly code: number;
  readonly word: StepWord | undefined;
  readonly values: readonly number[];
  /** What is wrong with it. */
  readonly problem: string | undefined;
}

/** More steps than these no scene has. */
export const MOST_STEPS = 20_000;

/** The steps that a cell holds: bytes one after the other, or a list of a code and its numbers for each. What cannot be read is a step with what is wrong, behind which bytes are not read on. */
export function readSteps(cell: Cell | undefined, vocabulary: Vocabulary): Step[] {
  const steps =
    cell instanceof Uint8Array
      ? fromBytes(cell, vocabulary)
      : isList(cell)
        ? fromLists(cell.slice(0, MOST_STEPS), vocabulary)
        : [];
  const places = new Set(steps.map(({ at }) => at));
  const end = cell instanceof Uint8Array ? cell.length : steps.length;
  return steps.map((step) => {
    const lost = step.word?.with.findIndex(
      ({ means }, i) =>
        means === JUMP &&
        step.values[i] !== undefined &&
        !places.has(step.values[i]) &&
        step.values[i] !== end,
    );
    return step.problem === undefined && lost !== undefined && lost >= 0
      ? { ...step, problem: `goes on at ${step.values[lost]!}, where no step begins` }
      : step;
  });
}

function fromBytes(bytes: Uint8Array, { codeBytes, isBig, words }: Vocabulary): Step[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  const number = (
    at: number,
    { bytes: size, isSigned }: Pick<StepArgument, 'bytes' | 'isSigned'>,
  ): number => {
    if (size === 1) return isSigned ? view.getInt8(at) : view.getUint8(at);
    if (size === 2) return isSigned ? view.getInt16(at, !isBig) : view.getUint16(at, !isBig);
    return isSigned ? view.getInt32(at, !isBig) : view.getUint32(at, !isBig);
  };
  const steps: Step[] = [];
  for (let at = 0; at < bytes.length && steps.length < MOST_STEPS;) {
    const from = at;
    if (at + codeBytes > bytes.length) {
      steps.push({ at, code: bytes[at]!, word: undefined, values: [], problem: 'is cut off' });
      break;
    }
    const code = number(at, { bytes: codeBytes, isSigned: false });
    at += codeBytes;
    const word = words.get(code);
    if (!word) {
      steps.push({ at: from, code, word, values: [], problem: `has no word for the code ${code}` });
      break;
    }
    const values: number[] = [];
    for (const argument of word.with) {
      if (at + argument.bytes > bytes.length) break;
      values.push(number(at, argument));
      at += argument.bytes;
    }
    const isCut = values.length < word.with.length;
    steps.push({ at: from, code, word, values, problem: isCut ? 'is cut off' : undefined });
    if (isCut) break;
  }
  return steps;
}

function fromLists(lists: readonly Cell[], { words }: Vocabulary): Step[] {
  return lists.map((list, at): Step => {
    const [code, ...values] = isList(list) ? list : [list];
    if (typeof code !== 'number')
      return { at, code: 0, word: undefined, values: [], problem: 'begins with no code' };
    const word = words.get(code);
    const numbers = values.filter((value): value is number => typeof value === 'number');
    const problem = !word
      ? `has no word for the code ${code}`
      : numbers.length < word.with.length
        ? `has ${numbers.length} numbers, its word ${word.with.length}`
        : undefined;
    return { at, code, word, values: numbers, problem };
  });
}
