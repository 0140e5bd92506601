'use client';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { enqueueSnackbar } from 'notistack';
import { useEffect, useState } from 'react';

interface Output {
  readonly id: string;
  readonly name: string;
}

const ASK = ' ask';

/** The outputs that the browser names to this page. */
async function outputs(): Promise<Output[]> {
  const found = await navigator.mediaDevices.enumerateDevices();
  return found
    .filter(({ kind, deviceId }) => kind === 'audiooutput' && deviceId !== '' && deviceId !== 'default')
    .map(({ deviceId, label }, i) => ({ id: deviceId, name: label || `Output ${i + 1}` }));
}

/** On which output is played. Browsers name outputs only to pages that may hear a microphone, so that they are asked for by a press. */
export function OutputChoice({ value, onChoose }: { value: string; onChoose: (id: string) => void }) {
  const [known, setKnown] = useState<readonly Output[]>([]);
  useEffect(() => {
    const look = (): void => void outputs().then(setKnown, () => undefined);
    look();
    navigator.mediaDevices.addEventListener('devicechange', look);
    return () => navigator.mediaDevices.removeEventListener('devicechange', look);
  }, []);
  const ask = async (): Promise<void> => {
    try {
      const stream = await navigator.mediaDevices.getUserMedia({ audio: true });
      // It was only asked for the names.
      for (const track of stream.getTracks()) track.stop();
      const found = await outputs();
      setKnown(found);
      if (found.length === 0) enqueueSnackbar('The browser knows of no output besides the usual one.');
    } catch {
      enqueueSnackbar(
        'The browser names outputs only to pages that may use a microphone, and it was refused. Nothing would be recorded.',
        { variant: 'warning' },
      );
    }
  };
  const isKnown = value === '' || known.some(({ id }) => id === value);
  return (
    <TextField
      select
      size="small"
      label="Output"
      value={isKnown ? value : ''}
      onChange={({ target }) => (target.value === ASK ? void ask() : onChoose(target.value))}
      sx={{ minWidth: 190 }}
      slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
    >
      <MenuItem value="">The usual one</MenuItem>
      {known.map(({ id, name }) => (
        <MenuItem key={id} value={id}>
          {name}
        </MenuItem>
      ))}
      {known.length === 0 && <MenuItem value={ASK}>Ask the browser for others…</MenuItem>}
    </TextField>
  );
}
