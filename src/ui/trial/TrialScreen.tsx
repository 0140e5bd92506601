'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import type { TrialView } from '@/server/running/trials';
import { api } from '../api';
import { when } from '../format';
import { JobLine } from '../frame/JobLine';
import { Blank, Failed, Loading } from '../kit/Blank';
import { Screen, sheet } from '../kit/Screen';
import { StateMark } from '../kit/StateMark';
import { useAction, useGame, useLast, useRunning, useTrials } from '../queries';
import { TrialLog } from './TrialLog';

const namedTrial = ({ installed, createdAt }: TrialView): string =>
  `${installed || 'the originals'}, ${when(createdAt)}`;

function titleOf(trial: TrialView | undefined, isRunning: boolean): string {
  if (isRunning) return 'The stand-in loads the folder now';
  if (!trial) return 'Trial';
  if (trial.stale) return 'The folder was changed since the last trial';
  return trial.loaded ? 'The game loads' : 'The game stalls';
}

/** Loading that takes so much longer than usual is worth a look. */
const SLOWER = { times: 1.5, ms: 250 };

function LoadTime({ trial: { took, usual } }: { trial: TrialView }) {
  if (usual === null)
    return <Box sx={{ color: 'ink2' }}>in {Math.round(took)} ms, which later runs are held against</Box>;
  const isSlow = took > SLOWER.times * usual && took - usual > SLOWER.ms;
  return (
    <StateMark tone={isSlow ? 'look' : 'good'}>
      {isSlow
        ? `slower than usual: ${Math.round(took)} ms instead of ${Math.round(usual)} ms`
        : `in its usual time: ${Math.round(took)} ms, usually ${Math.round(usual)} ms`}
    </StateMark>
  );
}

const nameOf = (tongues: readonly { code: string; name: string }[], code: string): string =>
  tongues.find((one) => one.code === code)?.name ?? code;

/** The stand-in game loads the folder: its scene and what it says. */
export function TrialScreen({ gameId }: { gameId: number }) {
  const { data: trials, error } = useTrials(gameId);
  const { data: game } = useGame(gameId);
  const running = useRunning(gameId, 'trial');
  const last = useLast(gameId, 'trial');
  const [chosen, setChosen] = useState<number>();
  const [beside, setBeside] = useState<number>();
  const run = useAction(
    (tongue: string | undefined) => api.post(`games/${gameId}/jobs`, { kind: 'trial', tongue }),
    () => setChosen(undefined),
  );
  if (error && !trials) return <Failed error={error} />;
  if (!trials) return <Loading what="Looking at the trials" />;
  const trial = trials.find(({ id }) => id === chosen) ?? trials[0];
  const other = trials.find(({ id }) => id === beside && id !== trial?.id);
  // What it is worth holding against: the last run with something else installed, else the one before.
  const before =
    trial &&
    (trials.find((one) => one.id < trial.id && one.installed !== trial.installed) ??
      trials.find((one) => one.id < trial.id));
  const { tongues = [], tongue = '', otherTongues = [] } = trial?.report ?? {};
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
      title={titleOf(trial, running !== undefined)}
      fact={trial && !running && `${trial.standIn}, ${namedTrial(trial)}`}
      actions={
        <>
          {trial && before && (
            <Button
              variant="outlined"
              onClick={() => setBeside(other ? undefined : before.id)}
              aria-pressed={other !== undefined}
            >
              {other ? 'Alone' : `Beside ${before.installed || 'the originals'}`}
            </Button>
          )}
          {tongues.length > 0 && (
            <TextField
              select
              size="small"
              label="In the language"
              value={tongues.some(({ code }) => code === tongue) ? tongue : ''}
              disabled={running !== undefined || run.isPending}
              onChange={(event) => run.mutate(event.target.value)}
              sx={{ minWidth: 150 }}
            >
              {tongues.map(({ code, name }) => (
                <MenuItem key={code} value={code} lang={code}>
                  {name}
                </MenuItem>
              ))}
            </TextField>
          )}
          {start}
        </>
      }
      side={trial && <TrialLog gameId={gameId} report={trial.report} other={other?.report} />}
    >
      {running && <JobLine job={running} />}
      {!running && last?.state === 'failed' && <JobLine job={last} />}
      {trial && !running && (
        <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'center', mb: 1.5 }}>
          <StateMark tone={trial.stale ? 'look' : trial.loaded ? 'good' : 'bad'}>
            {trial.stale
              ? 'older than what is in the folder now'
              : trial.loaded
                ? 'loads'
                : 'stalls; the log says where'}
          </StateMark>
          {trial.loaded && <LoadTime trial={trial} />}
        </Box>
      )}
      {trial && !running && otherTongues.length > 0 && (
        <Box role="status" sx={{ mb: 1.5, px: 1.25, py: 0.75, bgcolor: 'lookBack' }}>
          {otherTongues.slice(0, 3).map(({ path, tongue: own, taken }) => (
            <Box key={path} sx={{ overflowWrap: 'anywhere' }}>
              {path} is changed and was not asked for: the game was in {nameOf(tongues, tongue)}, and took{' '}
              {taken}. Choose {own} to see it.
            </Box>
          ))}
          {otherTongues.length > 3 && <Box>{otherTongues.length - 3} more are in other languages.</Box>}
        </Box>
      )}
      {trials.length === 0 && (
        <Blank title="Not tried yet" action={start}>
          {game?.standIn === null
            ? 'No stand-in that ships with the application knows this game; start the game itself.'
            : 'The stand-in mounts the folder as the game would, shows its first scene, and says what it took from where.'}
        </Blank>
      )}
      {trial && (
        <Box sx={{ display: 'flex', gap: 1.5 }}>
          {[trial, ...(other ? [other] : [])].map((one, i) => (
            <Box key={one.id} sx={{ ...sheet, flex: 1, minWidth: 0 }}>
              {other && (
                <Box sx={{ px: 1.25, py: 0.6, borderBottom: 1, borderColor: 'line', fontWeight: 600 }}>
                  {namedTrial(one)}
                </Box>
              )}
              <iframe
                title={i === 0 ? 'Scene of the stand-in game' : 'Scene of the other run'}
                src={`/api/games/${gameId}/trials/${one.id}/scene.html`}
                sandbox="allow-same-origin"
                allow="autoplay"
                style={{ width: '100%', height: 660, border: 0, display: 'block' }}
              />
            </Box>
          ))}
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
              <Box sx={{ flex: 1 }}>{namedTrial(one)}</Box>
              <StateMark tone={one.loaded ? 'good' : 'bad'}>{one.loaded ? 'loads' : 'stalls'}</StateMark>
            </Box>
          ))}
        </>
      )}
    </Screen>
  );
}
