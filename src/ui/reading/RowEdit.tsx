'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import type { RowAnswer } from '@/server/reading/edit-rows';
import type { RowView } from '@/server/reading/row-view';
import { api } from '../api';
import { useAction } from '../queries';

interface Props {
  readonly gameId: number;
  readonly modId: number;
  readonly data: RowView;
  readonly onGo: (table: string, row: number) => void;
}

/** A row more like this one, or this one taken out; each is a step of the mod. */
export function RowEdit({ gameId, modId, data, onGo }: Props) {
  const { table, row, title, freeKey } = data;
  const [key, setKey] = useState<string>();
  const [why, setWhy] = useState<string>();
  const change = useAction(
    (asked: { does: 'copy' | 'remove'; key?: string; isDespite?: boolean }) =>
      api.post<RowAnswer>(`games/${gameId}/mods/${modId}/rows`, { table, row, title, ...asked }),
    ({ finding, row: next }) => {
      setWhy(finding ?? undefined);
      if (next === null) return;
      setKey(undefined);
      onGo(table, next);
    },
  );
  const copy = (): void =>
    change.mutate({ does: 'copy', ...(freeKey !== null && key !== undefined && { key }) });
  return (
    <>
      <Button
        size="small"
        loading={change.isPending}
        onClick={() => (freeKey === null ? change.mutate({ does: 'copy' }) : setKey(freeKey))}
      >
        Add a row like it
      </Button>
      <Button size="small" disabled={change.isPending} onClick={() => change.mutate({ does: 'remove' })}>
        Remove the row
      </Button>
      <Dialog open={key !== undefined} onClose={() => setKey(undefined)} aria-labelledby="row-like">
        <form
          onSubmit={(event) => {
            event.preventDefault();
            copy();
          }}
        >
          <DialogTitle id="row-like">A row like {title}</DialogTitle>
          <DialogContent sx={{ pt: '8px !important' }}>
            <TextField
              autoFocus
              label="What it is called by"
              value={key ?? ''}
              onChange={({ target }) => setKey(target.value)}
              helperText="Others name it by this. All else is as in the row that it is like, and can be changed then."
            />
          </DialogContent>
          <DialogActions>
            <Button onClick={() => setKey(undefined)}>Cancel</Button>
            <Button type="submit" variant="contained" loading={change.isPending}>
              Add it
            </Button>
          </DialogActions>
        </form>
      </Dialog>
      <Dialog open={why !== undefined} onClose={() => setWhy(undefined)} aria-labelledby="row-removed">
        <DialogTitle id="row-removed">Remove {title}?</DialogTitle>
        <DialogContent>
          <Box>{why}.</Box>
        </DialogContent>
        <DialogActions>
          <Button onClick={() => setWhy(undefined)}>Keep it</Button>
          <Button
            variant="contained"
            loading={change.isPending}
            onClick={() => change.mutate({ does: 'remove', isDespite: true })}
          >
            Remove it all the same
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
