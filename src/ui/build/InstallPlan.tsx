'use client';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import type { PlannedFile } from '@/server/installing/install';
import type { Questioned } from '@/server/installing/originals';
import { api } from '../api';
import { bytes } from '../format';
import { sheet } from '../kit/Screen';
import { useAction, type useInstallPlan } from '../queries';

/** All that installing a build would do, file by file, before anything is done. */
export function InstallPlan({
  gameId,
  plan: { data, error },
  children,
}: {
  gameId: number;
  plan: ReturnType<typeof useInstallPlan>;
  children: ReactNode;
}) {
  // What was true before is not shown beside what is wrong now.
  const plan = error ? undefined : data;
  return (
    <Box component="section" aria-label="What installing does" sx={{ mb: 3 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, mb: 1 }}>
        <Typography variant="h2" sx={{ flex: 1 }}>
          What installing does
        </Typography>
        {children}
      </Box>
      {error && <Alert severity="warning">{error.message}</Alert>}
      {!plan && !error && (
        <Box role="status" sx={{ color: 'ink2' }}>
          Working out what becomes of each file …
        </Box>
      )}
      {plan && plan.terms.trim() !== '' && (
        <Alert severity="info" icon={false} sx={{ mb: 1, whiteSpace: 'pre-wrap' }}>
          <Box component="span" sx={{ fontWeight: 600, display: 'block' }}>
            What the makers of the game say about changing it
          </Box>
          {plan.terms}
        </Alert>
      )}
      {plan?.questioned.map((one) => (
        <Doubt key={one.path} gameId={gameId} one={one} />
      ))}
      {plan && (
        <>
          <Box sx={sheet}>
            {plan.files.map((file) => (
              <FileRow key={file.path} file={file} />
            ))}
          </Box>
          <Box sx={{ color: 'ink2', fontSize: 13, mt: 0.75 }}>
            {plan.keeps > 0
              ? `${bytes(plan.keeps)} are kept first`
              : 'All that is overwritten is kept already'}
            ; {bytes(plan.needs)} are written beside the old files, checked, and then take their places.
          </Box>
        </>
      )}
    </Box>
  );
}

const sizeOf = (size: number | null): string => (size === null ? 'nothing' : bytes(size));

function FileRow({ file: { path, does, sizeBefore, sizeAfter, original } }: { file: PlannedFile }) {
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: 'minmax(0, 1.2fr) 150px 150px minmax(0, 1fr)',
        gap: 1.5,
        px: 1.5,
        py: 0.75,
        borderBottom: 1,
        borderColor: 'line',
        fontSize: 13,
      }}
    >
      <Box className="mono" title={path} sx={{ overflow: 'hidden', textOverflow: 'ellipsis' }}>
        {path}
      </Box>
      <Box sx={{ fontWeight: 600 }}>{does}</Box>
      <Box>
        {sizeOf(sizeBefore)} → {sizeOf(sizeAfter)}
      </Box>
      <Box sx={{ color: 'ink2' }}>
        {original && `original of ${bytes(original.size)} ${original.isKept ? 'is kept' : 'will be kept'}`}
      </Box>
    </Box>
  );
}

/** A file that may not be the game's own, and the choice what counts as its original. */
function Doubt({ gameId, one: { path, sha256, doubts, others } }: { gameId: number; one: Questioned }) {
  const choose = useAction((hash: string) => api.post(`games/${gameId}/originals`, { path, sha256: hash }));
  return (
    <Alert severity="warning" sx={{ mb: 1 }} role="group" aria-label={`Doubt about ${path}`}>
      <Box sx={{ fontWeight: 600 }}>Is {path} what the game came with?</Box>
      {doubts.map((doubt) => (
        <Box key={doubt}>{doubt}.</Box>
      ))}
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, mt: 1 }}>
        <Button size="small" variant="outlined" onClick={() => choose.mutate(sha256)}>
          Yes, keep it as the original
        </Button>
        {others.map((other) => (
          <Button
            key={other.sha256}
            size="small"
            variant="outlined"
            onClick={() => choose.mutate(other.sha256)}
          >
            The original is: {other.what}
          </Button>
        ))}
      </Box>
      {others.length > 0 && (
        <Box sx={{ mt: 0.5, fontSize: 12.5 }}>With another original the mod is built again on it.</Box>
      )}
    </Alert>
  );
}
