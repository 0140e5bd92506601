'use client';
import FolderOpenRounded from '@mui/icons-material/FolderOpenRounded';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import InputAdornment from '@mui/material/InputAdornment';
import TextField from '@mui/material/TextField';
import Tooltip from '@mui/material/Tooltip';
import { useState, type ReactNode } from 'react';
import { api } from '../api';
import { useAction } from '../queries';
import { FolderChooser } from './FolderChooser';

interface Props {
  readonly label: string;
  readonly value: string;
  readonly onChange: (folder: string) => void;
  readonly error?: string | undefined;
  readonly help?: ReactNode;
  readonly autoFocus?: boolean;
  readonly margin?: 'dense' | 'none';
}

/** What the server says where a folder cannot be made because of the one above it. */
const IS_MISSING = /^(.+) is not there\. Make it first/;

/** A folder of the machine that the application runs on: typed, or chosen by looking around. */
export function FolderField({ label, value, onChange, error, help, autoFocus, margin = 'dense' }: Props) {
  const [open, setOpen] = useState(false);
  const missing = IS_MISSING.exec(error ?? '')?.[1];
  const make = useAction((path: string) => api.post('folders', { path }));
  const isMade = make.isSuccess && missing === make.variables;
  return (
    <>
      <TextField
        fullWidth
        margin={margin}
        label={label}
        value={value}
        autoFocus={autoFocus ?? false}
        onChange={(event) => onChange(event.target.value)}
        error={error !== undefined && !isMade}
        helperText={
          isMade ? (
            `${missing} was made. Do it again.`
          ) : missing !== undefined ? (
            <>
              {error}{' '}
              <Button size="small" loading={make.isPending} onClick={() => make.mutate(missing)}>
                Make it
              </Button>
            </>
          ) : (
            (error ?? help)
          )
        }
        slotProps={{
          htmlInput: { className: 'mono', spellCheck: false },
          formHelperText: { component: 'div' },
          input: {
            endAdornment: (
              <InputAdornment position="end">
                <Tooltip title="Look around on this machine">
                  <IconButton edge="end" aria-label="Look around" onClick={() => setOpen(true)}>
                    <FolderOpenRounded />
                  </IconButton>
                </Tooltip>
              </InputAdornment>
            ),
          },
        }}
      />
      {open && (
        <FolderChooser
          title={label}
          start={value}
          onClose={() => setOpen(false)}
          onChoose={(folder) => {
            onChange(folder);
            setOpen(false);
          }}
        />
      )}
    </>
  );
}
