/** A file as a listing knows it: SHA-256 in hexadecimal digits, by path with `/` in lower case. */
export type Listing = ReadonlyMap<string, string>;

/** A line of a list of SHA-256 sums: 64 digits, a blank, a blank or `*`, and a path, as `sha256sum` writes and checks it. */
const LINE = /^\\?([0-9a-f]{64})[ \t]+\*?(.+)$/i;
/** The other common form, with the name of the hash in front. */
const TAGGED = /^SHA256 \((.+)\) = ([0-9a-f]{64})$/i;

const plainPath = (path: string): string =>
  path
    .trim()
    .replaceAll('\\', '/')
    .replace(/^(\.\/)+/, '')
    .toLowerCase();

/**
 * Reads a list of SHA-256 sums, either as sums with paths behind them or with the name of the hash in front of each. Empty lines and
 * those that begin with `#` are passed over. `wrong` has the numbers, from 1, of lines that are neither.
 */
export function readListing(text: string): { listing: Listing; wrong: readonly number[] } {
  const listing = new Map<string, string>();
  const wrong: number[] = [];
  for (const [i, line] of text.split(/\r?\n/).entries()) {
    if (line.trim() === '' || line.startsWith('#')) continue;
    const tagged = TAGGED.exec(line);
    const [, hash, path] = tagged ? [line, tagged[2], tagged[1]] : (LINE.exec(line) ?? []);
    if (hash === undefined || path === undefined) wrong.push(i + 1);
    else listing.set(plainPath(path), hash.toLowerCase());
  }
  return { listing, wrong };
}

/** What a listing says of a file below the game folder; the paths in it may begin further out or further in. */
export function listedHash(listing: Listing, path: string): string | undefined {
  const wanted = plainPath(path);
  const exact = listing.get(wanted);
  if (exact !== undefined) return exact;
  const near = [...listing].filter(
    ([listed]) => listed.endsWith(`/${wanted}`) || (listed.includes('/') && wanted.endsWith(`/${listed}`)),
  );
  return near.length === 1 ? near[0]![1] : undefined;
}
