'use client';
import Autocomplete, { type AutocompleteRenderInputParams } from '@mui/material/Autocomplete';
import Box from '@mui/material/Box';
import type { TargetView } from '@/server/reading/row-view';
import { useTargets } from './use-reading';

interface Props {
  readonly gameId: number;
  readonly table: string;
  /** The field whose rows or names are offered. */
  readonly field: string;
  /** Whether it means anything that could be offered. */
  readonly isMeant: boolean;
  readonly text: string;
  /** What stands there; everything is offered until something else is written. */
  readonly was: string;
  readonly opensOnFocus: boolean;
  readonly onText: (text: string) => void;
  readonly renderInput: (props: AutocompleteRenderInputParams) => React.ReactNode;
}

/** A value that is written, or chosen by what the row that it means, or the number, is called. */
export function TargetChoice({
  gameId,
  table,
  field,
  isMeant,
  text,
  was,
  opensOnFocus,
  onText,
  renderInput,
}: Props) {
  const targets = useTargets(gameId, table, field, text === was ? '' : text, isMeant);
  return (
    <Autocomplete<TargetView, false, false, true>
      freeSolo
      openOnFocus={opensOnFocus}
      autoSelect={false}
      options={targets.data ?? []}
      filterOptions={(options) => options}
      getOptionLabel={(option) => (typeof option === 'string' ? option : option.value)}
      getOptionKey={(option) => (typeof option === 'string' ? option : option.value)}
      renderOption={({ key, ...props }, option) => (
        <Box component="li" key={key} {...props} sx={{ gap: 1 }}>
          <span>{option.title}</span>
          <Box component="span" className="mono" sx={{ color: 'ink2', fontSize: 12.5 }}>
            {option.value}
          </Box>
        </Box>
      )}
      inputValue={text}
      onInputChange={(_, now, reason) => reason !== 'reset' && onText(now)}
      onChange={(_, option) => onText(typeof option === 'object' && option ? option.value : (option ?? ''))}
      renderInput={renderInput}
    />
  );
}
