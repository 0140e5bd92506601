'use client';
import Box from '@mui/material/Box';
import { useState } from 'react';
import type { FilmView } from '@/server/films/film-view';
import { filmUrl, placeIn } from './film-address';

const COUNT = 10;
const WIDE = 160;

interface Props {
  readonly gameId: number;
  readonly filmKey: string;
  readonly film: FilmView;
  readonly at: number;
  /** Whether the film itself is there; it comes first. */
  readonly isReady: boolean;
  readonly onSeek: (seconds: number) => void;
}

/** Pictures from all of a film, one beside the other; below them the marks that it has. */
export function FilmStrip({ gameId, filmKey, film, at, isReady, onSeek }: Props) {
  const { picture, seconds, marks, stamp } = film;
  const [isOn, setOn] = useState(isReady);
  if (isReady && !isOn) setOn(true);
  const length = Math.max(seconds, 0.001);
  return (
    <Box sx={{ mb: 1 }}>
      {picture && (
        <Box role="group" aria-label="Pictures of the film" sx={{ display: 'flex', gap: '2px' }}>
          {Array.from({ length: COUNT }, (_, i) => {
            const place = ((i + 0.5) * length) / COUNT;
            const isHere = at >= (i * length) / COUNT && at < ((i + 1) * length) / COUNT;
            return (
              <Box
                key={i}
                component="button"
                aria-label={`To ${placeIn(place)}`}
                onClick={() => onSeek(place)}
                sx={{
                  all: 'unset',
                  flex: 1,
                  minWidth: 0,
                  cursor: 'pointer',
                  borderRadius: 0.5,
                  overflow: 'hidden',
                  bgcolor: '#000',
                  aspectRatio: `${picture.width} / ${picture.height}`,
                  outline: isHere ? '2px solid' : 'none',
                  outlineColor: 'brass',
                  '&:focus-visible': { outline: '2px solid', outlineColor: 'brass' },
                }}
              >
                {isOn && (
                  <Box
                    component="img"
                    alt=""
                    loading="lazy"
                    src={`${filmUrl(gameId, filmKey)}/frame?at=${place.toFixed(3)}&wide=${WIDE}&v=${encodeURIComponent(stamp)}`}
                    sx={{ width: '100%', height: '100%', objectFit: 'cover', display: 'block' }}
                  />
                )}
              </Box>
            );
          })}
        </Box>
      )}
      {marks.length > 0 && (
        <Box sx={{ position: 'relative', height: 24, mt: 0.5 }} role="group" aria-label="Marks">
          {marks
            .filter(({ seconds: value }) => value < length)
            .map(({ seconds: value, text }, i) => (
              <Box
                key={i}
                component="button"
                title={`${placeIn(value)} ${text}`}
                onClick={() => onSeek(value)}
                sx={{
                  all: 'unset',
                  position: 'absolute',
                  left: `${(100 * Math.min(value, length)) / length}%`,
                  maxWidth: `${100 - (100 * Math.min(value, length)) / length}%`,
                  px: 0.5,
                  borderLeft: '2px solid',
                  borderColor: 'brass',
                  fontSize: 12,
                  lineHeight: '22px',
                  cursor: 'pointer',
                  whiteSpace: 'nowrap',
                  overflow: 'hidden',
                  textOverflow: 'ellipsis',
                  '&:hover': { bgcolor: 'tint' },
                  '&:focus-visible': { outline: '2px solid', outlineColor: 'brass' },
                }}
              >
                {text || placeIn(value)}
              </Box>
            ))}
        </Box>
      )}
    </Box>
  );
}
