'use client';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { useForm } from 'react-hook-form';
import type { ModView } from '@/server/mods/mods';
import { api } from '../api';
import { useAction } from '../queries';
import { useMod } from '../use-mod';

/** Asks for a name and makes a mod, which then is the one worked on. */
export function NewModDialog({
  gameId,
  open,
  onClose,
  onMade,
}: {
  gameId: number;
  open: boolean;
  onClose: () => void;
  onMade?: (id: number) => void;
}) {
  const { choose } = useMod(gameId);
  const { register, handleSubmit, reset, formState } = useForm({ defaultValues: { title: '' } });
  const make = useAction(
    (title: string) => api.post<ModView>(`games/${gameId}/mods`, { title }),
    ({ id }) => {
      choose(id);
      reset();
      onClose();
      onMade?.(id);
    },
  );
  return (
    <Dialog open={open} onClose={onClose} maxWidth="xs" fullWidth>
      <form onSubmit={handleSubmit(({ title }) => make.mutate(title.trim()))}>
        <DialogTitle sx={{ fontSize: 17 }}>New mod</DialogTitle>
        <DialogContent>
          <TextField
            autoFocus
            fullWidth
            margin="dense"
            label="Name of the mod"
            {...register('title', {
              validate: (value) => value.trim() !== '' || 'Give it a name.',
              maxLength: 120,
            })}
            error={formState.errors.title !== undefined}
            helperText={formState.errors.title?.message ?? 'A mod gathers your changes until you build them.'}
          />
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" loading={make.isPending}>
            Make it
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
