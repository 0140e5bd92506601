import Box from '@mui/material/Box';
import CircularProgress from '@mui/material/CircularProgress';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';

/** Nothing to show: says why and what to do next. */
export function Blank({
  title,
  children,
  action,
}: {
  title: string;
  children?: ReactNode;
  action?: ReactNode;
}) {
  return (
    <Box sx={{ p: 5, maxWidth: 560, mx: 'auto', textAlign: 'center' }}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        {title}
      </Typography>
      <Typography sx={{ color: 'ink2', mb: 2 }}>{children}</Typography>
      {action}
    </Box>
  );
}

export function Loading({ what }: { what: string }) {
  return (
    <Box
      role="status"
      sx={{ p: 4, display: 'flex', gap: 1.5, alignItems: 'center', justifyContent: 'center', color: 'ink2' }}
    >
      <CircularProgress size={18} aria-label="Loading" />
      {what}
    </Box>
  );
}

/** Something failed; the message is the server's and says what to do. */
export function Failed({ error, again }: { error: unknown; again?: ReactNode }) {
  return (
    <Box
      role="alert"
      sx={{
        m: 2,
        p: 2,
        border: 1,
        borderColor: 'bad',
        borderRadius: 1,
        bgcolor: 'badBack',
        color: 'text.primary',
        overflowWrap: 'anywhere',
      }}
    >
      {error instanceof Error ? error.message : String(error)}
      {again && <Box sx={{ mt: 1 }}>{again}</Box>}
    </Box>
  );
}
