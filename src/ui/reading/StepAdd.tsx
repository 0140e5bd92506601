'use client';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import type { StepsView, StepView } from '@/server/reading/step-view';
import { StepForm, useStepWrite } from './StepForm';
import { StepNumbers, type StepsAt } from './StepNumbers';

interface Props {
  readonly gameId: number;
  readonly modId: number;
  readonly at: StepsAt;
  readonly steps: StepsView;
  /** The one that it comes behind; it is first where there is none. */
  readonly behind: StepView | undefined;
  readonly onClose: () => void;
}

/** A step more: what it does is chosen, its numbers begin as those of the step before it. */
export function StepAdd({ gameId, modId, at, steps: { steps, words, end, stamp }, behind, onClose }: Props) {
  const like = behind ?? steps[0];
  const [code, setCode] = useState(
    like && words.some((one) => one.code === like.code) ? like.code : words[0]!.code,
  );
  const word = words.find((one) => one.code === code)!;
  const was = word.numbers.map(({ name }, i) =>
    like?.code === code
      ? (like.numbers[i]?.value ?? '')
      : (like?.numbers.find((one) => one.name === name)?.value ?? ''),
  );
  const [said, setSaid] = useState<readonly string[]>();
  const values = said ?? was;
  const { write, found, forget } = useStepWrite({ gameId, modId }, 'The step is in the mod.', onClose);
  const place = behind ? (steps[steps.indexOf(behind) + 1]?.at ?? end) : 0;
  const send = (isDespite: boolean): void =>
    write.mutate({ ...at, at: place, stamp, add: { code, values }, isDespite });
  return (
    <StepForm
      {...{ found, onClose, isPending: write.isPending }}
      isDisabled={values.some((value) => value.trim() === '')}
      does="Add it"
      onWrite={() => send(false)}
      onDespite={() => send(true)}
    >
      <TextField
        select
        autoFocus
        size="small"
        label="What it does"
        value={code}
        onChange={({ target }) => {
          forget();
          setSaid(undefined);
          setCode(Number(target.value));
        }}
      >
        {words.map((one) => (
          <MenuItem key={one.code} value={one.code}>
            {one.called}
          </MenuItem>
        ))}
      </TextField>
      <StepNumbers
        {...{ gameId, at, word, values, was, isFocused: false }}
        onValues={(next) => {
          forget();
          setSaid(next);
        }}
      />
    </StepForm>
  );
}
