import { useEffect, useMemo } from 'react';
import { toVtt, type Subtitle } from '@/media/film/core/subtitles';
import type { FilmView } from '@/server/films/film-view';
import { filmUrl } from './film-address';

/** Stands for the language of texts that are kept elsewhere. */
export const OTHER = 'other';

export interface Track {
  readonly language: string;
  readonly name: string;
  readonly src: string;
}

/** Texts that are shown with a film: its own in each language, and those that are kept elsewhere. */
export function useTracks(
  gameId: number,
  filmKey: string,
  { texts }: FilmView,
  others: readonly Subtitle[],
): readonly Track[] {
  const own = useMemo(
    () =>
      others.length === 0 ? undefined : URL.createObjectURL(new Blob([toVtt(others)], { type: 'text/vtt' })),
    [others],
  );
  useEffect(
    () => () => {
      if (own !== undefined) URL.revokeObjectURL(own);
    },
    [own],
  );
  return useMemo(
    () => [
      ...texts.map(({ language, name, stamp }) => ({
        ...{ language, name },
        src: `${filmUrl(gameId, filmKey)}/texts?language=${language}&v=${stamp}`,
      })),
      ...(own === undefined ? [] : [{ language: OTHER, name: 'of a program', src: own }]),
    ],
    [gameId, filmKey, texts, own],
  );
}
