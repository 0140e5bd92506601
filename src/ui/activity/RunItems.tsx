'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Chip from '@mui/material/Chip';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import type { JobView } from '@/server/running/jobs';
import type { RunResult } from '@/server/recipes/run';
import type { ItemState, RunItem } from '@/platform/node/run-log';
import { api } from '../api';
import { bytes, number, when } from '../format';
import { EXTRACTIONS } from '../frame/JobLine';
import { Facts } from '../kit/Facts';
import { Failed, Loading } from '../kit/Blank';
import { useAction } from '../queries';

const PAGE = 200;
const WORDS: Record<ItemState, string> = {
  written: 'written',
  skipped: 'as they were',
  kept: 'edited and kept',
  failed: 'failed',
  missing: 'not there',
};

/** What came of a job; of an extraction each file with why, to be narrowed by what became of it and by words. */
export function RunItems({ job }: { job: JobView }) {
  const { data } = useQuery({
    queryKey: ['job', job.id, job.state],
    queryFn: () => api.get<JobView>(`jobs/${job.id}`),
  });
  const again = useAction((failed: boolean) => api.post(`jobs/${job.id}`, { failed }));
  if (!data) return <Loading what="Reading what came of it" />;
  const result = data.result as Partial<RunResult> | null;
  const isOver = job.state === 'done' || job.state === 'failed' || job.state === 'cancelled';
  const failed = result?.counts?.failed ?? 0;
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
      {EXTRACTIONS.has(job.kind) && isOver && (
        <Box sx={{ display: 'flex', gap: 1, mt: 1 }}>
          {failed > 0 && (
            <Button
              variant="contained"
              size="small"
              loading={again.isPending}
              onClick={() => again.mutate(true)}
            >
              Try the {number(failed)} failed again
            </Button>
          )}
          <Button
            variant="outlined"
            size="small"
            loading={again.isPending}
            onClick={() => again.mutate(false)}
          >
            Run again
          </Button>
        </Box>
      )}
      {result?.counts && <Items jobId={job.id} counts={result.counts} />}
    </Box>
  );
}

function Items({ jobId, counts }: { jobId: string; counts: RunResult['counts'] }) {
  const [state, setState] = useState<ItemState>();
  const [typed, setTyped] = useState('');
  const text = useDeferredValue(typed);
  const [limit, setLimit] = useState(PAGE);
  const { data, error } = useQuery({
    queryKey: ['run items', jobId, state, text, limit],
    queryFn: () =>
      api.get<{ items: RunItem[]; count: number }>(
        `jobs/${jobId}/items?${new URLSearchParams({ ...(state && { state }), text, limit: String(limit) }).toString()}`,
      ),
    placeholderData: keepPreviousData,
  });
  return (
    <>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.75, my: 1.5 }}>
        {(Object.entries(counts) as [ItemState, number][])
          .filter(([, count]) => count > 0)
          .map(([one, count]) => (
            <Chip
              key={one}
              size="small"
              label={`${number(count)} ${WORDS[one]}`}
              color={state === one ? 'primary' : 'default'}
              aria-pressed={state === one}
              onClick={() => setState(state === one ? undefined : one)}
            />
          ))}
      </Box>
      <TextField
        size="small"
        fullWidth
        label="Find in path or reason"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
      />
      {error && <Failed error={error} />}
      {!data && !error && <Loading what="Reading the log" />}
      <Box role="list" aria-label="Log" sx={{ mt: 1 }}>
        {data?.items.map((item, i) => (
          <Box
            key={i}
            role="listitem"
            sx={{ py: 0.5, borderBottom: 1, borderColor: 'line', fontSize: 13, overflowWrap: 'anywhere' }}
          >
            <Box className="mono">{item.path}</Box>
            <Box sx={{ color: item.state === 'failed' ? 'bad' : 'ink2' }}>
              {WORDS[item.state]}: {item.reason}
              {item.file !== '' && item.file !== item.path && (
                <>
                  , as <span className="mono">{item.file}</span>
                </>
              )}
            </Box>
          </Box>
        ))}
      </Box>
      {data?.items.length === 0 && <Box sx={{ color: 'ink2', py: 1 }}>Nothing in the log fits.</Box>}
      {data && data.count > data.items.length && (
        <Button size="small" sx={{ mt: 1 }} disabled={limit >= 1000} onClick={() => setLimit(1000)}>
          {limit >= 1000
            ? `${number(data.count - data.items.length)} more are in the log beside the output`
            : `Show more of ${number(data.count)}`}
        </Button>
      )}
    </>
  );
}
