'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { PageLink } from '../kit/PageLink';
import { api } from '../api';
import { plural, when } from '../format';
import { JobLine } from '../frame/JobLine';
import { Blank, Failed, Loading } from '../kit/Blank';
import { Outcome } from '../kit/Outcome';
import { Screen } from '../kit/Screen';
import { StateMark, type Tone } from '../kit/StateMark';
import type { ChangedWay } from '@/server/installing/restore';
import { useAction, useInstallations, useLast, useRunning } from '../queries';
import { ChangedFiles } from './ChangedFiles';
import { InstalledFiles } from './InstalledFiles';
import { InstalledMods } from './InstalledMods';
import { KnownOriginals } from './KnownOriginals';

const STATE_TONES: Record<string, Tone> = { installed: 'good', restored: 'mute', replaced: 'mute' };

/** What is in the game folder besides its originals, and the way back. */
export function InstalledScreen({ gameId }: { gameId: number }) {
  const { data, error } = useInstallations(gameId);
  const restoring = useRunning(gameId, 'restore');
  const takingOut = useRunning(gameId, 'take-out');
  const installing = useRunning(gameId, 'install');
  const running = restoring ?? installing ?? takingOut;
  const last = useLast(gameId, 'restore');
  const lastInstall = useLast(gameId, 'install');
  const lastTakeOut = useLast(gameId, 'take-out');
  const lastRecover = useLast(gameId, 'recover');
  const restore = useAction((changed: ChangedWay) =>
    api.post(`games/${gameId}/jobs`, { kind: 'restore', changed }),
  );
  if (error && !data) return <Failed error={error} />;
  if (!data) return <Loading what="Looking at the folder" />;
  const active = data.installations.find(({ state }) => state === 'installed');
  const others = data.files.filter(({ state }) => state === 'changed' || state === 'missing');
  const told = lastRecover ?? [last, lastInstall, lastTakeOut].find((job) => job?.state === 'failed');
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
            <Button variant="outlined" loading={running !== undefined} onClick={() => restore.mutate('ask')}>
              Restore the originals
            </Button>
            <Button component={PageLink} href={`/games/${gameId}/trial`} variant="contained">
              To the trial
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
          <KnownOriginals gameId={gameId} />
        </>
      }
    >
      {running && <JobLine job={running} />}
      {!running && told && <JobLine job={told} />}
      {!running && active && last?.state !== 'failed' && others.length === 0 && (
        <Outcome next="Try it in the game" href={`/games/${gameId}/trial`}>
          {active.title} is in the folder; the originals of{' '}
          {plural(active.files.filter(({ before }) => before !== null).length, 'file')} are kept.
        </Outcome>
      )}
      {!running && !active && data.installations[0] && (
        <Outcome next="See whether it loads" href={`/games/${gameId}/trial`}>
          {data.installations[0].title} was taken out{' '}
          {when(data.installations[0].endedAt ?? data.installations[0].createdAt)}; all files are the
          originals again.
        </Outcome>
      )}
      {!active && !running && (
        <Blank
          title="Nothing installed"
          action={
            <Button component={PageLink} href={`/games/${gameId}/build`} variant="contained">
              To the build
            </Button>
          }
        >
          Build a mod, read its proof, then install it. The originals are kept first.
        </Blank>
      )}
      {active && others.length > 0 && !running && (
        <ChangedFiles files={others} busy={restore.isPending} onChoose={(way) => restore.mutate(way)} />
      )}
      {active && active.mods.length > 1 && <InstalledMods gameId={gameId} mods={active.mods} />}
      {active && <InstalledFiles files={active.files} now={data.files} />}
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
