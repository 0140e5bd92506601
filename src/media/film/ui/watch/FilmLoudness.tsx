'use client';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { FilmView } from '@/server/films/film-view';
import type { Loudness } from '@/media/film/core/probed';
import { api } from '@/ui/api';
import { Facts } from '@/ui/kit/Facts';

/** From so many LU on one hears that another language is louder. */
const HEARD = 3;

/** How loud the sounds of a film are, measured when it is asked for; one that is much louder or quieter than the first is pointed out. */
export function FilmLoudness({ gameId, filmKey, film }: { gameId: number; filmKey: string; film: FilmView }) {
  const [isAsked, setAsked] = useState(false);
  const { data, error, isFetching } = useQuery({
    queryKey: ['film-loudness', gameId, filmKey, film.stamp],
    enabled: isAsked,
    queryFn: () => api.get<Loudness[]>(`games/${gameId}/films/${filmKey}/loudness`),
    retry: false,
  });
  if (!data)
    return (
      <Box sx={{ mt: 1 }}>
        {error && <Alert severity="error">{error.message}</Alert>}
        <Button size="small" loading={isFetching} onClick={() => setAsked(true)}>
          Measure how loud
        </Button>
      </Box>
    );
  const first = data[0]?.whole ?? null;
  return (
    <Box component="section" aria-label="How loud" sx={{ mt: 1 }}>
      <Facts
        rows={film.sounds.map(({ name }, i) => {
          const whole = data[i]?.whole ?? null;
          const apart = whole !== null && first !== null ? whole - first : 0;
          const isFar = Math.abs(apart) >= HEARD;
          return [
            name,
            <Box key={i} component="span" sx={{ color: isFar ? 'look' : undefined }}>
              {whole === null ? 'silent' : `${whole.toFixed(1)} LUFS`}
              {isFar &&
                `, ${Math.abs(apart).toFixed(1)} LU ${apart > 0 ? 'louder' : 'quieter'} than ${film.sounds[0]!.name}`}
            </Box>,
          ] as const;
        })}
      />
    </Box>
  );
}
