import type { Catalogue } from './catalogue';
import { findRows } from './find';
import { nameStart } from './lines';

/** The rows that answer under a path with the same name in another folder, in the order of paths. */
export function namesakesOf(catalogue: Catalogue, row: number): number[] {
  const path = catalogue.path(row);
  const name = path.slice(path.lastIndexOf('/') + 1);
  // With the signs of patterns in it, it cannot be looked for as one.
  if (name === '' || /[*?]/.test(name)) return [];
  const mask = findRows(
    catalogue,
    { folder: '', archive: undefined, terms: [{ isNot: false, condition: { sort: 'part', text: name } }] },
    { archives: [] },
  );
  const { search } = catalogue;
  const wanted = new TextEncoder().encode(name);
  const found: number[] = [];
  for (let other = 0; other < mask.length; other++) {
    if (mask[other] !== 1 || other === row) continue;
    const from = nameStart(search, other);
    if (search.ends[other]! - from !== wanted.length) continue;
    if (!wanted.every((sign, i) => search.lines[from + i] === sign)) continue;
    if (catalogue.path(other) !== path) found.push(other);
  }
  return found;
}
