import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { FormatError } from '@/core/bytes';
import { SCENE_WORDS, storyTables } from '../../../../../demo/world/quillmoor/tables';
import { parseVocabulary, readSteps, stepFields } from '.';

const words = parseVocabulary(SCENE_WORDS);
const scenes = storyTables().scenes as { steps: Buffer; makes: number }[];
const bytes = (steps: Uint8Array): Uint8Array => new Uint8Array(steps);

describe('a vocabulary', () => {
  test('says which field it reads, and what each code does', () => {
    expect([words.table, words.field, words.codeBytes, words.words.size]).toEqual(['scenes', 'steps', 1, 8]);
    expect(words.words.get(5)).toMatchObject({
      called: 'asks',
      with: [
        { name: 'promise', bytes: 2, means: 'promises' },
        { name: 'else', bytes: 2, means: 'jump' },
      ],
      says: ['Unless ', { argument: 0 }, ' is kept, on at ', { argument: 1 }, '.'],
    });
  });

  test.each([
    ['words for: scenes\nwords: { 1: { called: a } }', /a table and its field/],
    ['words for: a.b\nwords: { 300: { called: a } }', /a code of 1 byte/],
    ['words for: a.b\nwords: { 1: { called: a, with: { x: u64 } } }', /u8, u16/],
    ["words for: a.b\nwords: { 1: { called: a, with: { x: u8 }, says: '{y}' } }", /one of \{x\}/],
    ['words for: a.b\nwords: {}', /at least one word/],
    ['words for: a.b\nbyte order: middle\nwords: { 1: { called: a } }', /little or big/],
    ['words for: a.b\nother: 1\nwords: { 1: { called: a } }', /other/],
  ])('that is wrong says where: %#', (text, why) => {
    expect(() => parseVocabulary(text)).toThrow(FormatError);
    expect(() => parseVocabulary(text)).toThrow(why);
  });
});

describe('steps', () => {
  test('are read from bytes, each with its place', () => {
    const steps = readSteps(bytes(scenes[0]!.steps), words);
    expect(steps.map(({ at, word, values }) => [at, word!.called, values])).toEqual([
      [0, 'comes', [100, 300]],
      [5, 'reads', [100, 1000]],
      // It goes on where the weather would come.
      [10, 'asks', [2000, 20]],
      [15, 'gives', [100, 800]],
      [20, 'makes', [2000]],
      [23, 'weather', [500]],
      [26, 'ends', []],
    ]);
    expect(steps.every(({ problem }) => problem === undefined)).toBe(true);
  });

  test('of lists are read alike', () => {
    const steps = readSteps([[1, 100, 300], [5, 2000, 2], [0], [9], 'x'], words);
    expect(steps.map(({ at, problem }) => [at, problem])).toEqual([
      [0, undefined],
      [1, undefined],
      [2, undefined],
      [3, 'has no word for the code 9'],
      [4, 'begins with no code'],
    ]);
    expect(readSteps([[1, 100]], words)[0]!.problem).toBe('has 1 numbers, its word 2');
  });

  test('that go on where none begins, have no word or are cut off say so', () => {
    const jumps = Uint8Array.from([5, 0, 8, 3, 0, 0]);
    expect(readSteps(jumps, words)[0]!.problem).toBe('goes on at 3, where no step begins');
    expect(readSteps(Uint8Array.from([5, 0, 8, 6, 0, 0]), words)[0]!.problem).toBeUndefined();
    expect(readSteps(Uint8Array.from([0, 77, 1]), words).map(({ problem }) => problem)).toEqual([
      undefined,
      'has no word for the code 77',
    ]);
    expect(readSteps(Uint8Array.from([3, 1]), words)[0]!.problem).toBe('is cut off');
    expect(readSteps(undefined, words)).toEqual([]);
    expect(readSteps('text', words)).toEqual([]);
  });

  test('are read to an end whatever the bytes are', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 200 }), (any) => {
        const steps = readSteps(any, words);
        let at = 0;
        for (const step of steps) {
          expect(step.at).toBe(at);
          at += 1 + 2 * step.values.length;
        }
        expect(at <= any.length + 1 || steps.at(-1)!.problem !== undefined).toBe(true);
      }),
    );
  });
});

test('what steps say of rows are fields', () => {
  const fields = stepFields(
    scenes.map(({ steps }) => bytes(steps)),
    words,
  );
  expect(fields.map(({ field, means }) => [field.path, means])).toEqual(
    expect.arrayContaining([
      ['steps.keeps.promise', 'promises'],
      ['steps.gives.thing', 'items'],
    ]),
  );
  expect(fields.some(({ field }) => field.path.includes('else'))).toBe(false);
  const made = fields.find(({ field }) => field.path === 'steps.makes.promise')!.field;
  expect(made.numbers.length).toBe(scenes.filter((_, i) => i % 3 !== 1).length);
});
