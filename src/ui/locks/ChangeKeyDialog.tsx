'use client';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { useForm } from 'react-hook-form';
import type { KeyView } from '@/server/opening/keyring';
import { api } from '../api';
import { useAction } from '../queries';

/** What a key is called and what it is tried on; the archives are tried again, and nothing else begins anew. */
export function ChangeKeyDialog({
  gameId,
  of,
  onClose,
}: {
  readonly gameId: number;
  readonly of: KeyView;
  readonly onClose: () => void;
}) {
  const { register, handleSubmit, formState } = useForm({
    defaultValues: { label: of.label, version: of.version, tiedTo: of.tiedTo },
  });
  const change = useAction(
    (input: { label: string; version: string; tiedTo: string }) =>
      api.patch(`games/${gameId}/keys/${of.id}`, input),
    onClose,
  );
  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth aria-labelledby="change-key">
      <form onSubmit={(event) => void handleSubmit((input) => change.mutate(input))(event)}>
        <DialogTitle id="change-key">Change {of.label}</DialogTitle>
        <DialogContent sx={{ display: 'flex', flexDirection: 'column', gap: 2, pt: '8px !important' }}>
          <TextField
            autoFocus
            label="Called"
            error={formState.errors.label !== undefined}
            {...register('label', { required: true, maxLength: 120 })}
          />
          <TextField
            label="Only for version"
            helperText="Left empty, it is tried on every version."
            {...register('version', { maxLength: 120 })}
          />
          <TextField
            label="Only for archives with this in their path"
            helperText="Left empty, it is tried on all."
            {...register('tiedTo', { maxLength: 500 })}
          />
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" loading={change.isPending}>
            Change and try
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
