/** A place in a path that says in which language something is. */
export interface TonguePlace {
  /** The path without that place and without its ending: what all languages of one thing share. */
  readonly key: string;
  /** What stands before that place. */
  readonly start: string;
  /** The code of the language (ISO 639-1). */
  readonly tongue: string;
}

const LETTERS = 'abcdefghijklmnopqrstuvwxyz';
const SPOKEN_IN_ENGLISH = new Intl.DisplayNames('en', { type: 'language', fallback: 'none' });

/** English names of the languages of ISO 639-1 by their codes. */
const TONGUES: ReadonlyMap<string, string> = new Map(
  [...LETTERS].flatMap((a) =>
    [...LETTERS].flatMap((b) => {
      const name = SPOKEN_IN_ENGLISH.of(a + b);
      return name === undefined ? [] : [[a + b, name] as const];
    }),
  ),
);

/** Codes of ISO 639-1 by those of ISO 639-2 that are usual; the first of a language is that which containers write. */
const THREE_LETTERS: Readonly<Record<string, string>> = {
  ...{ eng: 'en', deu: 'de', ger: 'de', fra: 'fr', fre: 'fr', spa: 'es', ita: 'it', jpn: 'ja', rus: 'ru' },
  ...{ por: 'pt', pol: 'pl', kor: 'ko', zho: 'zh', chi: 'zh', nld: 'nl', dut: 'nl', ces: 'cs', cze: 'cs' },
  ...{ swe: 'sv', nor: 'no', dan: 'da', fin: 'fi', tur: 'tr', hun: 'hu', ukr: 'uk', ara: 'ar', ell: 'el' },
};

/** Codes by what stands for them in paths: themselves, their codes of three letters (ISO 639-2) where they are usual, and their English names. */
const WRITTEN: ReadonlyMap<string, string> = new Map([
  ...[...TONGUES].map(([code, name]) => [name.toLowerCase(), code] as const),
  ...Object.entries(THREE_LETTERS),
  ...[...TONGUES.keys()].map((code) => [code, code] as const),
]);

/** What a language is called in English; the code where it has no name. */
export const tongueName = (code: string): string => TONGUES.get(code) ?? code;

/** The code of three letters (ISO 639-2) of a language that has one of two; what is none stays as it is. */
export const threeLetters = (code: string): string =>
  Object.entries(THREE_LETTERS).find(([, two]) => two === code.toLowerCase())?.[0] ?? code;

const WORDS = /[a-z]+/g;
/** A region may follow a language, as in `pt-br`. */
const REGION = /^[-_][a-z]{2}(?![a-z0-9])/;

/** Keys do not tell letters, and a take may be packed otherwise in another language. */
const plain = (path: string): string => path.toLowerCase().replace(/\.[^./]*$/, '');

/**
 * Every place of a path at which a language may stand: a folder or a word of a name that is a code (ISO 639) or an English name of one. Many words
 * are codes by chance; whoever asks holds against each other what has the same key.
 */
export function tonguePlaces(path: string): TonguePlace[] {
  const whole = plain(path);
  const found = singlePlaces(whole);
  return [...found, ...everywhere(whole, found)];
}

function singlePlaces(whole: string): TonguePlace[] {
  const found: TonguePlace[] = [];
  for (const { 0: word, index: at } of whole.matchAll(WORDS)) {
    const tongue = WRITTEN.get(word);
    const end = at + word.length;
    if (tongue === undefined || !isWhole(whole, at, word.length)) continue;
    const region = REGION.exec(whole.slice(end))?.[0].length ?? 0;
    for (const behind of region > 0 ? [end, end + region] : [end]) {
      // One sign goes with it: that behind it, or that before it at the end of a name.
      const isLast = behind === whole.length || whole[behind] === '/';
      const isFirst = at === 0 || whole[at - 1] === '/';
      const from = isLast && !isFirst ? at - 1 : at;
      const to = isLast && !isFirst ? behind : behind + 1;
      found.push({ key: whole.slice(0, from) + whole.slice(to), start: whole.slice(0, from), tongue });
    }
  }
  return found;
}

/** A language that stands at several places goes from all of them: the folder of a language may have names that say it again. */
function everywhere(whole: string, found: readonly TonguePlace[]): TonguePlace[] {
  const tongues = new Set(found.map(({ tongue }) => tongue));
  if (tongues.size === found.length) return [];
  return [...tongues].flatMap((tongue) => {
    const [first] = found.filter((one) => one.tongue === tongue);
    let key = whole;
    let count = 0;
    for (;;) {
      const own = singlePlaces(key).find((one) => one.tongue === tongue);
      if (!own) break;
      key = own.key;
      count++;
    }
    return count > 1 ? [{ key, start: first!.start, tongue }] : [];
  });
}

/** The path of the same thing in another language, which is written as the one of the path is: as a code of two letters or three, or by its English name. */
export function pathInTongue(path: string, { key, start, tongue }: TonguePlace, other: string): string {
  const whole = plain(path);
  const places = [...whole.matchAll(WORDS)].filter(
    ({ 0: word, index }) => WRITTEN.get(word) === tongue && isWhole(whole, index, word.length),
  );
  const isSingle = singlePlaces(whole).some((one) => one.key === key && one.start === start);
  // The sign before it went with it at the end of a name.
  const own = isSingle
    ? places.filter(({ index }) => index >= start.length && index <= start.length + 1).slice(0, 1)
    : places;
  let made = path;
  for (const { 0: word, index } of own.reverse()) {
    const written = path.slice(index, index + word.length);
    const cased = writtenAs(written, other);
    const region = REGION.exec(whole.slice(index + word.length))?.[0].length ?? 0;
    const goesToo =
      region > 0 && key === whole.slice(0, index) + whole.slice(index + word.length + region + 1);
    made = made.slice(0, index) + cased + made.slice(index + word.length + (goesToo ? region : 0));
  }
  return made;
}

/** A language as another one is written: by a code of two letters or three (ISO 639), or by its English name, in capitals or small letters. */
export function writtenAs(like: string, tongue: string): string {
  const word = like.length === 2 ? tongue : like.length === 3 ? threeLetters(tongue) : tongueName(tongue);
  if (like === like.toUpperCase()) return word.toUpperCase();
  return like[0] === like[0]!.toUpperCase() ? word[0]!.toUpperCase() + word.slice(1) : word.toLowerCase();
}

/** The code of a language by a code or an English name; undefined where it is none. */
export const tongueOf = (word: string): string | undefined => WRITTEN.get(word.toLowerCase());

/** The language that a word says: a code, also one with a region, or a name in English. */
export const tongueIn = (word: string): string | undefined => tongueOf(word) ?? tonguesIn(`${word}/`)[0];

/** A language in the way in which a word says another one. */
export function spelledAs(like: string, tongue: string): string {
  if (tongueOf(like) !== undefined) return writtenAs(like, tongue);
  const [place] = tonguePlaces(like);
  return place ? pathInTongue(like, place, tongue) : like;
}

const isWhole = (text: string, at: number, length: number): boolean =>
  !/[a-z0-9]/.test(text[at - 1] ?? '/') && !/[a-z0-9]/.test(text[at + length] ?? '/');

/** Codes of the languages that a path may say. */
export const tonguesIn = (path: string): string[] => tonguePlaces(path).map(({ tongue }) => tongue);

/** What is there in several languages, by the rows of a list of paths; a question looks through all of them, without working anything out for most. */
export class TongueIndex {
  private readonly rows: number[] = [];
  private readonly paths: string[] = [];

  constructor(paths: Iterable<readonly [row: number, path: string]>) {
    for (const [row, path] of paths) {
      this.rows.push(row);
      this.paths.push(plain(path));
    }
  }

  /** The same thing in all languages that it is there in, itself among them, and languages that others beside it have and it has not. */
  of(path: string): { readonly rows: ReadonlyMap<string, number>; readonly missing: readonly string[] } {
    const own = plain(path);
    const places = tonguePlaces(path);
    const wanted = new Map(places.map(({ key, start }) => [key, start]));
    wanted.set(own, '');
    const byKey = new Map<string, { readonly rows: Map<string, number>; start: string | undefined }>();
    const note = (key: string, tongue: string, row: number, start: string | undefined): void => {
      let found = byKey.get(key);
      if (!found) byKey.set(key, (found = { rows: new Map(), start: undefined }));
      if (!found.rows.has(tongue)) found.rows.set(tongue, row);
      found.start ??= start;
    };
    const mayBe = this.filterFor(own, places);
    for (const [i, other] of this.paths.entries()) {
      if (!mayBe(other)) continue;
      const row = this.rows[i]!;
      if (wanted.has(other)) note(other, '', row, undefined);
      for (const { key, start, tongue } of tonguePlaces(other))
        if (wanted.has(key)) note(key, tongue, row, start);
    }
    let best: { readonly rows: ReadonlyMap<string, number>; readonly start: string | undefined } | undefined;
    for (const found of byKey.values()) if (found.rows.size > (best?.rows.size ?? 1)) best = found;
    if (best?.start === undefined) return { rows: new Map(), missing: [] };
    const { rows, start } = best;
    return { rows, missing: this.tonguesAt(start).filter((tongue) => !rows.has(tongue)) };
  }

  /** Tells paths that may be the same thing in another language: of the same name, or in the same folder and otherwise in the place of a language only. */
  private filterFor(own: string, places: readonly TonguePlace[]): (other: string) => boolean {
    const slash = own.lastIndexOf('/') + 1;
    const name = own.slice(slash);
    const inName = places
      .filter(({ start }) => start.length >= slash)
      .map(({ key, start }) => ({ start, rest: key.slice(start.length) }));
    const folder = own.slice(0, slash);
    return (other) => {
      if (other === name || other.endsWith(`/${name}`)) return true;
      if (!other.startsWith(folder)) return false;
      if (inName.some(({ start, rest }) => other.startsWith(start) && other.endsWith(rest))) return true;
      return other.length > own.length && sharedEnds(own, other) >= own.length;
    };
  }

  /** Languages that stand behind a beginning of paths. */
  private tonguesAt(start: string): string[] {
    const found = new Set<string>();
    for (const path of this.paths) {
      if (!path.startsWith(start)) continue;
      let end = start.length;
      // A sign goes with a language at the end of a name.
      if (/[-_. ]/.test(path[end] ?? '')) end++;
      const from = end;
      while (end < path.length && path[end]! >= 'a' && path[end]! <= 'z') end++;
      const tongue = WRITTEN.get(path.slice(from, end));
      if (tongue !== undefined && isWhole(path, from, end - from)) found.add(tongue);
    }
    return [...found].sort();
  }
}

/** How many characters two texts share at their beginnings and ends together, at most as many as the first has. */
function sharedEnds(a: string, b: string): number {
  let before = 0;
  while (before < a.length && a[before] === b[before]) before++;
  let behind = 0;
  while (behind < a.length - before && a[a.length - 1 - behind] === b[b.length - 1 - behind]) behind++;
  return before + behind;
}
