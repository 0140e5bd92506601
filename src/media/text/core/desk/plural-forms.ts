import type { DeskLine, LineId } from './desk-line';

/** Forms of a count as languages have them (Unicode CLDR, plural rules). */
const CATEGORIES = ['zero', 'one', 'two', 'few', 'many', 'other'] as const;
type Category = (typeof CATEGORIES)[number];

/** A key that stands for one form of a text: `eels_one`, `eels.other`, `eels[few]`. */
export interface FormKey {
  /** What all forms of the text share. */
  readonly base: string;
  readonly form: Category;
  /** The key of another form. */
  readonly with: (form: string) => string;
}

const FORM = /^(.+?)([._\-/#:@ ]|\[)(zero|one|two|few|many|other)(\]?)$/i;

/** Signs that keys with a form end in, so that others are not looked at further. */
const LAST = new Set([...CATEGORIES.map((word) => word.at(-1)!), ']']);

/** The form that a key stands for; undefined where it ends in none. */
export function formOf(key: string): FormKey | undefined {
  if (!LAST.has(key[key.length - 1]?.toLowerCase() ?? '')) return undefined;
  const [, base, sign, word, end] = FORM.exec(key) ?? [];
  if (base === undefined || (sign === '[') !== (end === ']')) return undefined;
  const form = word!.toLowerCase() as Category;
  const spelled = (of: string): string =>
    word === form
      ? of
      : word === word!.toUpperCase()
        ? of.toUpperCase()
        : `${of[0]!.toUpperCase()}${of.slice(1)}`;
  return { base: `${base}${sign}`, form, with: (of) => `${base}${sign}${spelled(of)}${end}` };
}

/** Forms of a count that a language has, in their usual order; that which all have where the language is not known. */
export function formsIn(tongue: string): readonly Category[] {
  let known: readonly string[] = ['other'];
  try {
    if (tongue !== '') known = new Intl.PluralRules(tongue).resolvedOptions().pluralCategories;
  } catch {
    // No code of a language.
  }
  return CATEGORIES.filter((one) => known.includes(one));
}

/**
 * Keys of forms that a language has and its table lacks, by the key of the form that all languages have. `keys` are those of one table; texts are in forms where a key for `other` stands beside one for
 * another form.
 */
export function missingForms(keys: Iterable<string>, tongue: string): Map<string, string[]> {
  const groups = new Map<string, Map<Category, FormKey & { readonly key: string }>>();
  for (const key of keys) {
    const found = formOf(key);
    if (!found) continue;
    let group = groups.get(found.base);
    if (!group) groups.set(found.base, (group = new Map()));
    group.set(found.form, { ...found, key });
  }
  const wanted = formsIn(tongue);
  const missing = new Map<string, string[]>();
  for (const group of groups.values()) {
    const other = group.get('other');
    if (!other || group.size < 2) continue;
    const lacks = wanted.filter((form) => !group.has(form)).map((form) => other.with(form));
    if (lacks.length > 0) missing.set(other.key, lacks);
  }
  return missing;
}

/** A line for a further form of a text that the game has in another one. */
export const formLine = (like: DeskLine, { place, key, nth }: LineId): DeskLine => ({
  ...like,
  ...{ place, key, nth, was: undefined, isTwice: false },
});

/** Whether a key stands for a form of the same text as that of a line. */
export const isFormOf = (key: string, line: DeskLine): boolean => {
  const [form, own] = [formOf(key), formOf(line.key)];
  return form !== undefined && own?.form === 'other' && form.base === own.base;
};
