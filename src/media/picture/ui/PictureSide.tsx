import Box from '@mui/material/Box';
import { useState } from 'react';
import type { SideProps } from '@/media/medium-ui';
import { checker } from '@/ui/kit/checker';
import { LightTable, type OnTable } from './light-table/LightTable';

/** A picture before or after a change. */
export function PictureSide({ url, stamp, label, title, path, against }: SideProps) {
  const [table, setTable] = useState<OnTable>();
  const src = `${url}/picture?most=600&${stamp}`;
  if (against === undefined)
    return (
      <Box
        component="img"
        src={src}
        alt={label}
        sx={{
          ...checker,
          display: 'block',
          maxWidth: '100%',
          maxHeight: 260,
          border: 1,
          borderColor: 'line',
        }}
      />
    );
  const other = against && { url: `${against.url}/texels`, title: against.title };
  const on: OnTable = { title: `${path}, ${title}`, url: `${url}/texels`, ...(other && { other }) };
  return (
    <>
      <Box
        component="button"
        aria-label={`Look closely at ${label}`}
        onClick={() => setTable(on)}
        sx={{
          all: 'unset',
          boxSizing: 'border-box',
          display: 'block',
          width: '100%',
          cursor: 'zoom-in',
          border: 1,
          borderColor: 'line',
          borderRadius: 1,
          overflow: 'hidden',
          height: 110,
          ...checker,
          '&:focus-visible': { outline: '2px solid', outlineColor: 'brass' },
        }}
      >
        <img src={src} alt={label} style={{ width: '100%', height: '100%', objectFit: 'contain' }} />
      </Box>
      <LightTable on={table} onClose={() => setTable(undefined)} />
    </>
  );
}
