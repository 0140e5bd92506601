import Box from '@mui/material/Box';
import type { ReactNode } from 'react';

/** Names and values in two columns, parted by lines. */
export function Facts({ rows }: { rows: readonly (readonly [string, ReactNode] | undefined)[] }) {
  return (
    <Box component="dl" sx={{ m: 0 }}>
      {rows
        .filter((row) => row !== undefined)
        .map(([name, value]) => (
          <Box
            key={name}
            sx={{
              display: 'grid',
              gridTemplateColumns: '84px 1fr',
              gap: 1,
              py: 0.7,
              borderBottom: 1,
              borderColor: 'line',
              fontSize: 13,
            }}
          >
            <Box component="dt" sx={{ color: 'ink2' }}>
              {name}
            </Box>
            <Box component="dd" sx={{ m: 0, overflowWrap: 'anywhere' }}>
              {value}
            </Box>
          </Box>
        ))}
    </Box>
  );
}
