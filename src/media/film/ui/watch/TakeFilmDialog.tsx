import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import FormControlLabel from '@mui/material/FormControlLabel';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { filmWays } from '@/media/film/core/ways';
import type { FilmView } from '@/server/films/film-view';
import { filmUrl } from './film-address';

const HELP: Readonly<Record<string, string>> = {
  mkv: 'Holds anything as it is.',
  mp4: 'H.264 with AAC; what is so already is not coded anew.',
  webm: 'VP9 with Opus; VP8, AV1 and Vorbis are not coded anew either.',
};

interface Props {
  readonly gameId: number;
  readonly filmKey: string;
  readonly film: FilmView;
  readonly onClose: () => void;
}

/** A film as one file to keep: in which form, and with which of its sounds. */
export function TakeFilmDialog({ gameId, filmKey, film, onClose }: Props) {
  const [form, setForm] = useState('mkv');
  const [left, setLeft] = useState<ReadonlySet<number>>(new Set());
  const sounds = film.sounds.flatMap((_sound, i) => (left.has(i) ? [] : [i]));
  const query = new URLSearchParams({ form, sounds: sounds.join() });
  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth>
      <DialogTitle>Take out {film.title}</DialogTitle>
      <DialogContent>
        <TextField
          select
          fullWidth
          size="small"
          label="Form"
          value={form}
          onChange={({ target }) => setForm(target.value)}
          helperText={HELP[form]}
          sx={{ mt: 1 }}
        >
          {filmWays.ways.map(({ name, label }) => (
            <MenuItem key={name} value={name}>
              {label}
            </MenuItem>
          ))}
        </TextField>
        <Box role="group" aria-label="Sounds that go along" sx={{ mt: 2 }}>
          {film.sounds.map(({ name, codec }, i) => (
            <FormControlLabel
              key={i}
              sx={{ display: 'flex' }}
              control={
                <Checkbox
                  size="small"
                  checked={!left.has(i)}
                  onChange={({ target }) => {
                    const next = new Set(left);
                    if (target.checked) next.delete(i);
                    else next.add(i);
                    setLeft(next);
                  }}
                />
              }
              label={`${name}, ${codec.toUpperCase()}`}
            />
          ))}
        </Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button
          variant="contained"
          component="a"
          download
          disabled={!film.picture && sounds.length === 0}
          href={`${filmUrl(gameId, filmKey)}/taken?${query}`}
          onClick={onClose}
        >
          Take it out
        </Button>
      </DialogActions>
    </Dialog>
  );
}
