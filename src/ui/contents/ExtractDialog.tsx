'use client';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import FormControlLabel from '@mui/material/FormControlLabel';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { enqueueSnackbar } from 'notistack';
import { useState } from 'react';
import { api } from '../api';
import { rememberFolder, useOutputFolder } from '../default-folder';
import { bytes, plural } from '../format';
import { useAction } from '../queries';

export interface ExtractItem {
  archiveId: number;
  index: number;
  path: string;
  kind: string;
  size: number;
}

/** Where picked entries go: a ZIP to download, or a folder on this machine. */
export function ExtractDialog({
  gameId,
  items,
  onClose,
}: {
  gameId: number;
  items: readonly ExtractItem[];
  onClose: () => void;
}) {
  const [folder, setFolder] = useOutputFolder(gameId);
  const [asPng, setAsPng] = useState(true);
  const entries = items.map(({ archiveId, index }) => ({ archiveId, index }));
  const pictures = items.filter(({ kind }) => kind === 'picture').length;
  const zip = useAction(
    () => api.post<{ ticket: string }>(`games/${gameId}/picks`, { entries, asPng: asPng && pictures > 0 }),
    ({ ticket }) => {
      const link = document.createElement('a');
      link.href = `/api/downloads/${ticket}`;
      link.click();
      onClose();
    },
  );
  const write = useAction(
    () => api.post(`games/${gameId}/jobs`, { kind: 'extract', entries, folder }),
    () => {
      rememberFolder(gameId, folder);
      enqueueSnackbar(
        `Extracting ${plural(items.length, 'entry', 'entries')} to ${folder}; see the jobs at the top.`,
      );
      onClose();
    },
  );
  return (
    <Dialog open={items.length > 0} onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle sx={{ fontSize: 17 }}>
        Extract {plural(items.length, 'entry', 'entries')},{' '}
        {bytes(items.reduce((sum, { size }) => sum + size, 0))}
      </DialogTitle>
      <DialogContent>
        <Typography variant="h2" sx={{ mb: 0.5 }}>
          As a ZIP
        </Typography>
        {pictures > 0 && (
          <FormControlLabel
            control={<Checkbox checked={asPng} onChange={(event) => setAsPng(event.target.checked)} />}
            label={`${plural(pictures, 'picture')} as PNG, to edit in any program`}
          />
        )}
        <Button variant="contained" fullWidth loading={zip.isPending} onClick={() => zip.mutate(undefined)}>
          Download the ZIP
        </Button>
        <Typography variant="h2" sx={{ mt: 3, mb: 0.5 }}>
          Into a folder, bytes as the game has them
        </Typography>
        <TextField
          fullWidth
          margin="dense"
          label="Folder on this machine"
          value={folder}
          onChange={(event) => setFolder(event.target.value)}
          error={write.isError}
          helperText={
            write.error?.message ??
            'The whole path; folders of the entries are kept. A game folder is refused.'
          }
        />
        <Button
          variant="outlined"
          fullWidth
          disabled={folder.trim() === ''}
          loading={write.isPending}
          onClick={() => write.mutate(undefined)}
        >
          Write to the folder
        </Button>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
      </DialogActions>
    </Dialog>
  );
}
