'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { enqueueSnackbar } from 'notistack';
import { useState } from 'react';
import type { CellFinding } from '@/media/table/core';
import { fieldPath } from '@/media/table/core/data-table';
import type { CellAnswer } from '@/server/reading/edit-cell';
import type { ValueView } from '@/server/reading/row-view';
import { api } from '../api';
import { useAction } from '../queries';
import { TargetChoice } from './TargetChoice';

/** A cell of a table. */
export interface CellAt {
  readonly table: string;
  readonly row: number;
  readonly column: string;
}

interface Props {
  readonly gameId: number;
  readonly modId: number;
  readonly value: ValueView;
  readonly at: CellAt;
  readonly onClose: () => void;
}

/** Gives a value another one, as a change of the mod: what is found of it stands below while it is written. */
export function ValueEdit({
  gameId,
  modId,
  value: { name, text: was, means, hasNames, place },
  at,
  onClose,
}: Props) {
  const [text, setText] = useState(was);
  const asked = { ...at, within: place, was, text };
  const field = fieldPath(at.column, place);
  /** Whether it is one of several that are called something. */
  const isChosen = means !== null || hasNames;
  const { data: found = [] } = useQuery({
    queryKey: ['cell-check', gameId, modId, asked],
    enabled: text !== was,
    queryFn: () => api.post<CellFinding[]>(`games/${gameId}/mods/${modId}/cells/check`, asked),
    placeholderData: keepPreviousData,
  });
  const findings = text === was ? [] : found;
  const isWrong = findings.some(({ state }) => state === 'wrong');
  const write = useAction(
    (isDespite: boolean) =>
      api.post<CellAnswer>(`games/${gameId}/mods/${modId}/cells`, { ...asked, isDespite }),
    ({ isWritten, fit }) => {
      if (!isWritten) return;
      enqueueSnackbar(
        fit === 'does not fit'
          ? `${name} is written, but the file does not fit; Changes says why.`
          : `${name} is changed in the mod.`,
        { variant: fit === 'does not fit' ? 'warning' : 'success' },
      );
      onClose();
    },
  );
  const enter = (): void => {
    if (text === was) onClose();
    else if (!isWrong && !write.isPending) write.mutate(false);
  };
  return (
    <Box
      onKeyDown={(event) => {
        if (event.key !== 'Escape' || event.defaultPrevented) return;
        event.stopPropagation();
        onClose();
      }}
    >
      {!isChosen ? (
        <TextField
          autoFocus
          fullWidth
          size="small"
          multiline={was.length > 60}
          value={text}
          onChange={({ target }) => setText(target.value)}
          onKeyDown={(event) => {
            if (event.key !== 'Enter' || event.shiftKey) return;
            event.preventDefault();
            enter();
          }}
          slotProps={{ htmlInput: { 'aria-label': `New value of ${name}` } }}
        />
      ) : (
        <TargetChoice
          {...{ gameId, field, text, was }}
          table={at.table}
          isMeant
          opensOnFocus
          onText={setText}
          renderInput={(props) => (
            <TextField
              {...props}
              autoFocus
              size="small"
              slotProps={{
                ...props.slotProps,
                htmlInput: { ...props.slotProps.htmlInput, 'aria-label': `New value of ${name}` },
              }}
            />
          )}
        />
      )}
      <Box role="status" aria-label="What is found of it">
        {findings.map(({ state, what, why }) => (
          <Box key={what} sx={{ fontSize: 12.5, mt: 0.5, color: state === 'wrong' ? 'bad' : 'ink2' }}>
            {what}. {why}.
          </Box>
        ))}
      </Box>
      <Box
        sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.5, mt: 0.5, '& button': { whiteSpace: 'nowrap' } }}
      >
        <Button
          size="small"
          variant="contained"
          disabled={text === was || isWrong || write.isPending}
          onClick={enter}
        >
          Write it
        </Button>
        {isWrong && !findings.some(({ isRefused }) => isRefused) && (
          <Button size="small" onClick={() => write.mutate(true)} disabled={write.isPending}>
            Write it all the same
          </Button>
        )}
        <Button size="small" onClick={onClose}>
          Leave it
        </Button>
      </Box>
    </Box>
  );
}
