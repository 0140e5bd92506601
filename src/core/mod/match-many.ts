/** An entry that a file may be meant for: its path, and what people call it. */
export interface Matchable {
  readonly path: string;
  readonly called: readonly string[];
}

/** By what a file found entries; `number` where the last number of both names is the same. */
export type MatchedBy = 'path' | 'name' | 'label' | 'number';

export interface FileMatch {
  readonly file: string;
  readonly by: MatchedBy | undefined;
  /** Numbers of the entries that may be meant, in the list that was given; one where it is clear. */
  readonly entries: readonly number[];
}

/** So many that may be meant are told. */
const MOST_TOLD = 50;

const plain = (text: string): string => text.replaceAll('\\', '/').toLowerCase();
const stemOf = (path: string): string => {
  const dot = path.lastIndexOf('.');
  return dot > path.lastIndexOf('/') + 1 ? path.slice(0, dot) : path;
};
const nameOf = (path: string): string => path.slice(path.lastIndexOf('/') + 1);
const numberOf = (name: string): string | undefined => /(\d+)\D*$/.exec(name)?.[1]?.replace(/^0+(?=\d)/, '');

/** The ends of a path that have a folder, the longest first. */
function ends(stem: string): string[] {
  const steps = stem.split('/');
  return steps.slice(0, -1).map((_step, from) => steps.slice(from).join('/'));
}

/**
 * Which entries of a list files from outside are meant for: by the end of their paths, by their names, by what one is called, or by the last
 * number in their names, the first of these that finds any. Endings do not count.
 */
export function matchMany(files: readonly string[], entries: readonly Matchable[]): FileMatch[] {
  const [byPath, byName, byLabel, byNumber] = [new Index(), new Index(), new Index(), new Index()];
  for (const [i, { path, called }] of entries.entries()) {
    const stem = stemOf(plain(path));
    const name = nameOf(stem);
    for (const end of ends(stem)) byPath.add(end, i);
    byName.add(name, i);
    for (const label of new Set(called)) byLabel.add(plain(label).trim(), i);
    byNumber.add(numberOf(name), i);
  }
  return files.map((file): FileMatch => {
    const stem = stemOf(plain(file)).replace(/^\/+/, '');
    const name = nameOf(stem);
    const ways = [
      [
        'path',
        ends(stem)
          .map(byPath.of)
          .find((own) => own.length > 0) ?? [],
      ],
      ['name', byName.of(name)],
      ['label', byLabel.of(name.trim())],
      ['number', byNumber.of(numberOf(name))],
    ] as const;
    const [by, found] = ways.find(([, own]) => own.length > 0) ?? [undefined, []];
    return { file, by, entries: found.slice(0, MOST_TOLD) };
  });
}

/** Numbers by a text. */
class Index {
  private readonly known = new Map<string, number[]>();

  add(text: string | undefined, number: number): void {
    if (text === undefined || text === '') return;
    const own = this.known.get(text);
    if (own) own.push(number);
    else this.known.set(text, [number]);
  }

  of = (text: string | undefined): readonly number[] =>
    text === undefined ? [] : (this.known.get(text) ?? []);
}
