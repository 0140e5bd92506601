'use client';
import Box from '@mui/material/Box';
import dynamic from 'next/dynamic';
import type { ComponentProps } from 'react';
import type { DrawnChart } from './DrawnChart';

const Drawn = dynamic(() => import('./DrawnChart').then((made) => made.DrawnChart), { ssr: false });

/** A chart in the hues of the theme; what draws it is fetched when the first is shown, in room that is kept for it. */
export function Chart(props: ComponentProps<typeof DrawnChart>) {
  return (
    <Box sx={{ minHeight: props.height }}>
      <Drawn {...props} />
    </Box>
  );
}
