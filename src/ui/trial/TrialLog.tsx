'use client';
import Box from '@mui/material/Box';
import Link from '@mui/material/Link';
import Typography from '@mui/material/Typography';
import { PageLink } from '../kit/PageLink';
import type { TrialReport } from '@/server/running/trials';
import { StateMark, type Tone } from '../kit/StateMark';
import { useChanges } from '../queries';
import { useMod } from '../use-mod';

type Line = TrialReport['log'][number];

const LINE_TONES: Record<Line['sort'], Tone> = {
  mounted: 'mute',
  took: 'good',
  stall: 'bad',
  note: 'look',
};

const told = ({ detail, from }: Line): string => `${detail}${from ? ` from ${from}` : ''}`;

/** What a run took from where; beside another run, what of it is different there. */
export function TrialLog({
  gameId,
  report,
  other,
}: {
  gameId: number;
  report: TrialReport;
  other: TrialReport | undefined;
}) {
  const { mod } = useMod(gameId);
  const { data: changes = [] } = useChanges(gameId, mod?.id);
  const before = new Map(other?.log.map((line) => [`${line.sort} ${line.what}`, line]));
  return (
    <Box component="section" aria-label="Log of the trial">
      <Typography variant="h2" sx={{ mb: 1 }}>
        What it took from where
      </Typography>
      {report.log.map((line, i) => {
        const then = before.get(`${line.sort} ${line.what}`);
        const isOther = other !== undefined && (!then || told(then) !== told(line));
        // Of what stalls, whoever changed it wants to see the change.
        const change =
          line.sort === 'stall'
            ? changes.find(({ path }) => path === line.what || line.what.endsWith(path))
            : undefined;
        return (
          <Box key={i} sx={{ py: 0.75, borderBottom: 1, borderColor: 'line' }}>
            <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
              <StateMark tone={LINE_TONES[line.sort]}>{line.sort}</StateMark>
              {isOther && <StateMark tone="look">{then ? 'differs' : 'only here'}</StateMark>}
              <Box sx={{ flex: 1, textAlign: 'right', color: 'ink2', fontSize: 12 }}>{line.at} ms</Box>
            </Box>
            <Box className="mono" sx={{ overflowWrap: 'anywhere' }}>
              {line.what}
            </Box>
            <Box
              sx={{ color: line.sort === 'stall' ? 'bad' : 'ink2', fontSize: 12.5, overflowWrap: 'anywhere' }}
            >
              {told(line)}
            </Box>
            {isOther && then && (
              <Box sx={{ color: 'ink2', fontSize: 12.5, overflowWrap: 'anywhere' }}>there: {told(then)}</Box>
            )}
            {change && (
              <Link
                component={PageLink}
                href={`/games/${gameId}/changes?change=${change.id}`}
                sx={{ fontSize: 13 }}
              >
                To the change of {change.path.slice(change.path.lastIndexOf('/') + 1)}
              </Link>
            )}
          </Box>
        );
      })}
    </Box>
  );
}
