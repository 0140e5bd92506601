'use client';
import InputAdornment from '@mui/material/InputAdornment';
import TextField from '@mui/material/TextField';
import { useState } from 'react';

/** A number that is kept once it is left; what is none, or too small or large, is taken back. */
export function NumberField({
  label,
  unit,
  value,
  least,
  most,
  empty,
  width = 62,
  onKeep,
}: {
  label: string;
  unit: string;
  value: number | undefined;
  least: number;
  most: number;
  /** What stands there where nothing is said; there must be a number where this is not given. */
  empty?: string;
  width?: number;
  onKeep: (value: number | undefined) => void;
}) {
  const [text, setText] = useState<string>();
  const keep = (): void => {
    setText(undefined);
    if (text === undefined) return;
    const next = text.trim() === '' ? undefined : Number(text.replace(',', '.'));
    if (next === undefined ? empty === undefined : !(next >= least && next <= most)) return;
    if (next !== value) onKeep(next);
  };
  return (
    <TextField
      size="small"
      variant="standard"
      value={text ?? (value === undefined ? '' : String(Math.round(value * 1000) / 1000))}
      placeholder={empty}
      onChange={({ target }) => setText(target.value)}
      onBlur={keep}
      onKeyDown={(event) => {
        if (event.key === 'Enter') (event.target as HTMLElement).blur();
      }}
      sx={{ width }}
      slotProps={{
        htmlInput: { 'aria-label': label, inputMode: 'decimal', style: { textAlign: 'right', fontSize: 13 } },
        input: { endAdornment: <InputAdornment position="end">{unit}</InputAdornment> },
      }}
    />
  );
}
