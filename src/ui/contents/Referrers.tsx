'use client';
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import type { JobView } from '@/server/running/jobs';
import type { InsideResult } from '@/server/entries/search-inside';
import { api } from '../api';
import { number } from '../format';
import { JobLine } from '../frame/JobLine';
import { useJobs } from '../queries';
import { EntryRow } from './EntryRow';

const SHOWN = 24;

/** Who refers to an entry, as the search that was asked for beside it has found. */
export function Referrers({
  gameId,
  jobId,
  onShow,
}: {
  gameId: number;
  jobId: string;
  onShow: (archiveId: number, index: number) => void;
}) {
  const { data: jobs } = useJobs();
  const job = jobs?.find(({ id }) => id === jobId);
  const { data: full } = useQuery({
    queryKey: ['job', jobId, job?.state],
    enabled: job?.state === 'done',
    queryFn: () => api.get<JobView>(`jobs/${jobId}`),
  });
  if (!job || job.gameId !== gameId) return null;
  if (job.state !== 'done') return <JobLine job={job} />;
  const hits = (full?.result as InsideResult | undefined)?.hits ?? [];
  const entries = [...new Map(hits.map((hit) => [`${hit.archiveId}:${hit.index}`, hit])).values()];
  return (
    <Box component="section" aria-label="Referred to by" sx={{ mt: 2 }}>
      <Box sx={{ fontSize: 12.5, fontWeight: 700, color: 'ink2', mb: 0.5 }}>
        {entries.length === 0
          ? 'Nothing in open archives refers to it'
          : `Referred to by ${number(entries.length)}`}
      </Box>
      {entries.slice(0, SHOWN).map((hit) => (
        <EntryRow
          key={`${hit.archiveId}:${hit.index}`}
          path={hit.path}
          title={hit.path}
          onShow={() => onShow(hit.archiveId, hit.index)}
        />
      ))}
      {entries.length > SHOWN && <Box sx={{ color: 'ink2' }}>and {number(entries.length - SHOWN)} more</Box>}
    </Box>
  );
}
