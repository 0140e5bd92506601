'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import NextLink from 'next/link';
import { api } from '../api';
import { plural, when } from '../format';
import { JobLine } from '../frame/JobLine';
import { Blank, Failed, Loading } from '../kit/Blank';
import { Screen, sheet } from '../kit/Screen';
import { StateMark, type Tone } from '../kit/StateMark';
import { useAction, useInstallations, useLast, useRunning } from '../queries';

const FILE_TONES: Record<string, Tone> = {
  'as installed': 'good',
  original: 'mute',
  changed: 'bad',
  missing: 'bad',
};
const STATE_TONES: Record<string, Tone> = { installed: 'good', restored: 'mute', replaced: 'mute' };

/** What is in the game folder besides its originals, and the way back. */
export function InstalledScreen({ gameId }: { gameId: number }) {
  const { data, error } = useInstallations(gameId);
  const restoring = useRunning(gameId, 'restore');
  const installing = useRunning(gameId, 'install');
  const running = restoring ?? installing;
  const last = useLast(gameId, 'restore');
  const lastInstall = useLast(gameId, 'install');
  const lastRecover = useLast(gameId, 'recover');
  const restore = useAction(() => api.post(`games/${gameId}/jobs`, { kind: 'restore' }));
  if (error && !data) return <Failed error={error} />;
  if (!data) return <Loading what="Looking at the folder" />;
  const active = data.installations.find(({ state }) => state === 'installed');
  const told = lastRecover ?? [last, lastInstall].find((job) => job?.state === 'failed');
  return (
    <Screen
      title={active ? active.title : 'The folder holds its originals'}
      fact={
        active
          ? `installed ${when(active.createdAt)}, ${plural(active.files.length, 'file')}`
          : 'nothing is installed'
      }
      actions={
        active && (
          <>
            <Button component={NextLink} href={`/games/${gameId}/trial`} variant="outlined">
              To the trial
            </Button>
            <Button
              variant="contained"
              loading={running !== undefined}
              onClick={() => restore.mutate(undefined)}
            >
              Restore the originals
            </Button>
          </>
        )
      }
      side={
        <>
          <Typography variant="h2" sx={{ mb: 1 }}>
            How originals are kept
          </Typography>
          <Typography sx={{ color: 'ink2' }}>
            Before a file is overwritten, a copy is kept by its SHA-256 and read back. New files are written
            beside the old ones, flushed, checked and then moved into place in one step. If the power goes out
            meanwhile, the next start finishes or undoes it and says which.
          </Typography>
        </>
      }
    >
      {running && <JobLine job={running} />}
      {!running && told && <JobLine job={told} />}
      {!active && !running && (
        <Blank
          title="Nothing installed"
          action={
            <Button component={NextLink} href={`/games/${gameId}/build`} variant="contained">
              To the build
            </Button>
          }
        >
          Build a mod, read its proof, then install it. The originals are kept first.
        </Blank>
      )}
      {active && (
        <Box sx={sheet}>
          {active.files.map((file) => {
            const now = data.files.find(({ path }) => path === file.path);
            return (
              <Box
                key={file.path}
                sx={{
                  display: 'grid',
                  gridTemplateColumns: 'minmax(0, 1fr) 130px 170px',
                  gap: 1.5,
                  px: 1.5,
                  py: 1,
                  borderBottom: 1,
                  borderColor: 'line',
                  alignItems: 'center',
                }}
              >
                <Box sx={{ minWidth: 0 }}>
                  <Box className="mono" sx={{ fontWeight: 600, overflowWrap: 'anywhere' }}>
                    {file.path}
                  </Box>
                  <Box
                    className="mono"
                    sx={{
                      color: 'ink2',
                      fontSize: 11.5,
                      overflow: 'hidden',
                      textOverflow: 'ellipsis',
                    }}
                  >
                    original {file.before?.slice(0, 16) ?? 'none'}, now {file.after?.slice(0, 16) ?? 'none'}
                  </Box>
                </Box>
                {now && <StateMark tone={FILE_TONES[now.state] ?? 'mute'}>{now.state}</StateMark>}
                {now && (
                  <StateMark tone={now.kept ? 'good' : 'bad'}>
                    {now.kept ? 'original kept' : 'original lost'}
                  </StateMark>
                )}
              </Box>
            );
          })}
        </Box>
      )}
      {data.installations.length > 0 && (
        <>
          <Typography variant="h2" sx={{ mt: 3, mb: 1 }}>
            What was done
          </Typography>
          {data.installations.map((one) => (
            <Box
              key={one.id}
              sx={{
                display: 'flex',
                gap: 1.5,
                py: 0.75,
                borderBottom: 1,
                borderColor: 'line',
                alignItems: 'center',
              }}
            >
              <Box sx={{ flex: 1 }}>{one.title}</Box>
              <Box sx={{ color: 'ink2', fontSize: 13 }}>
                {when(one.createdAt)}
                {one.endedAt && ` to ${when(one.endedAt)}`}
              </Box>
              <StateMark tone={STATE_TONES[one.state] ?? 'mute'}>{one.state}</StateMark>
            </Box>
          ))}
        </>
      )}
    </Screen>
  );
}
