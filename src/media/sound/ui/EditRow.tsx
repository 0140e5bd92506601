'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { enqueueSnackbar } from 'notistack';
import { useState } from 'react';
import type { SoundEdit } from '@/media/sound/core/edit';
import { api } from '@/ui/api';
import { nameOf } from '@/ui/format';
import { useAction } from '@/ui/queries';
import { useMod } from '@/ui/use-mod';
import { ToBoard } from './desk/ToBoard';
import { useBoards } from './desk/use-boards';
import type { Stretch } from './use-wave';

/** A sound that can be edited: which entry it is. */
export interface Editable {
  readonly gameId: number;
  readonly archiveId: number;
  readonly index: number;
  /** Path of the archive, and its own. */
  readonly archive: string;
  readonly path: string;
}

/** By so much a press makes it louder or softer, in dB. */
const STEP_DB = 3;
/** What speech in games is often near, in dB below full scale. */
const USUAL_DB = -16;
/** A fade at an end takes so long, where nothing is marked. */
const FADE_SECONDS = 0.25;

/** Edits of what is marked, or of all: each is a step of the mod that can be undone. */
export function EditRow({
  entry: { gameId, archiveId, index, archive, path },
  chosen,
  length,
}: {
  entry: Editable;
  chosen: Stretch | undefined;
  length: number | undefined;
}) {
  const { mod } = useMod(gameId);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const told = (what: string, fit: string): void =>
    void enqueueSnackbar(
      `${nameOf(path)} ${what}; ${fit === 'fits' ? 'it fits' : 'see Changes for what is pointed out'}.`,
      { variant: fit === 'fits' ? 'success' : 'warning' },
    );
  const edit = useAction(
    (edits: readonly SoundEdit[]) =>
      api.post<{ fit: string }>(`games/${gameId}/mods/${mod!.id}/edit`, { archive: archiveId, index, edits }),
    ({ fit }) => told('edited', fit),
  );
  const { data: boards = [] } = useBoards();
  const strips = boards.filter(({ sort, count }) => sort === 'strip' && count > 0);
  const give = useAction(
    (board: number) =>
      api.post<{ fit: string }>(`games/${gameId}/mods/${mod!.id}/strip`, {
        archive: archiveId,
        index,
        board,
      }),
    ({ fit }) => told('replaced', fit),
  );
  const act = (...edits: SoundEdit[]): void => {
    setAnchor(null);
    edit.mutate(edits);
  };
  const ends = {
    first: { from: 0, to: Math.min(FADE_SECONDS, length ?? 0) },
    last: { from: Math.max(0, (length ?? 0) - FADE_SECONDS) },
  };
  const where = chosen ?? {};
  const clip = { game: gameId, archive, path, ...where };
  const about = mod ? undefined : 'Make a mod first; it gathers the changes.';
  const press = {
    size: 'small',
    disabled: !mod || edit.isPending || give.isPending || length === undefined,
    title: about,
  } as const;
  return (
    <Box role="group" aria-label="Edits" sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 0.5 }}>
      {chosen && (
        <>
          <Button {...press} onClick={() => act({ sort: 'keep', ...chosen })}>
            Keep only this
          </Button>
          <Button {...press} onClick={() => act({ sort: 'cut', ...chosen })}>
            Take it out
          </Button>
          <Button {...press} onClick={() => act({ sort: 'silence', ...chosen })}>
            Silence it
          </Button>
        </>
      )}
      <Button {...press} onClick={({ currentTarget }) => setAnchor(currentTarget)}>
        {chosen ? 'More of this…' : 'Edit…'}
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        <MenuItem onClick={() => act({ sort: 'fade in', ...(chosen ?? ends.first) })}>Fade in</MenuItem>
        <MenuItem onClick={() => act({ sort: 'fade out', ...(chosen ?? ends.last) })}>Fade out</MenuItem>
        <MenuItem onClick={() => act({ sort: 'gain', db: STEP_DB, ...where })}>{STEP_DB} dB louder</MenuItem>
        <MenuItem onClick={() => act({ sort: 'gain', db: -STEP_DB, ...where })}>{STEP_DB} dB softer</MenuItem>
        {!chosen && (
          <MenuItem onClick={() => act({ sort: 'level', db: USUAL_DB })}>As loud as {USUAL_DB} dB</MenuItem>
        )}
        <MenuItem onClick={() => act({ sort: 'reverse', ...where })}>Backwards</MenuItem>
        <MenuItem onClick={() => act({ sort: 'pause', at: chosen?.from ?? 0, seconds: 0.5 })}>
          Half a second of silence before {chosen ? 'it' : 'all'}
        </MenuItem>
        {strips.map(({ id, title }) => (
          <MenuItem
            key={id}
            onClick={() => {
              setAnchor(null);
              give.mutate(id);
            }}
          >
            {title} in its place
          </MenuItem>
        ))}
      </Menu>
      <ToBoard sort="strip" clips={[clip]} />
      <ToBoard sort="pad" clips={[clip]} />
    </Box>
  );
}
