'use client';
import Box from '@mui/material/Box';
import Tab from '@mui/material/Tab';
import Tabs from '@mui/material/Tabs';
import { PageLink } from '../kit/PageLink';
import { useRouter, useSearchParams } from 'next/navigation';
import type { JobView } from '@/server/running/jobs';
import { number } from '../format';
import { JobLine } from '../frame/JobLine';
import { TopBar } from '../frame/TopBar';
import { Blank, Failed, Loading } from '../kit/Blank';
import { Screen, sheet } from '../kit/Screen';
import { useGames, useJobs } from '../queries';
import { RunItems } from './RunItems';
import { Workers } from './Workers';

const VIEWS = {
  all: () => true,
  busy: ({ state }: JobView) => state === 'running' || state === 'waiting' || state === 'paused',
  done: ({ state }: JobView) => state === 'done',
  failed: ({ state }: JobView) => state === 'failed' || state === 'cancelled',
} as const;
type View = keyof typeof VIEWS;
const TITLES: Record<View, string> = {
  all: 'All',
  busy: 'Under way',
  done: 'Done',
  failed: 'Failed or stopped',
};

/** Everything that was asked for, of all games: what runs, what waits, what came of it. */
export function ActivityScreen() {
  const params = useSearchParams();
  const router = useRouter();
  const { data: jobs, error } = useJobs();
  const { data: games } = useGames();
  const asked = params.get('show') ?? 'all';
  const view = (asked in VIEWS ? asked : 'all') as View;
  const chosen = jobs?.find(({ id }) => id === params.get('job'));
  const address = (show: string, job = ''): string => `/activity?show=${show}${job && `&job=${job}`}`;
  const shown = jobs?.filter(VIEWS[view]) ?? [];
  return (
    <Box sx={{ height: '100dvh', display: 'flex', flexDirection: 'column', minWidth: 900 }}>
      <TopBar>
        <Box sx={{ fontWeight: 600 }}>Activity</Box>
      </TopBar>
      <Box component="main" sx={{ flex: 1, minHeight: 0 }}>
        <Screen
          title="Activity"
          fact="Scans, builds, searches and recipes of all games. They go on while this page is closed."
          side={
            chosen ? (
              <RunItems key={chosen.id} job={chosen} />
            ) : (
              <Blank title="Nothing chosen">Choose a job to see what came of it.</Blank>
            )
          }
        >
          <Tabs
            value={view}
            onChange={(_event, next: View) => router.replace(address(next))}
            sx={{ mb: 1.5, minHeight: 40 }}
            aria-label="Jobs"
            slotProps={{ indicator: { sx: { bgcolor: 'brass', height: 3 } } }}
          >
            {(Object.keys(VIEWS) as View[]).map((one) => (
              <Tab
                key={one}
                value={one}
                sx={{ minHeight: 40 }}
                label={`${TITLES[one]} ${number(jobs?.filter(VIEWS[one]).length ?? 0)}`}
              />
            ))}
          </Tabs>
          {error && <Failed error={error} />}
          {!jobs && !error && <Loading what="Listing the jobs" />}
          {jobs && shown.length === 0 && (
            <Blank title="Nothing here">
              {view === 'all'
                ? 'Scans, builds and recipes are listed here once they are asked for.'
                : 'No job is in this state.'}
            </Blank>
          )}
          <Workers />
          {shown.length > 0 && (
            <Box role="list" aria-label="Jobs" sx={sheet}>
              {shown.map((job) => (
                <Box
                  key={job.id}
                  role="listitem"
                  onClick={() => router.replace(address(view, job.id))}
                  sx={{ px: 2, cursor: 'pointer', bgcolor: job.id === chosen?.id ? 'tint' : 'transparent' }}
                >
                  <Box sx={{ pt: 1, fontSize: 12.5, color: 'ink2', '& a': { color: 'inherit' } }}>
                    {job.gameId === null ? (
                      'no game'
                    ) : (
                      <PageLink href={`/games/${job.gameId}/folder`}>
                        {games
                          ? (games.find(({ id }) => id === job.gameId)?.title ?? 'a game taken off the shelf')
                          : ''}
                      </PageLink>
                    )}
                  </Box>
                  <JobLine job={job} />
                </Box>
              ))}
            </Box>
          )}
        </Screen>
      </Box>
    </Box>
  );
}
