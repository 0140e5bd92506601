import type { Archive } from '../archive';
import { FormatError } from '../bytes';
import type { Column } from './columns-file';
import { asText, bare, isTextual, type Value } from '../script';

/** A field shown of entries: numbers as they are (NaN where there is none), or places in a list of words. */
export interface FactColumn {
  readonly title: string;
  readonly words: readonly string[] | undefined;
  readonly values: Float64Array;
}

/** A field that has more words than this is no help for finding anything. */
const MOST_WORDS = 50_000;
const MOST_WORD_LENGTH = 120;

/** The fields that the script of an archive shows of its entries, by the number of the entry. */
export function factsOfArchive(archive: Archive): FactColumn[] {
  const { entries, script, context } = archive;
  const titles = new Set(script.entries.flatMap(({ shown }) => shown.map(({ title }) => title)));
  return [...titles].map((title) => {
    const column = new FactBuilder(title, entries.length);
    for (let i = 0; i < entries.length; i++) {
      const { group, row } = entries[i]!;
      const shown = group.shown.find((one) => one.title === title);
      if (!shown) continue;
      try {
        column.set(i, bare(shown.value.run(context, row)));
      } catch (error) {
        // What is only shown must not keep an archive from being opened.
        if (!(error instanceof FormatError)) throw error;
      }
    }
    return column.done();
  });
}

/** Takes the values of one field, which are all numbers or all words. */
export class FactBuilder {
  private readonly values: Float64Array;
  private readonly places = new Map<string, number>();

  constructor(
    private readonly title: string,
    count: number,
  ) {
    this.values = new Float64Array(count).fill(Number.NaN);
  }

  set(i: number, value: Value): void {
    if (typeof value === 'number' || typeof value === 'bigint') {
      if (this.places.size === 0) this.values[i] = Number(value);
      else this.word(i, String(value));
    } else if (isTextual(value)) this.word(i, asText(value));
    else if (typeof value === 'boolean') this.word(i, value ? 'yes' : 'no');
  }

  private word(i: number, word: string): void {
    const spelled = word.slice(0, MOST_WORD_LENGTH);
    if (spelled === '') return;
    let place = this.places.get(spelled);
    if (place === undefined) {
      if (this.places.size >= MOST_WORDS) return;
      this.places.set(spelled, (place = this.places.size));
    }
    this.values[i] = place;
  }

  done(): FactColumn {
    const words = this.places.size > 0 ? [...this.places.keys()] : undefined;
    return { title: this.title, words, values: this.values };
  }
}

/** What is kept of a column besides its values. */
export type FactTitle = Omit<FactColumn, 'values'>;

/** Columns as a file keeps them: titles in its head, values in columns of their own. */
export function packFacts(facts: readonly FactColumn[]): {
  readonly titles: FactTitle[];
  readonly values: Record<string, Float64Array>;
} {
  return {
    titles: facts.map(({ title, words }) => ({ title, words })),
    values: Object.fromEntries(facts.map((fact, i) => [`fact${i}`, fact.values])),
  };
}

export const unpackFacts = (titles: readonly FactTitle[], read: (name: string) => Column): FactColumn[] =>
  titles.map((title, i) => ({ ...title, values: read(`fact${i}`) as Float64Array }));

/** The rows in another order. */
export const inOrderOf = (facts: readonly FactColumn[], order: Uint32Array): FactColumn[] =>
  facts.map((fact) => ({ ...fact, values: Float64Array.from(order, (row) => fact.values[row]!) }));

/** Puts columns of one title together; `at` says of each row which listing it is of, and which row there. */
export function mergeFacts(
  listings: readonly { readonly facts: readonly FactColumn[] }[],
  of: Uint16Array,
  rowOf: Uint32Array,
): FactColumn[] {
  const titles = [...new Set(listings.flatMap(({ facts }) => facts.map(({ title }) => title)))];
  return titles.map((title) => {
    const columns = listings.map(({ facts }) => facts.find((fact) => fact.title === title));
    const hasWords = columns.some((column) => column?.words);
    const places = new Map<string, number>();
    // Numbers beside words become words.
    const placeOf = (word: string): number => {
      let place = places.get(word);
      if (place === undefined) places.set(word, (place = places.size));
      return place;
    };
    const mapped = columns.map((column) => column?.words?.map(placeOf));
    const values = new Float64Array(of.length).fill(Number.NaN);
    for (let i = 0; i < of.length; i++) {
      const value = columns[of[i]!]?.values[rowOf[i]!];
      if (value === undefined || Number.isNaN(value)) continue;
      values[i] = !hasWords ? value : (mapped[of[i]!]?.[value] ?? placeOf(String(value)));
    }
    return { title, words: hasWords ? [...places.keys()] : undefined, values };
  });
}

/** What a field says of a row, or undefined. */
export function factOf({ words, values }: FactColumn, row: number): string | undefined {
  const value = values[row]!;
  if (Number.isNaN(value)) return undefined;
  return words ? words[value] : String(value);
}
