'use client';
import Box from '@mui/material/Box';
import Link from '@mui/material/Link';
import { PageLink } from '@/ui/kit/PageLink';
import type { SideProps } from '@/media/medium-ui';
import { Failed, Loading } from '@/ui/kit/Blank';
import { filmKey } from './watch/film-address';
import { FilmPlayer } from './watch/FilmPlayer';
import { useFilm } from './watch/use-film';

/** What the addresses of the two sides say: the game, the entry, and the mod where a side is meant as that will have it. */
function namedIn({
  url,
  against,
}: Pick<SideProps, 'url' | 'against'>): { gameId: number; film: string } | undefined {
  const entry = /\/games\/(\d+)\/entries\/(\d+)\/(\d+)(-before)?$/.exec(
    url.includes('/entries/') ? url : (against?.url ?? ''),
  );
  if (!entry) return undefined;
  const [gameId, archiveId, index] = entry.slice(1, 4).map(Number) as [number, number, number];
  const mod = /\/mods\/(\d+)\//.exec(url)?.[1];
  const isOriginal = entry[4] !== undefined;
  return {
    gameId,
    film: filmKey({ archiveId, index, isOriginal, mod: mod === undefined ? undefined : Number(mod) }),
  };
}

/** A film before or after a change; the whole of it, where the change is of one of its streams. */
export function FilmSide({ url, against }: SideProps) {
  const named = namedIn({ url, against });
  return named ? <OneSide {...named} /> : null;
}

function OneSide({ gameId, film: own }: { gameId: number; film: string }) {
  const { data: film, error } = useFilm(gameId, own);
  if (error && !film) return <Failed error={error} />;
  if (!film) return <Loading what="Opening the film" />;
  return (
    <FilmPlayer key={`${own} ${film.stamp}`} {...{ gameId, film }} filmKey={own}>
      {() => (
        <Box sx={{ ml: 'auto', fontSize: 13 }}>
          <Link component={PageLink} href={`/games/${gameId}/film?film=${own}`}>
            Large
          </Link>
        </Box>
      )}
    </FilmPlayer>
  );
}
