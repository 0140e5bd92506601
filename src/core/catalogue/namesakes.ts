import type { Catalogue } from './catalogue';
import { findRows } from './find';
import { nameStart } from './lines';

/** The rows that answer and are called so, whatever folder they lie in, in the order of paths. */
function rowsCalled(catalogue: Catalogue, name: string): number[] {
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
  for (let row = 0; row < mask.length; row++) {
    if (mask[row] !== 1) continue;
    const from = nameStart(search, row);
    if (search.ends[row]! - from !== wanted.length) continue;
    if (wanted.every((sign, i) => search.lines[from + i] === sign)) found.push(row);
  }
  return found;
}

/** The rows that answer under a path with the same name in another folder, in the order of paths. */
export function namesakesOf(catalogue: Catalogue, row: number): number[] {
  const path = catalogue.path(row);
  return rowsCalled(catalogue, path.slice(path.lastIndexOf('/') + 1)).filter(
    (other) => other !== row && catalogue.path(other) !== path,
  );
}

/** How many steps two paths have in common, counted from their ends. */
function stepsInCommon(a: string, b: string): number {
  const [left, right] = [a.split('/').reverse(), b.split('/').reverse()];
  const apart = left.findIndex((step, i) => step !== right[i]);
  return apart < 0 ? left.length : apart;
}

/**
 * The row that is meant by a path which is spelled from another beginning than that of the tree, as files in an archive spell what lies beside
 * them: the one whose path has the most steps of it at its end, of several the one in the archive of whoever spells it. A name alone is not
 * enough where folders are spelled, unless it lies in that archive. Undefined where none is.
 */
function rowByEnd(catalogue: Catalogue, spelled: string, archive: number | undefined): number | undefined {
  const { archives } = catalogue.columns;
  const least = spelled.includes('/') ? 2 : 1;
  const found = rowsCalled(catalogue, spelled.slice(spelled.lastIndexOf('/') + 1))
    .map((row) => ({
      row,
      isOwn: archives[row] === archive,
      steps: stepsInCommon(catalogue.path(row), spelled),
    }))
    .filter(({ isOwn, steps }) => isOwn || steps >= least)
    .sort((a, b) => b.steps - a.steps || Number(b.isOwn) - Number(a.isOwn) || a.row - b.row);
  return found[0]?.row;
}

/**
 * The row that an entry means by a path: as it is spelled, from the entry's own folder on, or by the end of it. `own` is the row of whoever spells
 * it, -1 for none. Undefined where no row is meant.
 */
export function rowSpelled(catalogue: Catalogue, spelled: string, own: number): number | undefined {
  const path = spelled.replaceAll('\\', '/').replace(/^\.?\//, '');
  const at = own < 0 ? '' : catalogue.path(own);
  const archive = own < 0 ? undefined : catalogue.columns.archives[own];
  return (
    catalogue.stack(path)[0] ??
    catalogue.stack(at.slice(0, at.lastIndexOf('/') + 1) + path)[0] ??
    rowByEnd(catalogue, path, archive)
  );
}
