import { distance } from 'fastest-levenshtein';

/** A line of a paste or a manifest with the path that it means, or the nearest one that there is. */
export interface MatchedLine {
  readonly line: string;
  readonly number: number;
  readonly path: string | undefined;
  /** The archive that it names rather than an entry of one. */
  readonly archive: string | undefined;
  readonly nearest: string | undefined;
}

/** What lines are held against. */
export interface KnownPaths {
  /** The path as it is spelled, of one in any case; undefined where there is none. */
  find(path: string): string | undefined;
  /** The file of an archive, or a part of one, that is called so in any case; undefined where there is none. */
  archive?(path: string): string | undefined;
  /** Paths that might be meant, for lines that fit none: those of the same name, or in the same folder. */
  candidates(path: string): readonly string[];
}

const MOST_CANDIDATES = 2000;
/** A path that differs in more than this part of its signs is not what was meant. */
const MOST_DIFFERENT = 0.5;
/** For so many lines the nearest path is looked for; a file of which more fit nothing is no list of this game. */
const MOST_NEAREST = 300;
/** A longer line is no path, whatever stands in it. */
const MOST_LINE_LENGTH = 2000;
const MOST_SPELLINGS = 24;
const NOTHING = { path: undefined, archive: undefined, nearest: undefined };

/** Lines of a paste or a manifest held against the paths of a game. Remarks (`#`) and empty lines are passed over. */
export const matchLines = (text: string, known: KnownPaths): MatchedLine[] => [...matchedLines(text, known)];

/** The same one after the other, for those who have others to answer in between. */
export function* matchedLines(text: string, known: KnownPaths): Generator<MatchedLine> {
  let [unknown, number] = [0, 0];
  for (let from = 0; from <= text.length;) {
    const found = text.indexOf('\n', from);
    const end = found < 0 ? text.length : found;
    // No more of a line is looked at than is needed to say that it is too long.
    const line = text.slice(from, Math.min(end, from + 2 * MOST_LINE_LENGTH)).trim();
    from = end + 1;
    number++;
    if (line === '' || line.startsWith('#')) continue;
    if (line.length > MOST_LINE_LENGTH) {
      yield { ...NOTHING, line: `${line.slice(0, 80)}…`, number };
      continue;
    }
    const spellings = spellingsIn(line);
    const [path] = firstOf(spellings, (one) => known.find(one));
    const [archive] = path === undefined ? firstOf(spellings, (one) => known.archive?.(one)) : [];
    if (path !== undefined || archive !== undefined) yield { ...NOTHING, line, number, path, archive };
    else {
      const nearest = ++unknown <= MOST_NEAREST ? nearestOf(spellings, known) : undefined;
      yield { ...NOTHING, line, number, nearest };
    }
  }
}

/** The first that is found; nothing where none is. */
function firstOf(
  spellings: readonly string[],
  find: (spelling: string) => string | undefined,
): [string] | [] {
  for (const spelling of spellings) {
    const found = find(spelling);
    if (found !== undefined) return [found];
  }
  return [];
}

/** What of a line may be a path: all of it, then what stands behind one column after the other, as in a manifest. */
function spellingsIn(line: string): string[] {
  const clean = (text: string): string =>
    text
      .replace(/^["']|["',;]+$/g, '')
      .replaceAll('\\', '/')
      .replace(/^\.?\//, '');
  const found = new Set([clean(line)]);
  found.delete('');
  for (const match of line.matchAll(/[\s,;=]+/g)) {
    if (found.size >= MOST_SPELLINGS) break;
    found.add(clean(line.slice(match.index + match[0].length)));
  }
  // Columns behind the path, such as a size.
  for (const cell of line.split(/[\t,;]|\s{2,}/, MOST_SPELLINGS)) {
    if (found.size >= MOST_SPELLINGS) break;
    found.add(clean(cell));
  }
  found.delete('');
  return [...found];
}

function nearestOf(spellings: readonly string[], known: KnownPaths): string | undefined {
  let best: string | undefined;
  let least = Number.POSITIVE_INFINITY;
  // The longest piece with a slash or a point in it is most likely the path.
  const likely = spellings.filter((text) => /[/.]/.test(text) && !/\s/.test(text));
  for (const spelling of likely.length > 0 ? likely : spellings.slice(0, 1)) {
    const wanted = spelling.toLowerCase();
    for (const path of known.candidates(spelling).slice(0, MOST_CANDIDATES)) {
      const part = distance(wanted, path.toLowerCase()) / Math.max(wanted.length, path.length);
      if (part < least) [best, least] = [path, part];
    }
  }
  return least <= MOST_DIFFERENT ? best : undefined;
}
