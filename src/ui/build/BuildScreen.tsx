'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import NextLink from 'next/link';
import type { ArchiveReport } from '@/server/build-files';
import type { BuildView } from '@/server/builds';
import { api } from '../api';
import { bytes, plural, when } from '../format';
import { FIT_TONES } from '../changes/fit-tones';
import { JobLine } from '../frame/JobLine';
import { Blank, Loading } from '../kit/Blank';
import { Facts } from '../kit/Facts';
import { Screen, sheet } from '../kit/Screen';
import { StateMark } from '../kit/StateMark';
import { useAction, useBuilds, useChanges, useLast, useRunning } from '../queries';
import { useMod } from '../use-mod';
import { BuildBar } from './BuildBar';

/** What will be written and why, and the proof of what was. */
export function BuildScreen({ gameId }: { gameId: number }) {
  const { mod, loaded } = useMod(gameId);
  const { data: changes } = useChanges(gameId, mod?.id);
  const { data: builds } = useBuilds(gameId, mod?.id);
  const running = useRunning(gameId, 'build');
  const last = useLast(gameId, 'build');
  const installing = useRunning(gameId, 'install');
  const build = useAction(() => api.post(`games/${gameId}/jobs`, { kind: 'build', modId: mod!.id }));
  const install = useAction((buildId: number) =>
    api.post(`games/${gameId}/jobs`, { kind: 'install', buildId }),
  );
  if (!loaded) return <Loading what="Looking at the mod" />;
  if (!mod || changes?.length === 0)
    return (
      <Blank
        title="Nothing to build"
        action={
          <Button component={NextLink} href={`/games/${gameId}/contents`} variant="contained">
            To the contents
          </Button>
        }
      >
        {mod ? `${mod.title} has no changes yet.` : 'There is no mod yet.'} Replace an entry first.
      </Blank>
    );
  const unfit = changes?.filter(({ fit }) => fit === 'does not fit') ?? [];
  const archives = [...new Set((changes ?? []).map(({ archive }) => archive))];
  const [latest] = builds ?? [];
  return (
    <Screen
      title={mod.title}
      fact={`${plural(changes?.length ?? 0, 'change')} in ${plural(archives.length, 'archive')}`}
      actions={
        <>
          <Button
            variant={latest && !latest.stale ? 'outlined' : 'contained'}
            disabled={unfit.length > 0}
            loading={running !== undefined || build.isPending}
            onClick={() => build.mutate(undefined)}
          >
            {latest ? 'Build again' : 'Build'}
          </Button>
          {latest && (
            <Button
              variant="contained"
              disabled={!latest.holds || latest.stale}
              loading={installing !== undefined}
              onClick={() => install.mutate(latest.id)}
            >
              Install
            </Button>
          )}
        </>
      }
      side={<WhatHappens archives={archives} unfit={unfit.length} />}
    >
      {running && <JobLine job={running} />}
      {installing && <JobLine job={installing} />}
      {!running && last?.state === 'failed' && <JobLine job={last} />}
      <ChangeRows changes={changes ?? []} />
      {latest ? (
        <Report build={latest} />
      ) : (
        <Typography sx={{ color: 'ink2', mt: 2 }}>
          Not built yet. A build is written beside the game, not into it, and proved before it can be
          installed.
        </Typography>
      )}
    </Screen>
  );
}

function ChangeRows({
  changes,
}: {
  changes: readonly {
    id: number;
    path: string;
    fit: keyof typeof FIT_TONES;
    findings: readonly { what: string }[];
    originalSize: number;
    preparedSize: number | null;
  }[];
}) {
  return (
    <Box sx={{ ...sheet, mt: 1 }}>
      {changes.map((change) => (
        <Box
          key={change.id}
          sx={{
            display: 'grid',
            gridTemplateColumns: 'minmax(0, 1.3fr) 118px minmax(0, 1fr) 132px',
            gap: 1.5,
            px: 1.5,
            py: 0.9,
            borderBottom: 1,
            borderColor: 'line',
            alignItems: 'center',
          }}
        >
          <Box
            className="mono"
            title={change.path}
            sx={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
          >
            {change.path}
          </Box>
          <StateMark tone={FIT_TONES[change.fit]}>{change.fit}</StateMark>
          <Box
            sx={{
              fontSize: 13,
              color: 'ink2',
              overflow: 'hidden',
              textOverflow: 'ellipsis',
              whiteSpace: 'nowrap',
            }}
          >
            {change.findings[0]?.what}
          </Box>
          <Box sx={{ fontSize: 13, textAlign: 'right' }}>
            {bytes(change.originalSize)} → {change.preparedSize === null ? '?' : bytes(change.preparedSize)}
          </Box>
        </Box>
      ))}
    </Box>
  );
}

function WhatHappens({ archives, unfit }: { archives: readonly string[]; unfit: number }) {
  return (
    <>
      <Typography variant="h2" sx={{ mb: 1 }}>
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

function Report({ build }: { build: BuildView }) {
  return (
    <Box component="section" aria-label="Build report">
      <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'center', mt: 3, mb: 1 }}>
        <Typography variant="h2">Built {when(build.createdAt)}</Typography>
        {build.holds ? (
          <StateMark tone="good">the proof holds</StateMark>
        ) : (
          <StateMark tone="bad">the proof fails</StateMark>
        )}
        {build.stale && <StateMark tone="look">older than the changes</StateMark>}
      </Box>
      {build.report.archives.map((archive) => (
        <ArchiveProof key={archive.archive} report={archive} />
      ))}
    </Box>
  );
}

function ArchiveProof({ report }: { report: ArchiveReport }) {
  return (
    <Box sx={{ mb: 3 }}>
      <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 1.5, mb: 0.75 }}>
        <Box className="mono" sx={{ fontWeight: 700 }}>
          {report.archive}
        </Box>
        <Box sx={{ color: 'ink2', fontSize: 13 }}>
          {bytes(report.sizeBefore)} → {bytes(report.sizeAfter)}
        </Box>
      </Box>
      <BuildBar report={report} />
      {report.proof.claims.map(({ claim, holds, detail }) => (
        <Box
          key={claim}
          sx={{
            display: 'grid',
            gridTemplateColumns: '84px 300px 1fr',
            gap: 1.5,
            py: 0.9,
            borderBottom: 1,
            borderColor: 'line',
            alignItems: 'center',
          }}
        >
          <StateMark tone={holds ? 'good' : 'bad'}>{holds ? 'holds' : 'fails'}</StateMark>
          <Box sx={{ fontWeight: 600 }}>{claim}</Box>
          <Box sx={{ color: 'ink2', fontSize: 13, overflowWrap: 'anywhere' }}>{detail}</Box>
        </Box>
      ))}
      <Facts rows={[['SHA-256', <code key="hash">{report.sha256}</code>]]} />
    </Box>
  );
}
