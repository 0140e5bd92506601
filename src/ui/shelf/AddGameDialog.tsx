'use client';
import { zodResolver } from '@hookform/resolvers/zod';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { useRouter } from 'next/navigation';
import { Controller, useForm } from 'react-hook-form';
import { z } from 'zod';
import type { GameView } from '@/server/games';
import { api } from '../api';
import { FolderField } from '../kit/FolderField';
import { useAction } from '../queries';

const Form = z.object({
  folder: z.string().trim().min(1, 'Give the path of the folder.'),
  title: z.string().trim().max(120),
});

const lastStep = (folder: string): string =>
  folder
    .replace(/[\\/]+$/, '')
    .split(/[\\/]/)
    .pop() ?? 'Game';

/** Asks for a folder and registers it; the scan starts at once. */
export function AddGameDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  const router = useRouter();
  const { register, control, handleSubmit, formState, setError, reset } = useForm({
    resolver: zodResolver(Form),
    defaultValues: { folder: '', title: '' },
  });
  const add = useAction(
    (input: z.infer<typeof Form>) =>
      api.post<GameView>('games', { folder: input.folder, title: input.title || lastStep(input.folder) }),
    (game) => {
      reset();
      onClose();
      router.push(`/games/${game.id}/locks`);
    },
  );
  const { errors } = formState;
  return (
    <Dialog open={open} onClose={onClose} maxWidth="sm" fullWidth>
      <form
        onSubmit={handleSubmit((input) =>
          add.mutate(input, { onError: (error) => setError('folder', { message: error.message }) }),
        )}
      >
        <DialogTitle sx={{ fontSize: 17 }}>Add a game folder</DialogTitle>
        <DialogContent>
          <Controller
            name="folder"
            control={control}
            render={({ field }) => (
              <FolderField
                autoFocus
                label="Folder of the game, on this machine"
                value={field.value}
                onChange={field.onChange}
                error={errors.folder?.message}
                help="The whole path. It is only read until you install a mod."
              />
            )}
          />
          <TextField
            fullWidth
            margin="dense"
            label="Name"
            {...register('title')}
            error={errors.title !== undefined}
            helperText={errors.title?.message ?? 'Left empty, the name of the folder.'}
          />
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" loading={add.isPending}>
            Add and scan
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
