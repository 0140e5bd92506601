'use client';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { closeSnackbar, enqueueSnackbar } from 'notistack';
import { useState } from 'react';
import type { PutLines } from '@/server/desk/put-lines';
import { api, ApiError } from '../api';
import { plural } from '../format';
import { useAction } from '../queries';

/** Lines that fail a check stop it with this. */
const FAILING = 409;

/** Puts the lines into the mod; where some fail a check, it is asked first. */
export function usePut(path: string, onChanges: () => void) {
  const [refused, setRefused] = useState<string>();
  const action = useAction(
    async (isDespite: boolean): Promise<PutLines | string> => {
      try {
        return await api.post<PutLines>(`${path}/put`, { isDespite });
      } catch (error) {
        if (error instanceof ApiError && error.status === FAILING && !isDespite) return error.message;
        throw error;
      }
    },
    (done) => (typeof done === 'string' ? setRefused(done) : tellPut(done, onChanges)),
  );
  return {
    refused,
    isPutting: action.isPending,
    forget: () => setRefused(undefined),
    put(isDespite: boolean) {
      setRefused(undefined);
      action.mutate(isDespite);
    },
  };
}

export function PutDespite({ why, onClose, onPut }: { why: string; onClose: () => void; onPut: () => void }) {
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>Some lines would not be shown as they are meant</DialogTitle>
      <DialogContent sx={{ overflowWrap: 'anywhere' }}>{why}</DialogContent>
      <DialogActions>
        <Button onClick={onPut}>Put them in all the same</Button>
        <Button variant="contained" onClick={onClose}>
          Mend them first
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function tellPut({ changed, added, lines, takenOut, skipped }: PutLines, onChanges: () => void): void {
  const parts = [
    changed.length > 0 ? `${plural(changed.length, 'table')} changed` : '',
    added.length > 0 ? `${plural(added.length, 'table')} added` : '',
    takenOut.length > 0 ? `${plural(takenOut.length, 'change')} taken out, of which nothing is left` : '',
  ].filter((part) => part !== '');
  enqueueSnackbar(
    parts.length === 0
      ? 'No line has another text than the game; the mod is as it was.'
      : `${plural(lines, 'line')} put into the mod: ${parts.join(', ')}.`,
    {
      variant: parts.length === 0 ? 'info' : 'success',
      autoHideDuration: 10_000,
      action: (id) => (
        <Button
          color="inherit"
          onClick={() => {
            closeSnackbar(id);
            onChanges();
          }}
        >
          To the changes
        </Button>
      ),
    },
  );
  for (const { path, why } of skipped.slice(0, 3))
    enqueueSnackbar(`${path} was left: ${why}`, { variant: 'warning', autoHideDuration: 20_000 });
}
