/** A named set of things of one sort. Adding one is one file and one line in the registry that holds it. */
export class Registry<T extends { readonly name: string }> {
  readonly sort: string;
  private readonly items = new Map<string, T>();

  constructor(sort: string, items: readonly T[]) {
    this.sort = sort;
    for (const item of items) this.items.set(item.name, item);
  }

  get(name: string): T | undefined {
    return this.items.get(name);
  }

  all(): T[] {
    return [...this.items.values()];
  }

  names(): string[] {
    return [...this.items.keys()];
  }
}

/** The known word nearest to a misspelt one, when it is near enough to be meant. */
export function nearest(word: string, known: Iterable<string>): string | undefined {
  let best: string | undefined;
  // Two letters changed places count as two; very short words must be nearer.
  let least = word.length < 3 ? 2 : Math.max(2, Math.floor(word.length / 3)) + 1;
  for (const candidate of known) {
    const distance = editDistance(word.toLowerCase(), candidate.toLowerCase());
    if (distance < least) {
      least = distance;
      best = candidate;
    }
  }
  return best;
}

/** Levenshtein distance, row by row. */
function editDistance(a: string, b: string): number {
  let row = Array.from({ length: b.length + 1 }, (_, i) => i);
  for (let i = 1; i <= a.length; i++) {
    const next = [i];
    for (let j = 1; j <= b.length; j++)
      next[j] = Math.min(row[j]! + 1, next[j - 1]! + 1, row[j - 1]! + (a[i - 1] === b[j - 1] ? 0 : 1));
    row = next;
  }
  return row[b.length]!;
}
