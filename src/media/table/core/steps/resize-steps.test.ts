import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { whyNot } from '@/core/testing/failure';
import type { Cell } from '../cell';
import { parseVocabulary, readSteps, resizedSteps, type StepChange, type Vocabulary } from './index';

const vocabulary = (order: string, jump: string): Vocabulary =>
  parseVocabulary(`words for: scenes.steps
byte order: ${order}
code: u8
words:
  1: { called: comes, with: { who: u16 people }, says: '{who}' }
  5: { called: asks, with: { what: u16, else: ${jump} jump }, says: '{what} {else}' }
  0: { called: ends, says: 'ends' }
`);
const little = vocabulary('little', 'u16');

/** Steps as what is done, and the number of the step that each goes on at; the one behind the last is the end. */
function meant(cell: Cell, words: Vocabulary): unknown[] {
  const steps = readSteps(cell, words);
  const end = cell instanceof Uint8Array ? cell.length : steps.length;
  const at = new Map([...steps.map((step, i) => [step.at, i] as const), [end, steps.length]]);
  return steps.map(({ code, word, values, problem }) => [
    code,
    problem,
    ...values.map((value, i) => (word?.with[i]?.means === 'jump' ? { to: at.get(value) } : value)),
  ]);
}

// asks 7, else at 9; comes 300; ends; ends
const bytes = Uint8Array.of(5, 7, 0, 9, 0, 1, 44, 1, 0, 0);

describe('a step', () => {
  test('comes between two, and who goes on behind it goes on there still', () => {
    const made = resizedSteps(bytes, little, { does: 'add', at: 5, code: 1, values: [258] });
    expect([...(made.cell as Uint8Array)]).toEqual([5, 7, 0, 12, 0, 1, 2, 1, 1, 44, 1, 0, 0]);
    expect(made.moved).toEqual([{ step: 0, number: 1, value: 12 }]);
    expect(made.led).toBe(0);
  });

  test('is taken out; who went on at it goes on at the next', () => {
    const made = resizedSteps(bytes, little, { does: 'remove', at: 9 });
    expect([...(made.cell as Uint8Array)]).toEqual([5, 7, 0, 9, 0, 1, 44, 1, 0]);
    expect(made).toMatchObject({ led: 1, moved: [], values: [] });
    const other = resizedSteps(bytes, little, { does: 'remove', at: 5 });
    expect([...(other.cell as Uint8Array)]).toEqual([5, 7, 0, 6, 0, 0, 0]);
    expect(other.led).toBe(0);
  });

  test('comes first, last and into none; where it goes on counts as steps stood before', () => {
    const first = resizedSteps(bytes, little, { does: 'add', at: 0, code: 5, values: [1, 8] });
    expect([...(first.cell as Uint8Array)].slice(0, 10)).toEqual([5, 1, 0, 13, 0, 5, 7, 0, 14, 0]);
    expect(first.values).toEqual([1, 13]);
    const last = resizedSteps(bytes, little, { does: 'add', at: 10, code: 5, values: [1, 10] });
    expect([...(last.cell as Uint8Array)]).toEqual([...bytes, 5, 1, 0, 15, 0]);
    expect(resizedSteps(new Uint8Array(), little, { does: 'add', at: 0, code: 0, values: [] }).cell).toEqual(
      Uint8Array.of(0),
    );
    expect(resizedSteps([], little, { does: 'add', at: 0, code: 0, values: [] }).cell).toEqual([[0]]);
    expect(bytes[3]).toBe(9);
  });

  test('of lists counts steps, and keeps what stands behind the numbers', () => {
    const lists: Cell = [[5, 7, 2, 'a note'], [1, 300], 0];
    const made = resizedSteps(lists, little, { does: 'add', at: 1, code: 1, values: [301] });
    expect(made.cell).toEqual([[5, 7, 3, 'a note'], [1, 301], [1, 300], 0]);
    expect(made.moved).toEqual([{ step: 0, number: 1, value: 3 }]);
    expect(resizedSteps(lists, little, { does: 'remove', at: 1 }).cell).toEqual([[5, 7, 1, 'a note'], 0]);
    expect(resizedSteps(lists, little, { does: 'remove', at: 0 }).moved).toEqual([]);
  });

  test.each<readonly [string, Cell | undefined, StepChange, string | RegExp]>([
    [
      'in the middle of another',
      bytes,
      { does: 'add', at: 3, code: 0, values: [] },
      /place where a step begins/,
    ],
    ['behind the end', bytes, { does: 'add', at: 11, code: 0, values: [] }, /place where a step begins/],
    ['that is the end', bytes, { does: 'remove', at: 10 }, /place where a step begins/],
    ['without a word', bytes, { does: 'add', at: 0, code: 9, values: [] }, /a code that has a word/],
    ['of another count of numbers', bytes, { does: 'add', at: 0, code: 1, values: [] }, /1 numbers/],
    [
      'with a number too large',
      bytes,
      { does: 'add', at: 0, code: 1, values: [65_536] },
      'who from 0 to 65535',
    ],
    ['with a fraction', [[0]], { does: 'add', at: 0, code: 1, values: [0.5] }, /who from/],
    [
      'where one has no word',
      Uint8Array.of(0, 9),
      { does: 'remove', at: 0 },
      /at 1 has no word for the code 9/,
    ],
    ['where one is cut off', Uint8Array.of(0, 1, 1), { does: 'remove', at: 0 }, /at 1 is cut off/],
    [
      'where a list has a text',
      [[1, 'x', 3], [0]],
      { does: 'remove', at: 1 },
      /something else in the one at 0/,
    ],
    ['in a text', 'steps', { does: 'remove', at: 0 }, /in bytes or lists/],
    ['in nothing', undefined, { does: 'remove', at: 0 }, /in bytes or lists/],
    ['in too many', new Uint8Array(20_001), { does: 'remove', at: 0 }, /fewer than 20000/],
  ])('%s is refused', (_, cell, change, said) => {
    const why = whyNot(() => resizedSteps(cell, little, change));
    if (typeof said === 'string') expect(why).toContain(said);
    else expect(why).toMatch(said);
  });

  test('that leaves no room for where others go on is refused, and that one is told', () => {
    const small = vocabulary('little', 'u8');
    const far = Uint8Array.of(5, 0, 0, 254, ...new Uint8Array(250));
    expect(whyNot(() => resizedSteps(far, small, { does: 'add', at: 4, code: 1, values: [1] }))).toMatch(
      /steps at 0.*else from 0 to 255/s,
    );
    expect(resizedSteps(far, small, { does: 'add', at: 4, code: 0, values: [] }).moved[0]!.value).toBe(255);
  });

  test('comes and goes, and all others mean what they meant, whatever they are', () => {
    const step = fc.oneof(
      fc.record({ code: fc.constant(1), values: fc.tuple(fc.integer({ min: 0, max: 0xffff })) }),
      fc.record({ code: fc.constant(5), values: fc.tuple(fc.integer({ min: 0, max: 0xffff }), fc.nat(30)) }),
      fc.record({ code: fc.constant(0), values: fc.constant<number[]>([]) }),
    );
    fc.assert(
      fc.property(
        fc.array(step, { maxLength: 20 }),
        step,
        fc.nat(),
        fc.constantFrom('little', 'big'),
        fc.boolean(),
        (all, fresh, x, order, isBytes) => {
          const words = vocabulary(order, 'u16');
          const sizes = all.map(({ code }) => (code === 1 ? 3 : code === 5 ? 5 : 1));
          const places = [0];
          for (const [i, size] of sizes.entries()) places.push(places[i]! + (isBytes ? size : 1));
          const placed = ({ code, values }: { code: number; values: readonly number[] }): number[] =>
            code === 5 ? [values[0]!, places[values[1]! % places.length]!] : [...values];
          let cell: Cell = isBytes ? new Uint8Array() : [];
          // One behind the other, so that each goes on where it was said in the end.
          const lists = all.map((one) => [one.code, ...placed(one)]);
          if (isBytes)
            cell = Uint8Array.from(
              lists.flatMap(([code, ...values]) => [
                code!,
                ...values.flatMap((one) => (order === 'big' ? [one >> 8, one & 255] : [one & 255, one >> 8])),
              ]),
            );
          else cell = lists;
          const before = meant(cell, words);
          const which = x % places.length;
          const at = places[which]!;
          const more = resizedSteps(cell, words, {
            does: 'add',
            at,
            code: fresh.code,
            values: placed(fresh),
          });
          const moves = (one: unknown): unknown =>
            typeof one === 'object' && one !== null
              ? {
                  to:
                    (one as { to: number }).to >= which
                      ? (one as { to: number }).to + 1
                      : (one as { to: number }).to,
                }
              : one;
          const now = meant(more.cell, words);
          expect(now.toSpliced(which, 1)).toEqual(before.map((own) => (own as unknown[]).map(moves)));
          expect(resizedSteps(more.cell, words, { does: 'remove', at }).cell).toEqual(cell);
        },
      ),
    );
  });
});
