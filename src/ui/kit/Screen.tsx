import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';

/** A screen with a title, what there is to do, and a panel at its side. */
export function Screen({
  title,
  fact,
  actions,
  side,
  children,
}: {
  title: ReactNode;
  fact?: ReactNode;
  actions?: ReactNode;
  side?: ReactNode;
  children: ReactNode;
}) {
  return (
    <Box sx={{ display: 'flex', height: '100%', minHeight: 0 }}>
      <Box sx={{ flex: 1, minWidth: 0, overflow: 'auto', px: 2.75, py: 2.25 }}>
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5, mb: 2, flexWrap: 'wrap' }}>
          <Typography variant="h1">{title}</Typography>
          <Box sx={{ color: 'ink2', flex: 1, minWidth: 160 }}>{fact}</Box>
          <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, '& > *': { whiteSpace: 'nowrap' } }}>
            {actions}
          </Box>
        </Box>
        {children}
      </Box>
      {side && (
        <Box
          component="aside"
          sx={{
            width: 340,
            flexShrink: 0,
            overflow: 'auto',
            borderLeft: 1,
            borderColor: 'line',
            bgcolor: 'panel',
            p: 2,
          }}
        >
          {side}
        </Box>
      )}
    </Box>
  );
}

export const sheet = {
  border: 1,
  borderColor: 'line',
  borderRadius: 1,
  bgcolor: 'background.paper',
  overflow: 'hidden',
} as const;
