'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Popover from '@mui/material/Popover';
import { PageLink } from '../kit/PageLink';
import { useState } from 'react';
import { useJobs } from '../queries';
import { JobLine } from './JobLine';

/** How many jobs run, and on a press what they and the ended ones are doing. */
export function JobsButton() {
  const { data: jobs = [] } = useJobs();
  const [at, setAt] = useState<HTMLElement | null>(null);
  const busy = jobs.filter(({ state }) => state === 'running' || state === 'waiting');
  const [first] = busy;
  const share = first?.progress.total
    ? Math.round((100 * (first.progress.done ?? 0)) / first.progress.total)
    : undefined;
  return (
    <>
      <Button onClick={(event) => setAt(event.currentTarget)} sx={{ color: 'barInk' }} aria-haspopup="dialog">
        {busy.length === 0
          ? 'No jobs'
          : `${busy.length} ${busy.length === 1 ? 'job' : 'jobs'}${share === undefined ? '' : `, ${share} %`}`}
      </Button>
      <Popover
        open={at !== null}
        anchorEl={at}
        onClose={() => setAt(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        transformOrigin={{ vertical: 'top', horizontal: 'right' }}
      >
        <Box sx={{ width: 420, maxHeight: 480, overflow: 'auto', p: 2, border: 1, borderColor: 'line' }}>
          {jobs.length === 0 && (
            <Box sx={{ color: 'ink2' }}>
              Nothing has been done yet. Scans, builds and extractions are listed here.
            </Box>
          )}
          <Button component={PageLink} href="/activity" onClick={() => setAt(null)} size="small">
            All activity
          </Button>
          {jobs.slice(0, 20).map((job) => (
            <JobLine key={job.id} job={job} />
          ))}
        </Box>
      </Popover>
    </>
  );
}
