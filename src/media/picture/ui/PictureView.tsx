'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { useEffect, useRef, useState } from 'react';
import { checker } from '@/ui/kit/checker';
import { LightTable, type OnTable } from './light-table/LightTable';
import { PartsDialog } from './parts/PartsDialog';

const CHANNELS = [
  ['colour', 'All'],
  ['red', 'Red'],
  ['green', 'Green'],
  ['blue', 'Blue'],
  ['alpha', 'Alpha'],
] as const;

/** A picture with a choice of channel; a press or Space lays it on the light table. */
export function PictureView({
  url,
  label,
  alpha,
  pixelated,
  table,
}: {
  url: string;
  label: string;
  alpha: boolean;
  pixelated: boolean;
  table: OnTable;
}) {
  const [channel, setChannel] = useState<string>('colour');
  // As it was when it was laid there, so that what comes of work on it does not take it away.
  const [onTable, setOnTable] = useState<OnTable>();
  const latest = useRef(table);
  useEffect(() => {
    latest.current = table;
  });
  const [hasParts, setHasParts] = useState(false);
  useEffect(() => {
    const toggle = (): void => setOnTable(latest.current);
    window.addEventListener('zero-latch-look', toggle);
    return () => window.removeEventListener('zero-latch-look', toggle);
  }, []);
  const source = `${url}${url.includes('?') ? '&' : '?'}channel=${channel}`;
  const rendering = pixelated ? 'pixelated' : 'auto';
  return (
    <>
      <Box
        component="button"
        aria-label={`Enlarge ${label}`}
        onClick={() => setOnTable(table)}
        sx={{
          all: 'unset',
          display: 'block',
          width: '100%',
          cursor: 'zoom-in',
          border: 1,
          borderColor: 'line',
          borderRadius: 1,
          overflow: 'hidden',
          ...checker,
          '&:focus-visible': { outline: '2px solid', outlineColor: 'brass' },
        }}
      >
        <img
          src={source}
          alt={label}
          style={{
            display: 'block',
            width: '100%',
            height: 208,
            objectFit: 'contain',
            imageRendering: rendering,
          }}
        />
      </Box>
      <ToggleButtonGroup
        exclusive
        size="small"
        value={channel}
        onChange={(_event, next: string | null) => next && setChannel(next)}
        sx={{ mt: 1 }}
        aria-label="Channel"
      >
        {CHANNELS.filter(([name]) => alpha || name !== 'alpha').map(([name, word]) => (
          <ToggleButton key={name} value={name} sx={{ py: 0.1, px: 1.2 }}>
            {word}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      {table.source && (
        <Button size="small" sx={{ mt: 1, ml: 1 }} onClick={() => setHasParts(true)}>
          Parts and edits
        </Button>
      )}
      {hasParts && table.source && (
        <PartsDialog source={table.source} path={table.title} onClose={() => setHasParts(false)} />
      )}
      <LightTable on={onTable} onClose={() => setOnTable(undefined)} />
    </>
  );
}
