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
import { api } from '../api';
import { useAction } from '../queries';

/** Finds names that no list has: by a pattern, by words, or by what other entries say. */
export function GuessNamesDialog({
  gameId,
  open,
  onClose,
}: {
  gameId: number;
  open: boolean;
  onClose: () => void;
}) {
  const [pattern, setPattern] = useState('');
  const done = (): void => {
    enqueueSnackbar('Trying; the result comes above the archives');
    onClose();
  };
  const attempt = useAction(() => api.post(`games/${gameId}/jobs`, { kind: 'try-names', pattern }), done);
  const learn = useAction(() => api.post(`games/${gameId}/jobs`, { kind: 'learn-names' }), done);
  return (
    <Dialog open={open} onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle sx={{ fontSize: 17 }}>Work out names</DialogTitle>
      <DialogContent>
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 2, mb: 2 }}>
          <Box sx={{ flex: 1 }}>
            <Box sx={{ fontWeight: 700 }}>From the contents</Box>
            <Box sx={{ color: 'ink2' }}>
              Scenes, tables and forms speak of other entries. Every string in them that looks like a path is
              tried.
            </Box>
          </Box>
          <Button variant="outlined" loading={learn.isPending} onClick={() => learn.mutate(undefined)}>
            Learn names
          </Button>
        </Box>
        <TextField
          multiline
          minRows={4}
          maxRows={12}
          fullWidth
          label="Patterns or words, one a line"
          placeholder="props/boat/boat{00..99}_hull.form"
          value={pattern}
          onChange={({ target }) => setPattern(target.value)}
          slotProps={{ htmlInput: { className: 'mono', spellCheck: false } }}
          helperText="{00..99} counts, {a..f} goes through letters, {odd,ibis} through words. A short hash needs a second witness before a name is taken; names found so are marked as guessed."
        />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button
          variant="contained"
          disabled={pattern.trim() === ''}
          loading={attempt.isPending}
          onClick={() => attempt.mutate(undefined)}
        >
          Try them
        </Button>
      </DialogActions>
    </Dialog>
  );
}
