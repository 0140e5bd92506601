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
import type { GameView } from '@/server/games/games';
import { api, ApiError } from '../api';
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
    ({ folder, title, isSure }: z.infer<typeof Form> & { isSure: boolean }) =>
      api.post<GameView>('games', { folder, title: title || lastStep(folder), isSure }),
    (game) => {
      reset();
      onClose();
      router.push(`/games/${game.id}/locks`);
    },
  );
  const { errors } = formState;
  // A folder that hardly is one game is asked about once.
  const asked = add.error instanceof ApiError && add.error.status === 428;
  const send = (isSure: boolean) =>
    handleSubmit((input) =>
      add.mutate(
        { ...input, isSure },
        { onError: (error) => setError('folder', { message: error.message }) },
      ),
    );
  return (
    <Dialog open={open} onClose={onClose} maxWidth="sm" fullWidth>
      <form onSubmit={send(false)}>
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
          {asked && (
            <Button color="warning" onClick={send(true)} loading={add.isPending}>
              Read all of it
            </Button>
          )}
          <Button type="submit" variant="contained" loading={add.isPending}>
            Add and scan
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
