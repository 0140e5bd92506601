'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { enqueueSnackbar } from 'notistack';
import { useState } from 'react';
import type { CellFinding } from '@/media/table/core';
import type { CellAnswer } from '@/server/reading/edit-cell';
import type { StepView } from '@/server/reading/step-view';
import { api } from '../api';
import { useAction } from '../queries';
import { TargetChoice } from './TargetChoice';

interface Props {
  readonly gameId: number;
  readonly modId: number;
  /** The row and the field that the step is in. */
  readonly at: { readonly table: string; readonly row: number; readonly field: string };
  readonly step: StepView;
  readonly onClose: () => void;
}

/** Gives the numbers of a step other values: rows are chosen by their names, places to go on at are told by where they begin. */
export function StepEdit({ gameId, modId, at, step, onClose }: Props) {
  const was = step.numbers.map(({ value }) => value);
  const [values, setValues] = useState(was);
  const [found, setFound] = useState<readonly CellFinding[]>([]);
  const isSame = values.join() === was.join();
  const write = useAction(
    (isDespite: boolean) =>
      api.post<CellAnswer>(`games/${gameId}/mods/${modId}/steps`, {
        ...{ ...at, at: step.at, was, values, isDespite },
      }),
    ({ findings, isWritten, fit }) => {
      setFound(findings);
      if (!isWritten) return;
      enqueueSnackbar(
        fit === 'does not fit'
          ? 'The step is written, but the file does not fit; Changes says why.'
          : 'The step is changed in the mod.',
        { variant: fit === 'does not fit' ? 'warning' : 'success' },
      );
      onClose();
    },
  );
  const set = (i: number, text: string): void => {
    setFound([]);
    setValues(values.map((one, n) => (n === i ? text : one)));
  };
  return (
    <Box
      component="form"
      onSubmit={(event) => {
        event.preventDefault();
        if (isSame) onClose();
        else write.mutate(false);
      }}
      onKeyDown={(event) => {
        if (event.key !== 'Escape' || event.defaultPrevented) return;
        event.stopPropagation();
        onClose();
      }}
      sx={{ display: 'flex', flexDirection: 'column', gap: 1, py: 1 }}
    >
      {step.numbers.map(({ name, means }, i) => (
        <StepNumber
          key={name}
          {...{ gameId, name }}
          table={at.table}
          field={means === null ? '' : `${at.field}.${step.called}.${name}`}
          text={values[i]!}
          was={was[i]!}
          isFirst={i === 0}
          onText={(text) => set(i, text)}
        />
      ))}
      <Box role="status" aria-label="What is found of it">
        {found.map(({ what, why }) => (
          <Box key={what} sx={{ fontSize: 12.5, color: 'bad' }}>
            {what}. {why}.
          </Box>
        ))}
      </Box>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.5 }}>
        <Button type="submit" size="small" variant="contained" disabled={isSame} loading={write.isPending}>
          Write it
        </Button>
        {found.length > 0 && !found.some(({ isRefused }) => isRefused) && (
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

interface NumberProps {
  readonly gameId: number;
  readonly name: string;
  readonly table: string;
  /** The field that the number makes, where it means something. */
  readonly field: string;
  readonly text: string;
  readonly was: string;
  readonly isFirst: boolean;
  readonly onText: (text: string) => void;
}

function StepNumber({ gameId, name, table, field, text, was, isFirst, onText }: NumberProps) {
  return (
    <TargetChoice
      {...{ gameId, table, field, text, was, onText }}
      isMeant={field !== ''}
      opensOnFocus={!isFirst}
      renderInput={(props) => <TextField {...props} autoFocus={isFirst} size="small" label={name} />}
    />
  );
}
