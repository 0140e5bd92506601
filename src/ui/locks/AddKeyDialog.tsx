'use client';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { enqueueSnackbar } from 'notistack';
import { useForm } from 'react-hook-form';
import { api } from '../api';
import { plural } from '../format';
import { useAction, useFindings, useGame } from '../queries';

/** Takes keys in any common spelling; each is tried on every locked archive at once. */
export function AddKeyDialog({
  gameId,
  open,
  onClose,
}: {
  gameId: number;
  open: boolean;
  onClose: () => void;
}) {
  const { data: game } = useGame(gameId);
  const { data: findings } = useFindings(gameId);
  const versions = [...new Set((findings?.versions ?? []).map(({ what }) => what))].slice(0, 6);
  const { register, handleSubmit, reset, formState, setError } = useForm({
    defaultValues: { text: '', label: '', tiedTo: '', version: '' },
  });
  const add = useAction(
    (input: { text: string; label: string; tiedTo: string; version: string }) =>
      api.post<{ added: number; known: number }>(`games/${gameId}/keys`, input),
    ({ added, known }) => {
      enqueueSnackbar(
        added > 0
          ? `${plural(added, 'key')} added; trying the archives`
          : `${plural(known, 'key is', 'keys are')} in the keyring already; trying again`,
      );
      reset();
      onClose();
    },
  );
  const noted = game?.notes ? `Your notes on the Folder screen may hold it.` : '';
  return (
    <Dialog open={open} onClose={onClose} maxWidth="sm" fullWidth>
      <form
        onSubmit={handleSubmit((input) =>
          add.mutate(input, { onError: (error) => setError('text', { message: error.message }) }),
        )}
      >
        <DialogTitle sx={{ fontSize: 17 }}>Add keys</DialogTitle>
        <DialogContent>
          <TextField
            autoFocus
            multiline
            minRows={4}
            fullWidth
            margin="dense"
            label="Key, or a text with keys in it"
            {...register('text', { validate: (value) => value.trim() !== '' || 'Paste a key.' })}
            slotProps={{ htmlInput: { className: 'mono', spellCheck: false } }}
            error={formState.errors.text !== undefined}
            helperText={
              formState.errors.text?.message ??
              `Hexadecimal with or without 0x and spaces, or base64; one a line, or as JSON. ${noted}`
            }
          />
          <TextField
            fullWidth
            margin="dense"
            label="Label"
            {...register('label', { maxLength: 120 })}
            helperText="Left empty, a number."
          />
          <TextField
            fullWidth
            margin="dense"
            label="Only for archives with this in their path"
            {...register('tiedTo', { maxLength: 500 })}
            helperText="Left empty, it is tried on all."
          />
          <TextField
            fullWidth
            margin="dense"
            label="Only for version"
            {...register('version', { maxLength: 120 })}
            slotProps={{ htmlInput: { list: 'told-versions' } }}
            helperText={
              versions.length > 0
                ? `Files here tell: ${versions.join(', ')}. Left empty, it is tried on every version.`
                : 'Left empty, it is tried on every version.'
            }
          />
          <datalist id="told-versions">
            {versions.map((version) => (
              <option key={version} value={version} />
            ))}
          </datalist>
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" loading={add.isPending}>
            Add and try
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
