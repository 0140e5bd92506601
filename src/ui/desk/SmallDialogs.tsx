'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import type { DeskOverview } from '@/server/desk/desk-view';
import { api } from '../api';
import { useAction } from '../queries';
import { tonguesOf, type DeskView } from './desk-state';

/** A language that the game never had: its code or name, and what players read in the list of languages. */
export function TongueDialog({
  path,
  onClose,
  onDone,
}: {
  path: string;
  onClose: () => void;
  onDone: (tongue: string) => void;
}) {
  const [tongue, setTongue] = useState('');
  const [name, setName] = useState('');
  const add = useAction(
    () => api.post<{ tongue: string }>(`${path}/tongues`, { tongue, name }),
    (made) => onDone(made.tongue),
  );
  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth>
      <DialogTitle>A language that the game never had</DialogTitle>
      <DialogContent sx={{ display: 'flex', flexDirection: 'column', gap: 2 }}>
        <Box sx={{ color: 'ink2', fontSize: 13 }}>
          Its tables are made like those of the source, with what is translated in them; where the game keeps
          a list of its languages, it gets a line there.
        </Box>
        <TextField
          autoFocus
          label="Language"
          value={tongue}
          onChange={(event) => setTongue(event.target.value)}
          helperText="A code such as nl, or its English name"
        />
        <TextField
          label="Name in the list"
          value={name}
          onChange={(event) => setName(event.target.value)}
          helperText="As players read it, such as Nederlands"
        />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button
          variant="contained"
          disabled={tongue.trim() === '' || name.trim() === ''}
          loading={add.isPending}
          onClick={() => add.mutate(undefined)}
        >
          Add the language
        </Button>
      </DialogActions>
    </Dialog>
  );
}

/** Words and names that are always said in the same way. */
export function TermsDialog({
  path,
  view,
  terms,
  onClose,
}: {
  path: string;
  view: DeskView;
  terms: DeskOverview['terms'];
  onClose: () => void;
}) {
  const [word, setWord] = useState('');
  const [said, setSaid] = useState('');
  const keep = useAction(
    (term: { word: string; said: string }) => api.post(`${path}/terms`, { ...tonguesOf(view), ...term }),
    () => {
      setWord('');
      setSaid('');
    },
  );
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>Glossary</DialogTitle>
      <DialogContent>
        <Box sx={{ color: 'ink2', fontSize: 13, mb: 1 }}>
          A line whose source has the word and whose text has not what it is called is pointed out.
        </Box>
        {terms.map((term) => (
          <Box
            key={term.source}
            sx={{
              display: 'grid',
              gridTemplateColumns: '1fr 1fr auto',
              gap: 1,
              alignItems: 'center',
              borderBottom: 1,
              borderColor: 'line',
            }}
          >
            <span>{term.source}</span>
            <b>{term.target}</b>
            <Button
              size="small"
              onClick={() => keep.mutate({ word: term.source, said: '' })}
              aria-label={`Forget ${term.source}`}
            >
              Forget
            </Button>
          </Box>
        ))}
        <Box
          component="form"
          sx={{ display: 'flex', gap: 1, mt: 2 }}
          onSubmit={(event) => {
            event.preventDefault();
            if (word.trim() && said.trim()) keep.mutate({ word, said });
          }}
        >
          <TextField
            size="small"
            label="Word or name"
            value={word}
            onChange={(event) => setWord(event.target.value)}
            fullWidth
          />
          <TextField
            size="small"
            label="Is called"
            value={said}
            onChange={(event) => setSaid(event.target.value)}
            fullWidth
          />
          <Button type="submit" variant="outlined" disabled={!word.trim() || !said.trim()}>
            Add
          </Button>
        </Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}
