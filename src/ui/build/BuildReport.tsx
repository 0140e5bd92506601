'use client';
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import type { ArchiveReport } from '@/server/building/build-files';
import type { BuildView } from '@/server/building/builds';
import { bytes, when } from '../format';
import { Facts } from '../kit/Facts';
import { StateMark } from '../kit/StateMark';
import { BuildBar } from './BuildBar';
import { WAY_WORDS } from './way-words';

/** The latest build: what is in it, what it is made of, and its proof. */
export function BuildReport({ build, children }: { build: BuildView; children?: ReactNode }) {
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
      <Box sx={{ color: 'ink2', mb: 1 }}>
        {build.mods.length > 1 && `${build.mods.map(({ title }) => title).join(', then ')}. `}
        {WAY_WORDS[build.way].title}.
      </Box>
      {children}
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
