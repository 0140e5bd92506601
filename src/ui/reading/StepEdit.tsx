'use client';
import { useState } from 'react';
import type { StepView } from '@/server/reading/step-view';
import { StepForm, useStepWrite } from './StepForm';
import { StepNumbers, type StepsAt } from './StepNumbers';

interface Props {
  readonly gameId: number;
  readonly modId: number;
  /** The row and the field that the step is in. */
  readonly at: StepsAt;
  readonly step: StepView;
  readonly onClose: () => void;
}

/** Gives the numbers of a step other values: rows are chosen by their names, places to go on at are told by where they begin. */
export function StepEdit({ gameId, modId, at, step, onClose }: Props) {
  const was = step.numbers.map(({ value }) => value);
  const [values, setValues] = useState(was);
  const isSame = values.join() === was.join();
  const { write, found, forget } = useStepWrite(
    { gameId, modId },
    'The step is changed in the mod.',
    onClose,
  );
  const send = (isDespite: boolean): void => write.mutate({ ...at, at: step.at, was, values, isDespite });
  return (
    <StepForm
      {...{ found, onClose, isDisabled: isSame, isPending: write.isPending }}
      onWrite={() => (isSame ? onClose() : send(false))}
      onDespite={() => send(true)}
    >
      <StepNumbers
        {...{ gameId, at, values, was, isFocused: true }}
        word={step}
        onValues={(next) => {
          forget();
          setValues(next);
        }}
      />
    </StepForm>
  );
}
