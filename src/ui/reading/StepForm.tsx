'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { enqueueSnackbar } from 'notistack';
import { useState, type ReactNode } from 'react';
import type { CellFinding } from '@/media/table/core';
import type { CellAnswer } from '@/server/reading/edit-cell';
import { api } from '../api';
import { useAction } from '../queries';

/** Writes a step of a scene into a mod: what is found of it stays in sight until something else is said. */
export function useStepWrite(
  { gameId, modId }: { readonly gameId: number; readonly modId: number },
  done: string,
  onDone: () => void,
) {
  const [found, setFound] = useState<readonly CellFinding[]>([]);
  const write = useAction(
    (asked: object) => api.post<CellAnswer>(`games/${gameId}/mods/${modId}/steps`, asked),
    ({ findings, isWritten, fit }) => {
      setFound(findings);
      if (!isWritten) return;
      const isUnfit = fit === 'does not fit';
      enqueueSnackbar(isUnfit ? 'It is written, but the file does not fit; Changes says why.' : done, {
        variant: isUnfit ? 'warning' : 'success',
      });
      onDone();
    },
  );
  return { write, found, forget: () => setFound([]) };
}

interface Props {
  readonly found: readonly CellFinding[];
  readonly isDisabled: boolean;
  readonly isPending: boolean;
  /** What a press does. */
  readonly does?: string;
  readonly onWrite: () => void;
  readonly onDespite: () => void;
  readonly onClose: () => void;
  readonly children?: ReactNode;
}

/** What somebody says of a step, what is found of it, and whether it is written. */
export function StepForm({ found, isDisabled, isPending, does = 'Write it', ...on }: Props) {
  return (
    <Box
      component="form"
      onSubmit={(event) => {
        event.preventDefault();
        on.onWrite();
      }}
      onKeyDown={(event) => {
        if (event.key !== 'Escape' || event.defaultPrevented) return;
        event.stopPropagation();
        on.onClose();
      }}
      sx={{ display: 'flex', flexDirection: 'column', gap: 1, py: 1 }}
    >
      {on.children}
      <Box role="status" aria-label="What is found of it">
        {found.map(({ state, what, why }) => (
          <Box key={what} sx={{ fontSize: 12.5, color: state === 'wrong' ? 'bad' : 'look' }}>
            {what}. {why}.
          </Box>
        ))}
      </Box>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.5 }}>
        <Button type="submit" size="small" variant="contained" disabled={isDisabled} loading={isPending}>
          {does}
        </Button>
        {found.length > 0 && !found.some(({ isRefused }) => isRefused) && (
          <Button size="small" onClick={on.onDespite} disabled={isPending}>
            {does} all the same
          </Button>
        )}
        <Button size="small" onClick={on.onClose}>
          Leave it
        </Button>
      </Box>
    </Box>
  );
}
