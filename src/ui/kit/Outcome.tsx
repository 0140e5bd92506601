import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import { PageLink } from './PageLink';
import type { ReactNode } from 'react';

/** What has come of something that was just done, and where it goes on. */
export function Outcome({ children, next, href }: { children: ReactNode; next?: string; href?: string }) {
  return (
    <Alert
      severity="success"
      variant="outlined"
      role="status"
      sx={{ mb: 1.5, alignItems: 'center' }}
      action={
        next &&
        href && (
          <Button component={PageLink} href={href} color="inherit" size="small" sx={{ fontWeight: 700 }}>
            {next}
          </Button>
        )
      }
    >
      {children}
    </Alert>
  );
}
