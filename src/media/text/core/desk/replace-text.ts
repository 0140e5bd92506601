/** What is looked for and what comes in its place. */
export interface Replacing {
  readonly find: string;
  readonly by: string;
  readonly matchesCase: boolean;
  readonly isWhole: boolean;
}

const escaped = (text: string): string => text.replace(/[\\^$.*+?()[\]{}|]/g, '\\$&');

/** A text with each of what is looked for replaced; undefined where it is not in it. */
export function replacedIn(text: string, { find, by, matchesCase, isWhole }: Replacing): string | undefined {
  if (find === '') return undefined;
  const edge = isWhole ? ['(?<![\\p{L}\\p{N}])', '(?![\\p{L}\\p{N}])'] : ['', ''];
  const pattern = new RegExp(`${edge[0]}${escaped(find)}${edge[1]}`, matchesCase ? 'gu' : 'giu');
  const now = text.replace(pattern, () => by);
  return now === text ? undefined : now;
}
