import { tongueName, tonguePlaces } from './tongues';

/** Something that was changed in a language, and what the game took in its place, being in another one. */
export interface OtherTongue {
  readonly path: string;
  readonly tongue: string;
  readonly taken: string;
}

interface Seen {
  readonly tongue: string;
  readonly log: readonly { readonly sort: string; readonly what: string }[];
}

/** Of paths that were changed those of which a game took the same thing in another language, since it was in that one. */
export function inOtherTongues({ tongue, log }: Seen, changed: readonly string[]): OtherTongue[] {
  const taken = log.filter(({ sort }) => sort === 'took').map(({ what }) => what);
  const isTaken = new Set(taken.map((path) => path.toLowerCase()));
  const byKey = new Map(
    taken.flatMap((path) =>
      tonguePlaces(path)
        .filter((place) => place.tongue === tongue)
        .map(({ key, start }) => [`${start}\0${key}`, path] as const),
    ),
  );
  return changed.flatMap((path) => {
    if (isTaken.has(path.toLowerCase())) return [];
    for (const { key, start, tongue: own } of tonguePlaces(path)) {
      const other = own === tongue ? undefined : byKey.get(`${start}\0${key}`);
      if (other !== undefined) return [{ path, tongue: tongueName(own), taken: other }];
    }
    return [];
  });
}
