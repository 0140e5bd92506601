'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import FormControlLabel from '@mui/material/FormControlLabel';
import Radio from '@mui/material/Radio';
import RadioGroup from '@mui/material/RadioGroup';
import Typography from '@mui/material/Typography';
import { useEffect, useRef } from 'react';
import type { BuildWay } from '@/core/mod';
import type { WeighedWay } from '@/server/building/weigh-ways';
import { api } from '../api';
import { bytes } from '../format';
import { JobLine } from '../frame/JobLine';
import { useAction, useJobs, useLast, useRunning } from '../queries';
import { WAY_WORDS } from './way-words';

interface Weighed {
  readonly before: number;
  readonly ways: readonly WeighedWay[];
  readonly stamp: string;
}

function sizeWords(before: number, after: number, inPlace: number, way: BuildWay): string {
  if (way === 'patch' || way === 'loose') return `, ${bytes(after)} beside ${bytes(before)}`;
  return `, ${bytes(before)} → ${bytes(after)}, ${bytes(inPlace)} in place`;
}

/** Where changed entries go in the new archive; sizes on request, since they have to be worked out. */
export function WayChoice({
  gameId,
  modId,
  stamp,
  mayWeigh,
  way,
  onChange,
}: {
  gameId: number;
  modId: number;
  /** What a comparison must have been made of to count. */
  stamp: string | undefined;
  /** Whether all changes are ready to be planned. */
  mayWeigh: boolean;
  way: BuildWay;
  onChange: (way: BuildWay) => void;
}) {
  const running = useRunning(gameId, 'weigh-ways');
  const last = useLast(gameId, 'weigh-ways');
  const weigh = useAction(() => api.post(`games/${gameId}/jobs`, { kind: 'weigh-ways', modId }));
  const result = last?.state === 'done' ? (last.result as Weighed) : undefined;
  const weighed = result?.stamp === stamp ? result : undefined;
  const { data: jobs } = useJobs();
  const mustWeigh = stamp !== undefined && !weighed && !running && jobs && last?.state !== 'failed';
  // Once for each state of the changes, so that no way is offered that would be refused.
  const asked = useRef<string>(undefined);
  const { mutate } = weigh;
  useEffect(() => {
    if (!mayWeigh || !mustWeigh || asked.current === stamp) return;
    asked.current = stamp;
    mutate(undefined);
  }, [mayWeigh, mustWeigh, stamp, mutate]);
  const problemOf = (each: BuildWay): string | null =>
    weighed?.ways.find((one) => one.way === each)?.problem ?? null;
  const ways = Object.keys(WAY_WORDS) as BuildWay[];
  const isChosenRefused = problemOf(way) !== null;
  const firstGood = ways.find((each) => problemOf(each) === null);
  useEffect(() => {
    if (isChosenRefused && firstGood) onChange(firstGood);
  }, [isChosenRefused, firstGood, onChange]);
  return (
    <Box component="section" aria-label="Way to build" sx={{ mb: 3 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', mb: 1 }}>
        <Typography variant="h2" sx={{ flex: 1 }}>
          Way to build
        </Typography>
        <Button size="small" loading={running !== undefined} onClick={() => weigh.mutate(undefined)}>
          Compare sizes
        </Button>
      </Box>
      {last?.state === 'failed' && !running && <JobLine job={last} />}
      <RadioGroup
        aria-label="Way to build"
        value={way}
        onChange={(event) => onChange(event.target.value as BuildWay)}
      >
        {ways
          .filter((each) => problemOf(each) === null)
          .map((each) => {
            const found = weighed?.ways.find((one) => one.way === each);
            return (
              <FormControlLabel
                key={each}
                value={each}
                control={<Radio size="small" sx={{ py: 0.5, alignSelf: 'flex-start' }} />}
                sx={{ alignItems: 'flex-start', mb: 0.75 }}
                label={
                  <Box sx={{ pt: 0.5 }}>
                    <Box sx={{ fontWeight: 600, lineHeight: 1.3 }}>
                      {WAY_WORDS[each].title}
                      {typeof found?.bytes === 'number' && weighed && (
                        <Box component="span" sx={{ fontWeight: 400, color: 'ink2' }}>
                          {sizeWords(weighed.before, found.bytes, found.inPlace ?? 0, each)}
                        </Box>
                      )}
                    </Box>
                    <Box sx={{ fontSize: 12.5, color: 'ink2', lineHeight: 1.35 }}>{WAY_WORDS[each].why}</Box>
                  </Box>
                }
              />
            );
          })}
      </RadioGroup>
      {ways.some((each) => problemOf(each) !== null) && (
        <Box component="details" sx={{ fontSize: 12.5, color: 'ink2', mt: 0.5 }}>
          <summary>
            Not possible with these changes:{' '}
            {ways
              .filter((each) => problemOf(each) !== null)
              .map((each) => WAY_WORDS[each].title)
              .join(', ')}
          </summary>
          {ways
            .filter((each) => problemOf(each) !== null)
            .map((each) => (
              <Box key={each} sx={{ mt: 0.5, overflowWrap: 'anywhere' }}>
                <b>{WAY_WORDS[each].title}.</b> {problemOf(each)}
              </Box>
            ))}
        </Box>
      )}
    </Box>
  );
}
