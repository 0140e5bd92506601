'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import type { TrialReport } from '@/server/trials';
import { api } from '../api';
import { when } from '../format';
import { JobLine } from '../frame/JobLine';
import { Blank, Failed, Loading } from '../kit/Blank';
import { Screen, sheet } from '../kit/Screen';
import { StateMark, type Tone } from '../kit/StateMark';
import { useAction, useGame, useLast, useRunning, useTrials } from '../queries';

const LINE_TONES: Record<TrialReport['log'][number]['sort'], Tone> = {
  mounted: 'mute',
  took: 'good',
  stall: 'bad',
  note: 'look',
};

/** The stand-in game loads the folder: its scene and what it says. */
export function TrialScreen({ gameId }: { gameId: number }) {
  const { data: trials, error } = useTrials(gameId);
  const { data: game } = useGame(gameId);
  const running = useRunning(gameId, 'trial');
  const last = useLast(gameId, 'trial');
  const [chosen, setChosen] = useState<number>();
  const run = useAction(
    () => api.post(`games/${gameId}/jobs`, { kind: 'trial' }),
    () => setChosen(undefined),
  );
  if (error && !trials) return <Failed error={error} />;
  if (!trials) return <Loading what="Looking at the trials" />;
  const trial = trials.find(({ id }) => id === chosen) ?? trials[0];
  const start = (
    <Button
      variant="contained"
      disabled={game?.standIn === null}
      loading={running !== undefined || run.isPending}
      onClick={() => run.mutate(undefined)}
    >
      Run the trial
    </Button>
  );
  return (
    <Screen
      title={trial ? (trial.loaded ? 'The game loads' : 'The game stalls') : 'Trial'}
      fact={trial && `${trial.standIn}, ${when(trial.createdAt)}`}
      actions={start}
      side={trial && <Log report={trial.report} />}
    >
      {running && <JobLine job={running} />}
      {!running && last?.state === 'failed' && <JobLine job={last} />}
      {trials.length === 0 && (
        <Blank title="Not tried yet" action={start}>
          {game?.standIn === null
            ? 'No stand-in that ships with the application knows this game; start the game itself.'
            : 'The stand-in mounts the folder as the game would, shows its first scene, and says what it took from where.'}
        </Blank>
      )}
      {trial && (
        <Box sx={sheet}>
          <iframe
            key={trial.id}
            title="Scene of the stand-in game"
            src={`/api/games/${gameId}/trials/${trial.id}/scene.html`}
            sandbox="allow-same-origin"
            allow="autoplay"
            style={{ width: '100%', height: 660, border: 0, display: 'block' }}
          />
        </Box>
      )}
      {trials.length > 1 && (
        <>
          <Typography variant="h2" sx={{ mt: 3, mb: 1 }}>
            Earlier runs
          </Typography>
          {trials.map((one) => (
            <Box
              key={one.id}
              component="button"
              onClick={() => setChosen(one.id)}
              sx={{
                all: 'unset',
                boxSizing: 'border-box',
                width: '100%',
                display: 'flex',
                gap: 1.5,
                py: 0.6,
                px: 0.5,
                cursor: 'pointer',
                borderBottom: 1,
                borderColor: 'line',
                bgcolor: one.id === trial?.id ? 'tint' : 'transparent',
                '&:focus-visible': { outline: '2px solid', outlineColor: 'brass' },
              }}
            >
              <Box sx={{ flex: 1 }}>{when(one.createdAt)}</Box>
              <StateMark tone={one.loaded ? 'good' : 'bad'}>{one.loaded ? 'loads' : 'stalls'}</StateMark>
            </Box>
          ))}
        </>
      )}
    </Screen>
  );
}

function Log({ report }: { report: TrialReport }) {
  return (
    <Box component="section" aria-label="Log of the trial">
      <Typography variant="h2" sx={{ mb: 1 }}>
        What it took from where
      </Typography>
      {report.log.map((line, i) => (
        <Box key={i} sx={{ py: 0.75, borderBottom: 1, borderColor: 'line' }}>
          <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
            <StateMark tone={LINE_TONES[line.sort]}>{line.sort}</StateMark>
            <Box sx={{ flex: 1, textAlign: 'right', color: 'ink2', fontSize: 12 }}>{line.at} ms</Box>
          </Box>
          <Box className="mono" sx={{ overflowWrap: 'anywhere' }}>
            {line.what}
          </Box>
          <Box
            sx={{ color: line.sort === 'stall' ? 'bad' : 'ink2', fontSize: 12.5, overflowWrap: 'anywhere' }}
          >
            {line.detail}
            {line.from && ` from ${line.from}`}
          </Box>
        </Box>
      ))}
    </Box>
  );
}
