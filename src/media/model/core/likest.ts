import type { Kind } from '@/core/kinds';

/** What materials are painted with. */
export const OF_MATERIALS: Kind = 'picture';

const wordsOf = (path: string): string[] =>
  path
    .slice(path.lastIndexOf('/') + 1)
    .replace(/\.[^.]*$/, '')
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter((word) => word !== '');

/** Those whose names share the most words with that of a model, the likest first; ones that share none are left out. */
export function likest<T extends { readonly path: string }>(
  modelPath: string,
  others: readonly T[],
  most: number,
): T[] {
  const wanted = new Set(wordsOf(modelPath));
  return others
    .map((other) => {
      const words = wordsOf(other.path);
      const shared = words.filter((word) => wanted.has(word)).length;
      return { other, shared, rest: words.length - shared };
    })
    .filter(({ shared }) => shared > 0)
    .sort((a, b) => b.shared - a.shared || a.rest - b.rest || (a.other.path < b.other.path ? -1 : 1))
    .slice(0, most)
    .map(({ other }) => other);
}
