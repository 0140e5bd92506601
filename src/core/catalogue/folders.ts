import { lineStart, type Lines } from './lines';

/** A folder with what answers in it and below it. */
export interface Folder {
  /** Name without slashes; empty for the root. */
  readonly name: string;
  /** Path with a slash behind it; empty for the root. */
  readonly path: string;
  /** Files of it and all below it that answer, and their plain bytes. */
  count: number;
  bytes: number;
  readonly inner: Folder[];
}

const SLASH = 47;
const decoder = new TextDecoder();

/** Makes the tree of folders out of sorted paths. Only rows marked in `counted` count, and only folders with such rows are in it. */
export function makeFolders(of: Lines, sizes: Float64Array, counted: Uint8Array): Folder {
  const root: Folder = { name: '', path: '', count: 0, bytes: 0, inner: [] };
  const { lines, ends } = of;
  /** The folders that the row before lies in, from the root. */
  const open: Folder[] = [root];
  /** Where the name of each open folder ends in `before`, its slash included. */
  const stops: number[] = [0];
  let before = 0;
  for (let row = 0; row < ends.length; row++) {
    if (counted[row] === 0) continue;
    const from = lineStart(of, row);
    const end = ends[row]!;
    // How many of the open folders this row lies in too.
    let depth = 1;
    let same = 0;
    while (depth < open.length) {
      const stop = stops[depth]!;
      if (from + stop > end) break;
      while (same < stop && lines[from + same] === lines[before + same]) same++;
      if (same < stop) break;
      depth++;
    }
    open.length = depth;
    stops.length = depth;
    for (let at = from + stops[depth - 1]!, start = at; at < end; at++) {
      if (lines[at] !== SLASH) continue;
      const name = decoder.decode(lines.subarray(start, at));
      const outer = open.at(-1)!;
      const folder: Folder = { name, path: `${outer.path}${name}/`, count: 0, bytes: 0, inner: [] };
      outer.inner.push(folder);
      open.push(folder);
      stops.push(at + 1 - from);
      start = at + 1;
    }
    open.at(-1)!.count++;
    open.at(-1)!.bytes += sizes[row]!;
    before = from;
  }
  const total = (folder: Folder): void => {
    for (const inner of folder.inner) {
      total(inner);
      folder.count += inner.count;
      folder.bytes += inner.bytes;
    }
  };
  total(root);
  return root;
}

/** The folder of a path such as `actors/odd/`, or undefined. */
export function folderAt(root: Folder, path: string): Folder | undefined {
  let at: Folder | undefined = root;
  // A step may have no name, as in `a//b`.
  const steps = path.split('/');
  if (steps.at(-1) === '') steps.pop();
  for (const step of steps) at = at?.inner.find(({ name }) => name === step);
  return at;
}
