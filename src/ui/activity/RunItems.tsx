'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Chip from '@mui/material/Chip';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { JobView } from '@/server/jobs';
import type { ItemState, RunResult } from '@/server/recipes/run';
import { api } from '../api';
import { bytes, number, when } from '../format';
import { Facts } from '../kit/Facts';
import { Loading } from '../kit/Blank';
import { useAction } from '../queries';

const SHOWN = 300;
const WORDS: Record<ItemState, string> = {
  written: 'written',
  skipped: 'as they were',
  kept: 'edited and kept',
  failed: 'failed',
  missing: 'not there',
};

/** What came of a job; of a recipe each file with why, to be narrowed by what became of it. */
export function RunItems({ job }: { job: JobView }) {
  const { data } = useQuery({
    queryKey: ['job', job.id, job.state],
    queryFn: () => api.get<JobView & { input?: unknown }>(`jobs/${job.id}`),
  });
  const [state, setState] = useState<ItemState>();
  const again = useAction(() => api.post(`jobs/${job.id}`));
  if (!data) return <Loading what="Reading what came of it" />;
  const result = data.result as Partial<RunResult> | null;
  const items = (result?.items ?? []).filter((item) => state === undefined || item.state === state);
  return (
    <Box component="section" aria-label="What came of it">
      <Typography variant="h2" sx={{ overflowWrap: 'anywhere' }}>
        {data.title}
      </Typography>
      <Facts
        rows={[
          ['Asked for', when(data.createdAt)],
          data.endedAt ? ['Ended', when(data.endedAt)] : undefined,
          result?.folder ? ['Folder', <code key="folder">{result.folder}</code>] : undefined,
          result?.bytes !== undefined ? ['Written', bytes(result.bytes)] : undefined,
          result?.renamed ? ['Other names', number(result.renamed)] : undefined,
        ]}
      />
      {data.error && <Box sx={{ color: 'bad', my: 1, overflowWrap: 'anywhere' }}>{data.error}</Box>}
      {result?.counts && (
        <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.75, my: 1.5 }}>
          {(Object.entries(result.counts) as [ItemState, number][])
            .filter(([, count]) => count > 0)
            .map(([one, count]) => (
              <Chip
                key={one}
                size="small"
                label={`${number(count)} ${WORDS[one]}`}
                disabled={one === 'skipped'}
                color={state === one ? 'primary' : 'default'}
                onClick={() => setState(state === one ? undefined : one)}
              />
            ))}
        </Box>
      )}
      {job.kind === 'run-recipe' &&
        (job.state === 'done' || job.state === 'failed' || job.state === 'cancelled') && (
          <Button
            variant="outlined"
            size="small"
            loading={again.isPending}
            onClick={() => again.mutate(undefined)}
          >
            Run again
          </Button>
        )}
      <Box sx={{ mt: 1.5 }}>
        {items.slice(0, SHOWN).map((item, i) => (
          <Box key={i} sx={{ py: 0.5, borderBottom: 1, borderColor: 'line', fontSize: 13 }}>
            <Box className="mono" sx={{ overflowWrap: 'anywhere' }}>
              {item.path}
            </Box>
            <Box sx={{ color: item.state === 'failed' ? 'bad' : 'ink2', overflowWrap: 'anywhere' }}>
              {WORDS[item.state]}: {item.reason}
            </Box>
          </Box>
        ))}
        {items.length > SHOWN && (
          <Box sx={{ color: 'ink2', pt: 1 }}>
            {number(items.length - SHOWN)} more are in the log beside the output.
          </Box>
        )}
      </Box>
    </Box>
  );
}
