import { FormatError } from '../bytes';
import type { Recipe } from './recipe';

/** What a name may be made of. */
export interface NameFacts {
  readonly path: string;
  /** Path of the archive below the game folder; `.` for loose files. */
  readonly archive: string;
  readonly number: number;
  readonly hash: string | null;
  /** What people call it; empty where it has no such name. */
  readonly alias: string;
}

const WORDS = ['folder', 'name', 'stem', 'ending', 'alias', 'number', 'hash', 'archive'] as const;
type Word = (typeof WORDS)[number];

/**
 * Checks a pattern such as `{archive}/{1}/{alias}_{stem}{ending}`: `{1}` is the first step of the path, `{-1}` the last. Throws
 * FormatError with the place of what is wrong.
 */
export function checkPattern(pattern: string): void {
  const fail = (byteOffset: number, actual: string, expected: string): never => {
    throw new FormatError('bad-value', { fieldPath: 'pattern', byteOffset, actual, expected });
  };
  if (pattern.trim() === '') fail(0, 'nothing', `a name such as {folder}/{stem}{ending}`);
  for (let at = 0; at < pattern.length; at++) {
    if (pattern[at] === '}') fail(at, '}', 'a { before it');
    if (pattern[at] !== '{') continue;
    const end = pattern.indexOf('}', at);
    if (end < 0) fail(at, pattern.slice(at), 'a } behind it');
    const word = pattern.slice(at + 1, end);
    if (!WORDS.includes(word as Word) && !/^-?[1-9]$/.test(word))
      fail(at + 1, word, `one of ${WORDS.join(', ')}, or a step of the path from 1 to 9, -1 for the last`);
    at = end;
  }
}

/** The path of the file that an entry becomes, with `/`; `ending` in place of its own where it is converted. */
export function nameOf(recipe: Pick<Recipe, 'name'>, facts: NameFacts, ending?: string): string {
  const { how, pattern } = recipe.name;
  const path = ending === undefined ? facts.path : withEnding(facts.path, ending);
  if (how === 'tree') return path;
  if (how === 'flat') return path.slice(path.lastIndexOf('/') + 1);
  const steps = path.split('/');
  const name = steps.at(-1)!;
  const dot = name.lastIndexOf('.');
  const stem = dot > 0 ? name.slice(0, dot) : name;
  const archive = facts.archive === '.' ? 'loose' : facts.archive.split('/').at(-1)!;
  const values: Record<Word, string> = {
    folder: steps.slice(0, -1).join('/'),
    name,
    stem,
    ending: name.slice(stem.length),
    alias: facts.alias.replace(/[/\\]/g, '_') || stem,
    number: String(facts.number),
    hash: facts.hash ?? '',
    archive: archive.replace(/\.[^.]+$/, ''),
  };
  const filled = pattern.replace(/\{([^}]*)\}/g, (_whole, word: string) =>
    /^-?[1-9]$/.test(word)
      ? (steps.at(Number(word) > 0 ? Number(word) - 1 : Number(word)) ?? '')
      : (values[word as Word] ?? ''),
  );
  const safe = filled.split(/[/\\]+/).filter((step) => step !== '' && step !== '.' && step !== '..');
  if (safe.length === 0) return name;
  const made = safe.join('/');
  const isKept = keepsEnding(pattern) || made.toLowerCase().endsWith(values.ending.toLowerCase());
  return isKept ? made : `${made}${values.ending}`;
}

/** Whether a pattern says itself how names end; else they keep the ending of what they are. */
function keepsEnding(pattern: string): boolean {
  const last = pattern.split(/[/\\]/).at(-1)!;
  return /\{(ending|name|-1)\}/.test(last) || /\.[A-Za-z0-9]{1,8}$/.test(last);
}

function withEnding(path: string, ending: string): string {
  const dot = path.lastIndexOf('.');
  return dot > path.lastIndexOf('/') + 1 ? `${path.slice(0, dot)}${ending}` : `${path}${ending}`;
}
