'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { enqueueSnackbar } from 'notistack';
import { useState } from 'react';
import { useDropzone } from 'react-dropzone';
import { api } from '../api';
import { plural } from '../format';
import { useAction } from '../queries';

/** Takes a list of paths, pasted or as a text file, for archives that keep only hashes of names. */
export function LoadNamesDialog({
  gameId,
  open,
  onClose,
}: {
  gameId: number;
  open: boolean;
  onClose: () => void;
}) {
  const [text, setText] = useState('');
  const [title, setTitle] = useState('');
  const load = useAction(
    () => api.post<{ count: number }>(`games/${gameId}/names`, { title: title || 'pasted names', text }),
    ({ count }) => {
      enqueueSnackbar(`${plural(count, 'path')} loaded; naming the entries`);
      setText('');
      setTitle('');
      onClose();
    },
  );
  const drop = useDropzone({
    noClick: true,
    multiple: false,
    onDrop: ([file]) => {
      if (!file) return;
      void file.text().then(setText);
      setTitle(file.name);
    },
  });
  return (
    <Dialog open={open} onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle sx={{ fontSize: 17 }}>Add a name list</DialogTitle>
      <DialogContent>
        <Box
          {...drop.getRootProps()}
          sx={{ outline: drop.isDragActive ? '2px dashed' : 'none', outlineColor: 'brass', borderRadius: 1 }}
        >
          <input {...drop.getInputProps()} />
          <TextField
            multiline
            minRows={6}
            maxRows={14}
            fullWidth
            margin="dense"
            label="Paths, one a line"
            value={text}
            onChange={(event) => setText(event.target.value)}
            slotProps={{ htmlInput: { className: 'mono', spellCheck: false } }}
            helperText="Paste them, or drop a text file here. Lines that begin with # are left out."
          />
          <Button onClick={drop.open}>Choose a file…</Button>
        </Box>
        <TextField
          fullWidth
          margin="dense"
          label="Title of the list"
          value={title}
          onChange={(event) => setTitle(event.target.value)}
        />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button
          variant="contained"
          disabled={text.trim() === ''}
          loading={load.isPending}
          onClick={() => load.mutate(undefined)}
        >
          Load
        </Button>
      </DialogActions>
    </Dialog>
  );
}
