'use client';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { WorkNote } from '@/server/mods/work-folder';
import { api } from '../api';
import { useOutputFolder } from '../default-folder';
import { FolderField } from '../kit/FolderField';
import { useAction } from '../queries';

const ASK_MS = 2000;

/** The folder whose files become changes by themselves once the editor saves them. */
export function WorkFolder({
  gameId,
  mod,
}: {
  gameId: number;
  mod: { id: number; workFolder: string | null };
}) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button variant="outlined" onClick={() => setOpen(true)}>
        {mod.workFolder === null ? 'Work folder' : 'Watching a folder'}
      </Button>
      {open && <FolderDialog gameId={gameId} mod={mod} onClose={() => setOpen(false)} />}
    </>
  );
}

function FolderDialog({
  gameId,
  mod,
  onClose,
}: {
  gameId: number;
  mod: { id: number; workFolder: string | null };
  onClose: () => void;
}) {
  const url = `games/${gameId}/mods/${mod.id}/work-folder`;
  const [usual] = useOutputFolder(gameId);
  const [written, setWritten] = useState<string>();
  const folder = written ?? mod.workFolder ?? usual;
  const save = useAction((next: string | null) => api.post(url, { folder: next }), onClose);
  const { data: notes } = useQuery({
    queryKey: ['work-folder', url],
    queryFn: () => api.get<WorkNote[]>(url),
    enabled: mod.workFolder !== null,
    refetchInterval: ASK_MS,
  });
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle sx={{ fontSize: 17 }}>Work folder</DialogTitle>
      <DialogContent>
        <Typography sx={{ mb: 1.5 }}>
          Extract what you want to edit into this folder. Whatever your editor saves there becomes a change by
          itself; files that are as they were extracted are left alone.
        </Typography>
        <FolderField
          label="Folder on this machine"
          value={folder}
          onChange={setWritten}
          error={save.error?.message}
        />
        {notes?.map(({ file, problem }) => (
          <Alert key={file} severity="warning" sx={{ mt: 1 }}>
            {file}: {problem}
          </Alert>
        ))}
      </DialogContent>
      <DialogActions>
        {mod.workFolder !== null && (
          <Button sx={{ color: 'bad' }} onClick={() => save.mutate(null)}>
            Stop watching
          </Button>
        )}
        <Button onClick={onClose}>Cancel</Button>
        <Button
          variant="contained"
          disabled={folder.trim() === ''}
          loading={save.isPending}
          onClick={() => save.mutate(folder)}
        >
          Watch it
        </Button>
      </DialogActions>
    </Dialog>
  );
}
