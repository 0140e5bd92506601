'use client';
import Box from '@mui/material/Box';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import type { ReactNode } from 'react';

/** A label with its fields at the right. */
export function Line({ label, children }: { label: string; children: ReactNode }) {
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, minHeight: 30 }}>
      <Box sx={{ flex: 1, color: 'ink2' }}>{label}</Box>
      {children}
    </Box>
  );
}

/** Something that is wanted or not. */
export function Check({
  label,
  isOn,
  onChange,
}: {
  readonly label: string;
  readonly isOn: boolean;
  readonly onChange: (isOn: boolean) => void;
}) {
  return (
    <FormControlLabel
      sx={{ display: 'flex', ml: 0, mr: 1, '& .MuiFormControlLabel-label': { overflowWrap: 'anywhere' } }}
      control={
        <Checkbox size="small" sx={{ p: 0.4 }} checked={isOn} onChange={(_event, next) => onChange(next)} />
      }
      {...{ label }}
    />
  );
}
