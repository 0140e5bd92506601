'use client';
import type { StepsView, StepView } from '@/server/reading/step-view';
import { StepForm, useStepWrite } from './StepForm';
import type { StepsAt } from './StepNumbers';

interface Props {
  readonly gameId: number;
  readonly modId: number;
  readonly at: StepsAt;
  readonly steps: StepsView;
  readonly step: StepView;
  readonly onClose: () => void;
}

/** Takes a step out; where others go on at it that is told first. */
export function StepRemove({ gameId, modId, at, steps: { stamp }, step, onClose }: Props) {
  const { write, found } = useStepWrite({ gameId, modId }, 'The step is taken out in the mod.', onClose);
  const send = (isDespite: boolean): void => write.mutate({ ...at, at: step.at, stamp, isDespite });
  return (
    <StepForm
      {...{ found, onClose, isDisabled: found.length > 0, isPending: write.isPending }}
      does="Take it out"
      onWrite={() => send(false)}
      onDespite={() => send(true)}
    />
  );
}
