'use client';
import OpenInFullRounded from '@mui/icons-material/OpenInFullRounded';
import IconButton from '@mui/material/IconButton';
import { PageLink } from '@/ui/kit/PageLink';
import type { LookProps } from '@/media/medium-ui';
import { Failed, Loading } from '@/ui/kit/Blank';
import { filmKey } from './watch/film-address';
import { FilmPlayer } from './watch/FilmPlayer';
import { useFilm } from './watch/use-film';

/** A film in the inspector: the whole of it, where its archive has it in several streams. */
export function FilmLook({ gameId, data: { archiveId, index }, changed }: LookProps) {
  const key = filmKey({ archiveId, index, mod: changed?.modId });
  const { data: film, error } = useFilm(gameId, key);
  if (error && !film) return <Failed error={error} />;
  if (!film) return <Loading what="Opening the film" />;
  return (
    <FilmPlayer key={`${key} ${film.stamp}`} {...{ gameId, film }} filmKey={key}>
      {() => (
        <IconButton
          size="small"
          component={PageLink}
          href={`/games/${gameId}/film?film=${key}`}
          aria-label="Watch it large"
          title="Watch it large"
          sx={{ ml: 'auto' }}
        >
          <OpenInFullRounded fontSize="small" />
        </IconButton>
      )}
    </FilmPlayer>
  );
}
