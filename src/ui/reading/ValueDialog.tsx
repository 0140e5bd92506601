'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { useDeferredValue } from 'react';
import { nameOf, number, plural } from '../format';
import { Failed } from '../kit/Blank';
import { RowLink } from './RowLink';
import { useValue } from './use-reading';

/** Every place of all tables that has a number or a text. */
export function ValueDialog({
  gameId,
  value,
  onGo,
  onClose,
  onValue,
}: {
  gameId: number;
  value: string;
  onGo: (table: string, row: number) => void;
  onClose: () => void;
  onValue: (value: string) => void;
}) {
  const asked = useDeferredValue(value);
  const { data = [], error } = useValue(gameId, asked);
  const found = asked.trim() === '' ? [] : data;
  const total = found.reduce((sum, { count }) => sum + count, 0);
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>Where is it?</DialogTitle>
      <DialogContent>
        <TextField
          autoFocus
          fullWidth
          size="small"
          label="A number or a whole text"
          value={value}
          onChange={({ target }) => onValue(target.value)}
          sx={{ mt: 1 }}
        />
        {error && <Failed error={error} />}
        <Box role="status" sx={{ my: 1, fontSize: 13, color: 'ink2' }}>
          {asked.trim() === ''
            ? 'In every field of every table, also within lists.'
            : `${plural(total, 'time')} in ${plural(found.length, 'field')}`}
        </Box>
        {found.map(({ table, field, count, rows }) => (
          <Box key={`${table} ${field}`} sx={{ mb: 1.25 }}>
            <Box sx={{ fontSize: 13, color: 'ink2' }}>
              {field} of {nameOf(table)}, {plural(count, 'time')}
            </Box>
            {rows.map((row) => (
              <Box key={row.row} component="span" sx={{ mr: 1.5, fontSize: 14 }}>
                <RowLink to={row} onGo={onGo} />
              </Box>
            ))}
            {rows.length < count && (
              <Box component="span" sx={{ fontSize: 12.5, color: 'ink2' }}>
                of {number(count)}
              </Box>
            )}
          </Box>
        ))}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}
