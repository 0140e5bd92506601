import { z } from 'zod';
import type { FilmKey } from '@/server/films/film-source';
import { GameParams } from './route-kit';

const FILM = /^(\d{1,9})(?:-(\d{1,9}))?(?:m(\d{1,9})|(o))?$/;

/** A film is called by the number of its archive, that of the entry where it is one, and that of a mod where it is meant as that will have it; `o` is the original. */
export const FilmParams = GameParams.extend({
  film: z
    .string()
    .regex(FILM)
    .transform((text): FilmKey => {
      const [, archive, ...others] = FILM.exec(text)!;
      const [index, mod] = others
        .slice(0, 2)
        .map((part?: string) => (part === undefined ? undefined : Number(part)));
      return { archiveId: Number(archive), index, mod, original: others[2] !== undefined };
    }),
});
