'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { api } from '../api';
import { plural } from '../format';
import { sheet } from '../kit/Screen';
import { StateMark } from '../kit/StateMark';
import { useAction, useFindings } from '../queries';

/** What the files tell about the game, and what lies in it otherwise than it should. */
export function FolderNotes({ gameId, onScan }: { gameId: number; onScan: () => void }) {
  const { data } = useFindings(gameId);
  const use = useAction(async (folder: string) => {
    await api.patch(`games/${gameId}`, { folder });
    return api.post(`games/${gameId}/jobs`, { kind: 'scan' });
  });
  if (!data) return null;
  return (
    <>
      {data.changedSince.length > 0 && (
        <Box role="status" sx={{ ...sheet, p: 1.5, mt: 2, display: 'flex', alignItems: 'center', gap: 1.5 }}>
          <StateMark tone="look">changed</StateMark>
          <Box sx={{ flex: 1, overflowWrap: 'anywhere' }}>
            {plural(data.changedSince.length, 'file is', 'files are')} not as the last scan saw{' '}
            {data.changedSince.length === 1 ? 'it' : 'them'}: {data.changedSince.slice(0, 3).join(', ')}
            {data.changedSince.length > 3 && ' and more'}
          </Box>
          <Button variant="outlined" onClick={onScan}>
            Scan again
          </Button>
        </Box>
      )}
      {data.versions.length > 0 && (
        <Box component="section" aria-label="Version">
          <Typography variant="h2" sx={{ mt: 2.5, mb: 1 }}>
            Version
          </Typography>
          <Box sx={sheet}>
            {data.versions.map(({ what, file, byteOffset, how }) => (
              <Box
                key={`${what} ${file} ${byteOffset}`}
                sx={{
                  display: 'grid',
                  gridTemplateColumns: '130px minmax(0, 1fr)',
                  gap: 1.5,
                  px: 1.5,
                  py: 0.8,
                  borderBottom: 1,
                  borderColor: 'line',
                  '&:last-child': { borderBottom: 0 },
                }}
              >
                <Box sx={{ fontWeight: 700 }}>{what}</Box>
                <Box sx={{ overflowWrap: 'anywhere' }}>
                  <span className="mono">{file}</span>
                  <Box component="span" sx={{ color: 'ink2' }}>
                    {byteOffset > 0 ? ` at byte ${byteOffset.toLocaleString('en')}: ` : ': '}
                    {how}
                  </Box>
                </Box>
              </Box>
            ))}
          </Box>
        </Box>
      )}
      {data.notes.length > 0 && (
        <Box component="section" aria-label="To know">
          <Typography variant="h2" sx={{ mt: 2.5, mb: 1 }}>
            To know
          </Typography>
          <Box sx={sheet}>
            {data.notes.map(({ tone, what, why, next, folder }) => (
              <Box
                key={what}
                sx={{
                  display: 'flex',
                  alignItems: 'center',
                  gap: 1.5,
                  px: 1.5,
                  py: 1,
                  borderBottom: 1,
                  borderColor: 'line',
                  '&:last-child': { borderBottom: 0 },
                }}
              >
                <Box sx={{ flex: 1, minWidth: 0, overflowWrap: 'anywhere' }}>
                  <Box sx={{ fontWeight: 700 }}>{what}</Box>
                  <Box sx={{ color: 'ink2' }}>
                    {why}. {next}.
                  </Box>
                </Box>
                <StateMark tone={tone}>
                  {{ good: 'in order', look: 'to look at', bad: 'not in order' }[tone]}
                </StateMark>
                {folder && (
                  <Button variant="outlined" loading={use.isPending} onClick={() => use.mutate(folder)}>
                    Use {folder.split('/').pop()}
                  </Button>
                )}
              </Box>
            ))}
          </Box>
        </Box>
      )}
    </>
  );
}
