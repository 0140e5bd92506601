import { readYaml, type LocatedText } from '@/core/script';

/** A number that stands behind the code of a step. */
export interface StepArgument {
  readonly name: string;
  readonly bytes: 1 | 2 | 4;
  readonly isSigned: boolean;
  /** What it means: rows of a table, a place to go on at (`jump`), or nothing but itself. */
  readonly means: string | undefined;
}

/** What one code does. */
export interface StepWord {
  readonly code: number;
  readonly called: string;
  readonly with: readonly StepArgument[];
  /** The sentence it is read as: texts, and names of arguments. */
  readonly says: readonly (string | { readonly argument: number })[];
}

/** How steps in a field of a table are read in words. */
export interface Vocabulary {
  /** The table by its name without folder and ending, and the field of it. */
  readonly table: string;
  readonly field: string;
  readonly isBig: boolean;
  readonly codeBytes: 1 | 2 | 4;
  readonly words: ReadonlyMap<number, StepWord>;
}

const SIZES: Readonly<Record<string, readonly [bytes: 1 | 2 | 4, isSigned: boolean]>> = {
  ...{ u8: [1, false], u16: [2, false], u32: [4, false] },
  ...{ i8: [1, true], i16: [2, true], i32: [4, true] },
};
/** What a number means that is a place within the steps. */
export const JUMP = 'jump';

/** Reads a vocabulary from its text. Throws FormatError `script-wrong` with line, column and what was expected. */
export function parseVocabulary(text: string): Vocabulary {
  const top = readYaml(text);
  top.entries(['words for', 'byte order', 'code', 'words']);
  const place = top.need('words for');
  const [, table, field] = /^(.+)\.([^.]+)$/.exec(place.text()) ?? [];
  if (table === undefined || field === undefined)
    return place.fail('a table and its field, as scenes.steps', `'${place.text()}'`);
  const order = top.get('byte order')?.text() ?? 'little';
  if (order !== 'little' && order !== 'big') top.need('byte order').fail('little or big', `'${order}'`);
  const code = top.get('code');
  const [codeBytes] = code ? sizeOf(code) : ([1] as const);
  const words = new Map<number, StepWord>();
  for (const [name, at] of top.need('words').entries()) {
    const number = Number(name);
    if (!Number.isInteger(number) || number < 0 || number >= 2 ** (8 * codeBytes))
      at.fail(`a code of ${codeBytes} ${codeBytes === 1 ? 'byte' : 'bytes'}`, `'${name}'`);
    words.set(number, wordOf(number, at));
  }
  if (words.size === 0) top.need('words').fail('at least one word', 'none');
  return { table, field, isBig: order === 'big', codeBytes, words };
}

function sizeOf(at: LocatedText): readonly [1 | 2 | 4, boolean] {
  const said = at.text().split(/\s+/)[0] ?? '';
  return SIZES[said] ?? at.fail(Object.keys(SIZES).join(', '), `'${said}'`);
}

function wordOf(code: number, at: LocatedText): StepWord {
  at.entries(['called', 'with', 'says']);
  const given = (at.get('with')?.entries() ?? []).map(([name, type]): StepArgument => {
    const [bytes, isSigned] = sizeOf(type);
    const [, means] = type.text().trim().split(/\s+/, 2);
    return { name, bytes, isSigned, means };
  });
  const called = at.need('called').text();
  const sentence = at.get('says');
  const says: (string | { argument: number })[] = [];
  for (const [i, part] of (sentence?.text() ?? called).split(/\{([^{}]*)\}/).entries()) {
    if (i % 2 === 0) {
      if (part !== '') says.push(part);
      continue;
    }
    const argument = given.findIndex(({ name }) => name === part);
    if (argument < 0)
      sentence!.fail(
        `one of ${given.map(({ name }) => `{${name}}`).join(', ') || 'no names'}`,
        `'{${part}}'`,
      );
    says.push({ argument });
  }
  return { code, called, with: given, says };
}
