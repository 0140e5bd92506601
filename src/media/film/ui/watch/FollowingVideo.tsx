'use client';
import Box from '@mui/material/Box';
import { useEffect, type RefObject } from 'react';
import type { FilmView } from '@/server/films/film-view';
import { useFilmVideo } from './use-film';

/** Further apart than this the two are brought together again, in seconds. */
const APART = 0.08;

interface Props {
  readonly gameId: number;
  readonly filmKey: string;
  readonly film: FilmView;
  /** What it follows. */
  readonly main: RefObject<HTMLVideoElement | null>;
  readonly speed: number;
  readonly label: string;
}

/** A film that is shown silently in step with another one. */
export function FollowingVideo({ gameId, filmKey, film, main, speed, label }: Props) {
  const { video, failed } = useFilmVideo(gameId, filmKey, film, { sound: 0, speed });
  useEffect(() => {
    const leader = main.current!;
    const own = video.current!;
    const follow = (): void => {
      if (Math.abs(own.currentTime - leader.currentTime) > APART) own.currentTime = leader.currentTime;
      if (leader.paused) own.pause();
      else void own.play().catch(() => undefined);
    };
    const names = ['play', 'pause', 'seeked', 'timeupdate'] as const;
    for (const name of names) leader.addEventListener(name, follow);
    own.addEventListener('loadeddata', follow);
    return () => {
      for (const name of names) leader.removeEventListener(name, follow);
      own.removeEventListener('loadeddata', follow);
    };
  }, [main, video]);
  const { picture } = film;
  return (
    <Box sx={{ flex: 1, minWidth: 0, position: 'relative' }}>
      <Box
        component="video"
        ref={video}
        muted
        playsInline
        preload="auto"
        aria-label={label}
        sx={{
          ...{ width: '100%', display: 'block', maxHeight: '56vh' },
          aspectRatio: picture ? `${picture.width} / ${picture.height}` : undefined,
        }}
      />
      {failed && (
        <Box role="alert" sx={{ position: 'absolute', inset: 0, p: 2, color: '#fff' }}>
          {failed}
        </Box>
      )}
    </Box>
  );
}
