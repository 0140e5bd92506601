'use client';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { api } from '../api';
import { rememberFolder, useOutputFolder } from '../default-folder';
import { JobLine } from '../frame/JobLine';
import { FolderField } from '../kit/FolderField';
import { useAction, useLast, useRunning } from '../queries';

/** The files of a build without the game: into a folder, or as a ZIP. */
export function GiveOut({ gameId, buildId }: { gameId: number; buildId: number }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button size="small" onClick={() => setOpen(true)}>
        Into a folder…
      </Button>
      <Button size="small" component="a" href={`/api/games/${gameId}/builds/${buildId}/zip`} download>
        As a ZIP
      </Button>
      {open && <FolderDialog gameId={gameId} buildId={buildId} onClose={() => setOpen(false)} />}
    </>
  );
}

function FolderDialog({
  gameId,
  buildId,
  onClose,
}: {
  gameId: number;
  buildId: number;
  onClose: () => void;
}) {
  const [folder, setFolder] = useOutputFolder(gameId);
  const [isAsked, setIsAsked] = useState(false);
  const running = useRunning(gameId, 'write-build');
  const last = useLast(gameId, 'write-build');
  const write = useAction(
    () => api.post(`games/${gameId}/jobs`, { kind: 'write-build', buildId, folder: folder.trim() }),
    () => {
      rememberFolder(gameId, folder.trim());
      setIsAsked(true);
    },
  );
  return (
    <Dialog
      open
      onClose={onClose}
      maxWidth="sm"
      fullWidth
      slotProps={{ paper: { 'aria-label': 'Build into a folder' } }}
    >
      <DialogTitle sx={{ fontSize: 17 }}>Build into a folder</DialogTitle>
      <DialogContent>
        <Typography sx={{ color: 'ink2' }}>
          The new archives under their paths in the game, and the signed summary of the build. The game is not
          touched.
        </Typography>
        <FolderField label="Folder" value={folder} onChange={setFolder} error={write.error?.message} />
        {running && <JobLine job={running} />}
        {!running && isAsked && last && <JobLine job={last} isTitled={last.state !== 'done'} />}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
        <Button
          variant="contained"
          disabled={folder.trim() === ''}
          loading={running !== undefined || write.isPending}
          onClick={() => write.mutate(undefined)}
        >
          Write
        </Button>
      </DialogActions>
    </Dialog>
  );
}
