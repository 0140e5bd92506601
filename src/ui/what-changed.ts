import type { QueryKey } from '@tanstack/react-query';
import type { JobView } from '@/server/running/jobs';

/** What has to be looked at anew: queries by their first word, all of a game, or nothing. */
export type Changed = readonly string[] | 'all of the game' | 'nothing';

/** What a change of the interface below a game touches, by how its path begins; the first that fits counts. */
const OF_GAME: readonly (readonly [path: RegExp, changed: Changed])[] = [
  // Only asks.
  [/^(entries\/(heads|place|match)|recipes\/preview|films\/[^/]+\/(given|estimate))$/, 'nothing'],
  [/^mods\/\d+\/cells\/check$/, 'nothing'],
  [/^mods\/\d+\/desk\/(check|replace|brought|writing)$/, 'nothing'],
  // What comes into the mod changes what is built; all else on the desk stays there.
  [/^mods\/\d+\/desk(?!\/put$)/, ['desk']],
  // The job itself is told of by its event, and what it changed once it has ended.
  [/^jobs$/, ['jobs']],
  [/^recipes/, ['recipes', 'jobs']],
  [/^ways/, ['entries', 'entry', 'heads', 'alike-sounds']],
  [/^kinds/, ['entries', 'entry', 'folders', 'map', 'runs', 'affixes', 'program-count']],
  [/^marks/, ['tags', 'entries', 'entry', 'folders']],
  [/^searches/, ['searches']],
  [/^(pick-lists|picks)/, ['pick-lists']],
  [/^id-tables/, ['id-tables', 'entries', 'entry']],
  [/^affixes/, ['affixes', 'entry']],
];

/** The same for what belongs to no game. */
const ELSEWHERE: readonly (readonly [path: RegExp, changed: readonly string[]])[] = [
  [/^jobs/, ['jobs', 'job', 'run items', 'recipes']],
  [/^folders/, ['folders-of-machine']],
  [/^scripts/, ['scripts', 'script', 'archives', 'entry', 'heads']],
  [/^games$/, ['games']],
  [/^boards/, ['boards', 'board']],
];

/** What jobs change that leave the contents of the game and its mods as they were. */
const BY_JOB: Readonly<Partial<Record<JobView['kind'], readonly string[]>>> = {
  extract: ['recipes', 'job', 'run items'],
  'run-recipe': ['recipes', 'job', 'run items'],
  'search-inside': ['job'],
  'group-looks': ['job', 'likes'],
  'find-alike': ['job', 'likes'],
  'write-build': ['job'],
  'weigh-ways': ['job', 'to-build'],
  trial: ['job', 'trials', 'chain'],
};

/** Queries that every change of a game may touch. */
const OF_ALL = new Set(['games', 'job', 'run items']);

const named = (names: readonly string[]): ((key: QueryKey) => boolean) => {
  const wanted = new Set(names);
  return (key) => wanted.has(String(key[0]));
};

/** Queries of a game bear its number, or an address below it. */
const ofGame =
  (id: number) =>
  (key: QueryKey): boolean =>
    OF_ALL.has(String(key[0])) ||
    key[1] === id ||
    (typeof key[1] === 'string' && key[1].includes(`games/${id}/`));

/** Which queries are to be asked again after a change at a path of the interface; undefined for none. */
export function afterChange(path: string): ((key: QueryKey) => boolean) | undefined {
  const [plain = ''] = path.split('?');
  const below = /^games\/(\d+)\/?(.*)$/.exec(plain);
  if (!below) {
    const found = ELSEWHERE.find(([start]) => start.test(plain));
    return found ? named(found[1]) : () => true;
  }
  const game = Number(below[1]);
  const changed = OF_GAME.find(([start]) => start.test(below[2]!))?.[1] ?? 'all of the game';
  if (changed === 'nothing') return undefined;
  if (changed === 'all of the game') return ofGame(game);
  const wanted = named(changed);
  return (key) => wanted(key) && (key[1] === undefined || typeof key[1] !== 'number' || key[1] === game);
}

/** Which queries are to be asked again once a job has ended. */
export function afterJob({ kind, gameId }: Pick<JobView, 'kind' | 'gameId'>): (key: QueryKey) => boolean {
  const names = BY_JOB[kind as JobView['kind']];
  if (names) return named(names);
  return gameId === null ? (key) => key[0] !== 'jobs' : ofGame(gameId);
}
