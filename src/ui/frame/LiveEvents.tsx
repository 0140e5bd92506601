'use client';
import Box from '@mui/material/Box';
import { useQueryClient } from '@tanstack/react-query';
import { enqueueSnackbar } from 'notistack';
import { useEffect, useState, type ReactNode } from 'react';
import type { JobView } from '@/server/running/jobs';
import { onChange } from '../api';
import { afterChange, afterJob } from '../what-changed';
import { listen } from './listen';

const ENDED = new Set(['done', 'failed', 'cancelled']);

/** Listens to the server: keeps the jobs current, looks anew at what one has changed when it ends, and at what this page changes, and says when the server is away. */
export function LiveEvents({ children }: { children: ReactNode }) {
  const client = useQueryClient();
  const [away, setAway] = useState<string>();

  useEffect(
    () =>
      listen({
        job(job) {
          client.setQueryData<JobView[]>(['jobs'], (jobs) => {
            // Two answers may overtake each other; what has ended stays ended.
            if (jobs?.some(({ id, endedAt }) => id === job.id && endedAt !== null && job.endedAt === null))
              return jobs;
            const others = (jobs ?? []).filter(({ id }) => id !== job.id);
            return [job, ...others].sort((a, b) => b.number - a.number).slice(0, 50);
          });
          if (!ENDED.has(job.state)) return;
          const isTouched = afterJob(job);
          void client.invalidateQueries({ predicate: ({ queryKey }) => isTouched(queryKey) });
          if (job.state === 'failed')
            enqueueSnackbar(`${job.title}: ${job.error}`, { variant: 'error', autoHideDuration: 15_000 });
        },
        desk: (mod) =>
          void client.invalidateQueries({
            predicate: ({ queryKey }) => queryKey[0] === 'desk' && queryKey[2] === mod,
          }),
        away: setAway,
        back() {
          setAway(undefined);
          void client.invalidateQueries();
        },
      }),
    [client],
  );

  useEffect(
    () =>
      onChange((path) => {
        const isTouched = afterChange(path);
        if (isTouched) void client.invalidateQueries({ predicate: ({ queryKey }) => isTouched(queryKey) });
      }),
    [client],
  );

  return (
    <>
      {away && (
        <Box
          role="alert"
          sx={{
            position: 'fixed',
            zIndex: 2000,
            top: 0,
            left: 0,
            right: 0,
            p: 1,
            textAlign: 'center',
            bgcolor: 'badBack',
            color: 'bad',
            fontWeight: 600,
          }}
        >
          {away}
        </Box>
      )}
      {children}
    </>
  );
}
