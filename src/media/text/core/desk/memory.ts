import { distance } from 'fastest-levenshtein';

/** Something that was said before, and how alike what it was said for is, up to 1. */
export interface Remembered {
  readonly source: string;
  readonly text: string;
  readonly likeness: number;
}

const MOST_OFFERED = 5;
/** Less alike than this nothing is offered. */
const LEAST_LIKENESS = 0.6;
/** Texts of such lengths are held against each other letter by letter. */
const MOST_COMPARED = 600;

const trigrams = (text: string): string[] => {
  const padded = `  ${text.toLocaleLowerCase()} `;
  const found = new Set<string>();
  for (let i = 0; i + 3 <= padded.length; i++) found.add(padded.slice(i, i + 3));
  return [...found];
};

/** Rarest parts of a text that are looked up; of common ones nothing is learnt. */
const MOST_PARTS = 12;
/** Of so many that share a part the shares are counted. */
const MOST_SEEN = 30_000;
/** So many of those that share most are compared. */
const MOST_CANDIDATES = 60;

/** Texts that were said before, found by parts of three letters that they share with another (Angell, Freund and Willett 1983) and told apart by edit distance. */
export class Memory {
  private readonly sources: string[] = [];
  private readonly texts: string[] = [];
  private readonly byPart = new Map<string, number[]>();
  private readonly known = new Map<string, number>();

  /** Remembers what a source was said as; the same source again has the new text. */
  add(source: string, text: string): void {
    if (source === '' || text === '') return;
    const before = this.known.get(source);
    if (before !== undefined) {
      this.texts[before] = text;
      return;
    }
    const number = this.sources.push(source) - 1;
    this.texts.push(text);
    this.known.set(source, number);
    for (const part of trigrams(source)) {
      const list = this.byPart.get(part);
      if (list) list.push(number);
      else this.byPart.set(part, [number]);
    }
  }

  /** What was said for sources like this one, the most alike first. */
  offers(source: string): Remembered[] {
    const parts = trigrams(source)
      .map((part) => this.byPart.get(part) ?? [])
      .filter((list) => list.length > 0)
      .sort((a, b) => a.length - b.length)
      .slice(0, MOST_PARTS);
    const shared = new Map<number, number>();
    let seen = 0;
    for (const list of parts) {
      // Parts that very many share tell little, and cost most.
      if (seen > 0 && seen + list.length > MOST_SEEN) break;
      seen += list.length;
      for (const number of list) shared.set(number, (shared.get(number) ?? 0) + 1);
    }
    const exact = this.known.get(source);
    const candidates = [...shared]
      .sort((a, b) => b[1] - a[1] || a[0] - b[0])
      .slice(0, MOST_CANDIDATES)
      .map(([number]) => number);
    if (exact !== undefined && !candidates.includes(exact)) candidates.push(exact);
    return candidates
      .map((number) => ({
        source: this.sources[number]!,
        text: this.texts[number]!,
        likeness: likeness(source, this.sources[number]!),
      }))
      .filter((one) => one.likeness >= LEAST_LIKENESS)
      .sort((a, b) => b.likeness - a.likeness)
      .slice(0, MOST_OFFERED);
  }
}

/** 1 for the same text, less the more of it would have to be written anew. */
export function likeness(a: string, b: string): number {
  if (a === b) return 1;
  const longest = Math.max(a.length, b.length);
  if (Math.min(a.length, b.length) / longest < LEAST_LIKENESS) return 0;
  return (
    1 - distance(a.slice(0, MOST_COMPARED), b.slice(0, MOST_COMPARED)) / Math.min(longest, MOST_COMPARED)
  );
}
