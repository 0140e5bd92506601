/** Words of a path from its end, as keys of texts are made of them. */
const stepsOf = (path: string): string[] =>
  path
    .toLowerCase()
    .replace(/\.[^./]*$/, '')
    .split('/');

const key = (text: string): string => text.toLowerCase().replace(/[\s/\\_.:-]+/g, '.');

/** A key of a line as it is compared: in small letters, whatever parts its words. */
export const keyOfLine = key;

/** So many words from the end of a path a key may have. */
const MOST_STEPS = 4;

/** The keys of lines that a sound may be tied to by its path: what that ends in, of two words or more. */
export function tailsOf(path: string): string[] {
  const steps = stepsOf(path);
  const tails: string[] = [];
  for (let length = 2; length <= Math.min(MOST_STEPS, steps.length); length++)
    tails.push(key(steps.slice(-length).join('/')));
  return tails;
}

/** A key and its text: parted by a tab, a sign that tables and settings part them by, or in the first two cells of a row. */
const LINE = /^\s*"?([^\t=;,"]+)"?\s*(?:\t|=|;|,|:\s)\s*"?(.*?)"?[,\s]*$/;
const MOST_LINES = 200_000;

/** The keys of a table of lines with their texts, as they stand; lines that have none are left out. */
export function* keyedLines(table: string): Generator<readonly [key: string, text: string]> {
  let count = 0;
  for (const line of table.split(/\r?\n/)) {
    if (++count > MOST_LINES) return;
    const [, own, text] = LINE.exec(line.slice(0, 4000)) ?? [];
    if (own !== undefined && text) yield [own.trim(), text];
  }
}

/**
 * A table of lines with other texts for some of its keys; all else stays as it is, also what parts keys from texts and what ends a line. A text takes one line, and within quotes a
 * quote is doubled. Keys that it does not have are given back.
 */
export function withTexts(
  table: string,
  texts: ReadonlyMap<string, string>,
): { readonly table: string; readonly missing: readonly string[] } {
  const left = new Set(texts.keys());
  const lines = table.split(/(?<=\n)/).map((whole) => {
    const line = whole.replace(/\r?\n$/, '');
    const [, own, text] = LINE.exec(line.slice(0, 4000)) ?? [];
    const next = own === undefined ? undefined : texts.get(own.trim());
    if (next === undefined || !text) return whole;
    left.delete(own!.trim());
    // What stands for the text is the last of its kind in the line.
    const at = line.lastIndexOf(text);
    const isQuoted = line[at - 1] === '"' && line[at + text.length] === '"';
    const flat = next.replace(/\s*[\r\n]+\s*/g, ' ').trim();
    return `${line.slice(0, at)}${isQuoted ? flat.replaceAll('"', '""') : flat}${whole.slice(at + text.length)}`;
  });
  return { table: lines.join(''), missing: [...left] };
}

/**
 * The text that stands beside a sound in a table of lines: that whose key is the sound's path, or what its path ends in. Of a key that is the name
 * alone the table has to be called as a folder of the sound is. Undefined where none is.
 */
export function spokenLine(table: string, tableName: string, soundPath: string): string | undefined {
  const steps = stepsOf(soundPath);
  const isOwnTable = steps.slice(0, -1).includes(stepsOf(tableName).at(-1)!);
  const wanted = new Map<string, number>();
  for (let length = isOwnTable ? 1 : 2; length <= steps.length; length++)
    wanted.set(key(steps.slice(-length).join('/')), length);
  let best: { readonly text: string; readonly length: number } | undefined;
  for (const [own, text] of keyedLines(table)) {
    const length = wanted.get(key(own));
    if (length !== undefined && length > (best?.length ?? 0)) best = { text, length };
  }
  return best?.text;
}
