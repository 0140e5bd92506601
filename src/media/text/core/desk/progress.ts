import { textNow, type DeskLine, type LineWork } from './desk-line';

/** How far the lines of something are; words are those of the source. */
export interface Progress {
  readonly name: string;
  readonly lines: number;
  readonly words: number;
  /** Lines that have a text. */
  readonly filled: number;
  readonly changed: number;
  readonly done: number;
  readonly doneWords: number;
  readonly reviewed: number;
  readonly failing: number;
}

export const wordsIn = (text: string): number => text.match(/[\p{L}\p{N}'’]+/gu)?.length ?? 0;

interface Counted {
  readonly line: DeskLine;
  readonly work: LineWork | undefined;
  readonly wrong: number;
}

/** The progress of all lines by what `nameOf` says of each, in the order in which names come first. */
export function progressBy(lines: Iterable<Counted>, nameOf: (line: DeskLine) => string): Progress[] {
  const found = new Map<string, { -readonly [K in keyof Progress]: Progress[K] }>();
  for (const { line, work, wrong } of lines) {
    const name = nameOf(line);
    let own = found.get(name);
    if (!own) {
      own = {
        name,
        lines: 0,
        words: 0,
        filled: 0,
        changed: 0,
        done: 0,
        doneWords: 0,
        reviewed: 0,
        failing: 0,
      };
      found.set(name, own);
    }
    const words = wordsIn(line.source ?? '');
    own.lines++;
    own.words += words;
    if (textNow(line, work) !== '') own.filled++;
    if (work && work.text !== (line.was ?? '')) own.changed++;
    if (work?.state === 'done' || work?.state === 'reviewed') {
      own.done++;
      own.doneWords += words;
    }
    if (work?.state === 'reviewed') own.reviewed++;
    if (wrong > 0) own.failing++;
  }
  return [...found.values()];
}
