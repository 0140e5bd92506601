'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import type { JobView } from '@/server/running/jobs';
import { api } from '../api';
import { bytes, duration, number, when } from '../format';
import { StateMark, type Tone } from '../kit/StateMark';
import { useAction } from '../queries';

const TONES: Record<JobView['state'], Tone> = {
  waiting: 'mute',
  running: 'look',
  done: 'good',
  failed: 'bad',
  cancelled: 'mute',
  paused: 'look',
};

/** Jobs that go on where they were. */
export const EXTRACTIONS: ReadonlySet<JobView['kind']> = new Set(['run-recipe', 'extract'] as const);

/** Those, and others that can rest. */
const PAUSABLE: ReadonlySet<JobView['kind']> = new Set([...EXTRACTIONS, 'make-film'] as const);

/** Before so much has passed, or been done, a rate says nothing. */
const LEAST_SECONDS = 1;
const LEAST_SHARE = 0.005;

/** Rate and time left, from what is done since the job began. */
function pace({ done = 0, total = 0, unit, since, bytes: size }: JobView['progress']): string {
  if (!since || total <= 0 || done <= 0) return '';
  const seconds = Math.max(0.2, (Date.now() - since) / 1000);
  // Bytes tell better than items how long the rest will take.
  const isBySize = size !== undefined && size.done > 0;
  const share = isBySize ? size.done / size.total : done / total;
  // Of a job that has hardly begun nothing can be told.
  if (seconds < LEAST_SECONDS || share < LEAST_SHARE) return '';
  const left = (seconds * (1 - share)) / share;
  const spelled = unit === 'bytes' ? `${bytes(done / seconds)}/s` : `${number(Math.round(done / seconds))}/s`;
  const counted = isBySize
    ? `${number(done)} of ${number(total)}, ${bytes(size.done)} of ${bytes(size.total)}, ${bytes(size.done / seconds)}/s`
    : spelled;
  return `${counted}, ${duration(left)} left`;
}

/** What the job says of its result, where it does. */
function detailOf({ result, error }: JobView): string | undefined {
  const detail = (result as { detail?: unknown } | null)?.detail;
  return typeof detail === 'string' && !error ? detail : undefined;
}

/** One job with its state, its progress and a way to stop it. */
export function JobLine({ job, isTitled = true }: { job: JobView; isTitled?: boolean }) {
  const cancel = useAction(() => api.remove(`jobs/${job.id}`));
  const pause = useAction((paused: boolean) => api.patch(`jobs/${job.id}`, { paused }));
  const { done = 0, total = 0, item = '' } = job.progress;
  const busy = job.state === 'running' || job.state === 'waiting';
  return (
    <Box
      sx={{ py: 1, borderBottom: 1, borderColor: 'line', fontSize: 13 }}
      data-job={job.kind}
      data-state={job.state}
    >
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
        <Box sx={{ flex: 1, fontWeight: isTitled ? 600 : 400, overflowWrap: 'anywhere' }}>
          {isTitled ? job.title : (detailOf(job) ?? 'Last run')}
        </Box>
        <StateMark tone={TONES[job.state]}>{job.state}</StateMark>
        {PAUSABLE.has(job.kind) && (busy || job.state === 'paused') && (
          <Button size="small" onClick={() => pause.mutate(busy)}>
            {busy ? 'Pause' : 'Go on'}
          </Button>
        )}
        {(busy || job.state === 'paused') && (
          <Button size="small" onClick={() => cancel.mutate(undefined)}>
            Stop
          </Button>
        )}
      </Box>
      {busy && (
        <>
          <LinearProgress
            sx={{ my: 0.75 }}
            {...(total > 0 ? { variant: 'determinate', value: Math.min(100, (100 * done) / total) } : {})}
          />
          <Box sx={{ color: 'ink2', display: 'flex', gap: 1 }}>
            <Box sx={{ flex: 1, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
              {item || 'waiting for the worker'}
            </Box>
            {pace(job.progress)}
          </Box>
        </>
      )}
      {(busy || job.state === 'paused') && job.progress.shown && (
        <Box
          component="img"
          src={job.progress.shown}
          alt={`What is ready of ${job.title}`}
          sx={{ my: 0.75, borderRadius: 0.5, display: 'block' }}
        />
      )}
      {isTitled && detailOf(job) && <Box>{detailOf(job)}</Box>}
      {job.error && (
        <Box sx={{ color: job.state === 'paused' ? 'ink2' : 'bad', overflowWrap: 'anywhere' }}>
          {job.error}
        </Box>
      )}
      {job.endedAt && <Box sx={{ color: 'ink2' }}>{when(job.endedAt)}</Box>}
    </Box>
  );
}
