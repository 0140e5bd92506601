'use client';
import '@fontsource-variable/atkinson-hyperlegible-next';
import '@fontsource-variable/atkinson-hyperlegible-mono';
import CssBaseline from '@mui/material/CssBaseline';
import { ThemeProvider } from '@mui/material/styles';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { SnackbarProvider } from 'notistack';
import { useState, useSyncExternalStore, type ReactNode } from 'react';
import { ApiError } from './api';
import { LiveEvents } from './frame/LiveEvents';
import { theme } from './theme';

function makeClient(): QueryClient {
  return new QueryClient({
    defaultOptions: {
      queries: {
        staleTime: 5000,
        refetchOnWindowFocus: false,
        // Only an application or database that is away is worth asking again.
        retry: (count, error) => count < 2 && error instanceof ApiError && [0, 503].includes(error.status),
      },
    },
  });
}

const never = (): (() => void) => () => undefined;

/**
 * Whether the page runs. What is drawn before it does can be seen and pressed, but whatever is pressed or written there is lost, so that
 * screens are drawn only here.
 */
const useRuns = (): boolean =>
  useSyncExternalStore(
    never,
    () => true,
    () => false,
  );

export function Providers({ children }: { children: ReactNode }) {
  const [client] = useState(makeClient);
  const runs = useRuns();
  return (
    <ThemeProvider theme={theme} defaultMode="system">
      <CssBaseline />
      <QueryClientProvider client={client}>
        <SnackbarProvider
          maxSnack={3}
          autoHideDuration={6000}
          anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        >
          {runs && <LiveEvents>{children}</LiveEvents>}
        </SnackbarProvider>
      </QueryClientProvider>
    </ThemeProvider>
  );
}
