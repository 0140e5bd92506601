'use client';
import TextField from '@mui/material/TextField';
import type { StepNumberView } from '@/server/reading/step-view';
import { TargetChoice } from './TargetChoice';

/** The row and the field that steps are in. */
export interface StepsAt {
  readonly table: string;
  readonly row: number;
  readonly field: string;
}

interface Props {
  readonly gameId: number;
  readonly at: StepsAt;
  readonly word: { readonly called: string; readonly numbers: readonly StepNumberView[] };
  readonly values: readonly string[];
  /** As they stand, or stood; everything is offered until something else is written. */
  readonly was: readonly string[];
  readonly isFocused: boolean;
  readonly onValues: (values: string[]) => void;
}

/** The numbers of a step: rows are chosen by their names, places to go on at are told by where they begin. */
export function StepNumbers({ gameId, at, word, values, was, isFocused, onValues }: Props) {
  return word.numbers.map(({ name, means }, i) => (
    <TargetChoice
      key={`${word.called} ${name}`}
      {...{ gameId, table: at.table, text: values[i] ?? '', was: was[i] ?? '' }}
      field={means === null ? '' : `${at.field}.${word.called}.${name}`}
      isMeant={means !== null}
      opensOnFocus={!isFocused || i > 0}
      onText={(text) => onValues(word.numbers.map((_, n) => (n === i ? text : (values[n] ?? ''))))}
      renderInput={(props) => (
        <TextField {...props} autoFocus={isFocused && i === 0} size="small" label={name} />
      )}
    />
  ));
}
