'use client';
import MoreVertRounded from '@mui/icons-material/MoreVertRounded';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Tooltip from '@mui/material/Tooltip';
import { closeSnackbar, enqueueSnackbar } from 'notistack';
import { useState } from 'react';
import type { EntryDetail } from '@/server/looking/preview';
import { api } from '../api';
import { nameOf } from '../format';
import { NewModDialog } from '../frame/NewModDialog';
import { useAction } from '../queries';
import { useMod } from '../use-mod';
import { AddEntryDialog } from './AddEntryDialog';

/** What changes the archive of an entry rather than the entry: one added beside it, or this one taken out. */
export function EntryMore({ gameId, data }: { gameId: number; data: EntryDetail }) {
  const { mod } = useMod(gameId);
  const [at, setAt] = useState<HTMLElement | null>(null);
  const [adding, setAdding] = useState(false);
  const [asked, setAsked] = useState<'add' | 'remove'>();
  const { archiveId, index, path, archive } = data;
  const undo = useAction((modId: number) =>
    api.post(`games/${gameId}/mods/${modId}/history`, { direction: 'undo' }),
  );
  const remove = useAction(
    (modId: number) => api.post(`games/${gameId}/mods/${modId}/removed`, { archiveId, index }),
    (_done, modId) =>
      enqueueSnackbar(`${nameOf(path)} will be taken out of ${archive}.`, {
        variant: 'success',
        action: (key) => (
          <Button
            sx={{ color: 'inherit' }}
            onClick={() => {
              closeSnackbar(key);
              undo.mutate(modId);
            }}
          >
            Undo
          </Button>
        ),
      }),
  );
  const begin = (what: 'add' | 'remove', modId = mod?.id): void => {
    setAt(null);
    if (modId === undefined) return setAsked(what);
    if (what === 'add') setAdding(true);
    else remove.mutate(modId);
  };
  return (
    <>
      <Tooltip title="More">
        <IconButton aria-label="More" onClick={(event) => setAt(event.currentTarget)} sx={{ ml: 'auto' }}>
          <MoreVertRounded fontSize="small" />
        </IconButton>
      </Tooltip>
      <Menu anchorEl={at} open={at !== null} onClose={() => setAt(null)}>
        <MenuItem onClick={() => begin('add')}>Add an entry to its folder</MenuItem>
        <MenuItem onClick={() => begin('remove')}>Take it out of the archive</MenuItem>
      </Menu>
      {adding && mod && (
        <AddEntryDialog
          gameId={gameId}
          modId={mod.id}
          archiveId={archiveId}
          archive={archive}
          beside={path}
          onClose={() => setAdding(false)}
        />
      )}
      <NewModDialog
        gameId={gameId}
        open={asked !== undefined}
        onClose={() => setAsked(undefined)}
        onMade={(id) => asked && begin(asked, id)}
      />
    </>
  );
}
