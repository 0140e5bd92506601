'use client';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { PageLink } from '../kit/PageLink';
import { useState } from 'react';
import type { BuildWay } from '@/core/mod';
import { api } from '../api';
import { plural } from '../format';
import { JobLine } from '../frame/JobLine';
import { Blank, Loading } from '../kit/Blank';
import { Outcome } from '../kit/Outcome';
import { Screen } from '../kit/Screen';
import {
  useAction,
  useBuilds,
  useChanges,
  useInstallations,
  useInstallPlan,
  useLast,
  useMods,
  useRunning,
  useToBuild,
} from '../queries';
import { useMod } from '../use-mod';
import { BuildReport } from './BuildReport';
import { ChangeRows } from './ChangeRows';
import { Conflicts } from './Conflicts';
import { MergedFiles } from './MergedFiles';
import { GiveOut } from './GiveOut';
import { InstallPlan } from './InstallPlan';
import { Together } from './Together';
import { WayChoice } from './WayChoice';

/** What will be written and why, and the proof of what was. */
export function BuildScreen({ gameId }: { gameId: number }) {
  const { mod, loaded } = useMod(gameId);
  const { data: changes } = useChanges(gameId, mod?.id);
  const { data: builds } = useBuilds(gameId, mod?.id);
  const running = useRunning(gameId, 'build');
  const last = useLast(gameId, 'build');
  const installing = useRunning(gameId, 'install');
  const lastInstall = useLast(gameId, 'install');
  const { data: mods = [] } = useMods(gameId);
  const { data: installed } = useInstallations(gameId);
  const { data: toBuild } = useToBuild(gameId, mod?.id);
  const latest = builds?.[0];
  const isReady = latest !== undefined && latest.holds && !latest.stale;
  const plan = useInstallPlan(gameId, isReady ? latest.id : undefined);
  const [way, setWay] = useState<BuildWay>('shifted');
  const build = useAction((keepDamaged: boolean) =>
    api.post(`games/${gameId}/jobs`, { kind: 'build', modId: mod!.id, way, keepDamaged }),
  );
  const install = useAction((buildId: number) =>
    api.post(`games/${gameId}/jobs`, { kind: 'install', buildId }),
  );
  if (!loaded) return <Loading what="Looking at the mod" />;
  if (!mod || (changes?.length === 0 && toBuild?.changes === 0))
    return (
      <Blank
        title="Nothing to build"
        action={
          <Button component={PageLink} href={`/games/${gameId}/contents`} variant="contained">
            To the contents
          </Button>
        }
      >
        {mod ? `${mod.title} has no changes yet.` : 'There is no mod yet.'} Replace an entry first.
      </Blank>
    );
  const unfit = changes?.filter(({ fit }) => fit === 'does not fit') ?? [];
  const archives = toBuild?.archives ?? [...new Set((changes ?? []).map(({ archive }) => archive))];
  const active = installed?.installations.find(({ state }) => state === 'installed');
  const isIn = latest !== undefined && active?.buildId === latest.id;
  return (
    <Screen
      title={mod.title}
      fact={`${plural(toBuild?.changes ?? changes?.length ?? 0, 'change')} in ${plural(archives.length, 'archive')}${toBuild && toBuild.mods.length > 1 ? ` of ${toBuild.mods.length} mods` : ''}`}
      actions={
        <>
          <Button
            variant={isReady ? 'outlined' : 'contained'}
            disabled={unfit.length > 0}
            loading={running !== undefined || build.isPending}
            onClick={() => build.mutate(false)}
          >
            {latest ? 'Build again' : 'Build'}
          </Button>
          {latest && (
            <Button
              variant={isIn || !isReady ? 'outlined' : 'contained'}
              // What it does is seen before it is done, and a build that is being replaced is none to install.
              disabled={!plan.isSuccess || running !== undefined || build.isPending}
              loading={installing !== undefined}
              onClick={() => install.mutate(latest.id)}
            >
              Install
            </Button>
          )}
        </>
      }
      side={
        <>
          <WayChoice
            gameId={gameId}
            modId={mod.id}
            stamp={toBuild?.stamp}
            mayWeigh={unfit.length === 0 && !running}
            way={way}
            onChange={setWay}
          />
          {mods.length > 1 && <Together gameId={gameId} mods={mods} own={mod.id} />}
          <WhatHappens archives={archives} unfit={unfit.length} />
        </>
      }
    >
      {running && <JobLine job={running} />}
      {installing && <JobLine job={installing} />}
      {!running && last?.state === 'failed' && <JobLine job={last} />}
      {!installing && lastInstall?.state === 'failed' && <JobLine job={lastInstall} />}
      {!installing && isIn && !latest.stale && (
        <Outcome next="Try it in the game" href={`/games/${gameId}/trial`}>
          This build is in the game folder. Restore brings the originals back.
        </Outcome>
      )}
      {!running && isReady && !isIn && (
        <Outcome>Built and proved. Install puts it into the game folder over kept originals.</Outcome>
      )}
      <ChangeRows gameId={gameId} modId={mod.id} changes={changes ?? []} />
      {toBuild && toBuild.conflicts.length > 0 && (
        <Conflicts gameId={gameId} conflicts={toBuild.conflicts} mods={mods} />
      )}
      {toBuild && toBuild.together.length > 0 && <MergedFiles files={toBuild.together} mods={mods} />}
      {latest ? (
        <BuildReport build={latest}>
          {!latest.holds &&
            !latest.stale &&
            latest.report.archives.some(({ damaged = 0 }) => damaged > 0) && (
              <DamagedBefore onKeep={() => build.mutate(true)} />
            )}
          {isReady && (
            <InstallPlan gameId={gameId} plan={plan}>
              <GiveOut gameId={gameId} buildId={latest.id} />
            </InstallPlan>
          )}
        </BuildReport>
      ) : (
        <Typography sx={{ color: 'ink2', mt: 2 }}>
          Not built yet. A build is written beside the game, not into it, and proved before it can be
          installed.
        </Typography>
      )}
    </Screen>
  );
}

/** Damage that was there before is the user's to judge, and never carried on in silence. */
function DamagedBefore({ onKeep }: { onKeep: () => void }) {
  return (
    <Alert
      severity="warning"
      sx={{ my: 1 }}
      action={
        <Button color="inherit" size="small" onClick={onKeep}>
          Build and carry them on
        </Button>
      }
    >
      Entries that this mod does not touch were damaged before anything was changed. Get the archive anew,
      replace them, or carry them on as they are.
    </Alert>
  );
}

function WhatHappens({ archives, unfit }: { archives: readonly string[]; unfit: number }) {
  return (
    <>
      <Typography variant="h2" sx={{ mb: 1, mt: 3 }}>
        What a build does
      </Typography>
      <Typography sx={{ mb: 1 }}>
        Each changed archive is written anew beside the game. Untouched entries are copied as they are stored;
        every count, size, place and check that follows from a change is worked out anew by the format script.
      </Typography>
      {archives.map((archive) => (
        <Box
          key={archive}
          className="mono"
          sx={{ py: 0.5, borderBottom: 1, borderColor: 'line', overflowWrap: 'anywhere' }}
        >
          {archive}
        </Box>
      ))}
      {unfit > 0 && (
        <Typography sx={{ mt: 2, color: 'bad', fontWeight: 600 }}>
          {plural(unfit, 'change does', 'changes do')} not fit yet. Mend or take out on the Changes screen.
        </Typography>
      )}
      <Typography sx={{ mt: 2, color: 'ink2' }}>
        Only a build whose proof holds can be installed. Installing keeps every original first.
      </Typography>
    </>
  );
}
