'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useRef, useState } from 'react';

/** What is to be stamped on a sheet, kept by the server, and where. */
export interface Stamp {
  readonly blob: string;
  readonly name: string;
  readonly x: number;
  readonly y: number;
  readonly width?: number | undefined;
}

const FONT = '600 SIZEpx "Atkinson Hyperlegible Next Variable", sans-serif';

/** Words as a picture, as large as they are, drawn by the browser. */
async function drawn(words: string, size: number, colour: string): Promise<File> {
  const font = FONT.replace('SIZE', String(size));
  await document.fonts.load(font, words);
  const measure = new OffscreenCanvas(1, 1).getContext('2d')!;
  measure.font = font;
  const { width, actualBoundingBoxAscent: up, actualBoundingBoxDescent: down } = measure.measureText(words);
  const canvas = new OffscreenCanvas(Math.ceil(width) + 2, Math.ceil(up + down) + 2);
  const context = canvas.getContext('2d')!;
  context.font = font;
  context.fillStyle = colour;
  context.fillText(words, 1, 1 + up);
  return new File([await canvas.convertToBlob()], 'words.png', { type: 'image/png' });
}

/** Words or a picture laid over the sheet. */
export function StampPanel({
  stamp,
  disabled,
  onGive,
  onChange,
}: {
  stamp: Stamp | undefined;
  disabled: boolean;
  /** Keeps a picture and makes it the stamp. */
  onGive: (file: File) => void;
  onChange: (stamp: Stamp | undefined) => void;
}) {
  const [words, setWords] = useState('');
  const [size, setSize] = useState(32);
  const [colour, setColour] = useState('#f3ead2');
  const file = useRef<HTMLInputElement>(null);
  const number = (name: 'x' | 'y' | 'width', label: string) => (
    <TextField
      type="number"
      size="small"
      label={label}
      value={stamp?.[name] ?? ''}
      onChange={(event) => {
        const value = event.target.value === '' ? undefined : Math.round(Number(event.target.value));
        if (stamp && (value !== undefined || name === 'width')) onChange({ ...stamp, [name]: value });
      }}
      sx={{ width: 92 }}
    />
  );
  return (
    <Box component="section" aria-label="Stamp" sx={{ mt: 2 }}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        Stamp words or a picture
      </Typography>
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'center', mb: 1 }}>
        <TextField
          size="small"
          label="Words"
          value={words}
          disabled={disabled}
          onChange={(event) => setWords(event.target.value)}
          sx={{ flex: 1 }}
        />
        <TextField
          type="number"
          size="small"
          label="Texels high"
          value={size}
          disabled={disabled}
          onChange={(event) => setSize(Math.min(2048, Math.max(4, Number(event.target.value))))}
          sx={{ width: 96 }}
        />
        <TextField
          type="color"
          size="small"
          variant="standard"
          value={colour}
          disabled={disabled}
          onChange={(event) => setColour(event.target.value)}
          slotProps={{ htmlInput: { 'aria-label': 'Colour of the words' } }}
          sx={{ width: 40 }}
        />
      </Box>
      <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
        <Button
          size="small"
          variant="outlined"
          disabled={disabled || words.trim() === ''}
          onClick={() => void drawn(words, size, colour).then(onGive)}
        >
          Lay the words on
        </Button>
        <Button size="small" variant="outlined" disabled={disabled} onClick={() => file.current?.click()}>
          Lay a picture on…
        </Button>
        <input
          ref={file}
          type="file"
          hidden
          aria-label="Picture to stamp on"
          onChange={(event) => {
            const given = event.target.files?.[0];
            event.target.value = '';
            if (given) onGive(given);
          }}
        />
      </Box>
      {stamp && (
        <>
          <Box sx={{ display: 'flex', gap: 1, mt: 1.25 }}>
            {number('x', 'From left')}
            {number('y', 'From top')}
            {number('width', 'Width')}
            <Button size="small" onClick={() => onChange(undefined)}>
              Take off
            </Button>
          </Box>
          <Box sx={{ color: 'ink2', fontSize: 12.5, mt: 0.5 }}>Or press on the sheet where it is to go.</Box>
        </>
      )}
    </Box>
  );
}
