import { FormatError } from '@/core/bytes';
import type { AddedLine, TableLine, TextChange } from './table';

/** Lines as they were read, and the languages that their texts are in, as their table tells them apart. */
export interface LinesRead {
  readonly words: readonly string[];
  readonly lines: readonly TableLine[];
}

export interface LinesWanted {
  /** Other texts; those of further languages have the numbers behind the languages that there are. */
  readonly changes: readonly TextChange[];
  readonly added?: readonly AddedLine[];
  /** Further languages that it gets, as it tells them apart. */
  readonly further?: readonly string[];
}

/**
 * Holds a table that was written against what it was to become: all texts that it had, those that were given, further lines and further languages, and nothing else. Gives the number that each line has now.
 * Throws FormatError `not-writable` with the first key that has another text.
 */
export function refuseUnlike(before: LinesRead, after: LinesRead, wanted: LinesWanted): number[] {
  const { changes, added = [], further = [] } = wanted;
  const numbers = numbersNow(before.lines, after.lines);
  const columns = [...before.words, ...further].map((word) => after.words.indexOf(word));
  const becomes = new Map(changes.map(({ line, tongue, text }) => [`${line} ${tongue}`, text]));
  const differs = before.lines.findIndex(({ texts }, line) => {
    const now = after.lines[numbers[line]!]?.texts;
    return !now || columns.some((column, i) => now[column] !== (becomes.get(`${line} ${i}`) ?? texts[i]));
  });
  const asKnown = ({ key, texts }: AddedLine): string => `${key}\0${texts[0] ?? ''}`;
  const there = new Set(added.length > 0 ? after.lines.map(asKnown) : []);
  const lacking = added.find((one) => !there.has(asKnown(one)));
  const isOfSize =
    after.lines.length === before.lines.length + added.length &&
    after.words.length === columns.length &&
    !columns.includes(-1);
  if (differs < 0 && !lacking && isOfSize) return numbers;
  const line = before.lines[differs];
  throw new FormatError('not-writable', {
    fieldPath: line?.key ?? lacking?.key ?? 'lines',
    expected:
      line || lacking
        ? 'the text that was given, and all others as they were'
        : 'lines and languages as they were',
    actual: line || lacking ? 'another one' : `${after.lines.length} lines in ${after.words.join(', ')}`,
    why: 'read again, the table is not what it was to become',
    remedy: 'Change it with another program, and put the whole file into the mod',
  });
}

/** The number that each line has in a table that was written anew, by its key and number among namesakes; -1 for one that is gone. */
function numbersNow(before: readonly TableLine[], after: readonly TableLine[]): number[] {
  const namesOf = (lines: readonly TableLine[]): string[] => {
    const counts = new Map<string, number>();
    return lines.map(({ key }) => {
      const nth = counts.get(key) ?? 0;
      counts.set(key, nth + 1);
      return `${nth} ${key}`;
    });
  };
  const now = new Map(namesOf(after).map((name, line) => [name, line]));
  return namesOf(before).map((name) => now.get(name) ?? -1);
}
