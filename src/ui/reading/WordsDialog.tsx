'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { KeptWords } from '@/server/reading/words';
import { api } from '../api';
import { Failed } from '../kit/Blank';
import { useAction } from '../queries';
import { MONO } from '../theme';

const EXAMPLE = `words for: scenes.steps
code: u8
words:
  1: { called: comes, with: { who: u16 people, to: u16 places }, says: '{who} comes to {to}.' }
  5: { called: asks, with: { promise: u16 promises, else: u16 jump }, says: 'Unless {promise}, on at {else}.' }
  0: { called: ends, says: 'The scene ends.' }
`;

/** The words that steps of scenes and events are read in: which code does what, with which numbers, and how that is said; and those by which rows are maps. */
export function WordsDialog({
  gameId,
  given,
  onClose,
}: {
  gameId: number;
  /** Words to begin with. */
  given: string;
  onClose: () => void;
}) {
  const base = `games/${gameId}/reading/words`;
  const { data = [], error } = useQuery({
    queryKey: ['reading', gameId, 'words'],
    queryFn: () => api.get<KeptWords[]>(base),
  });
  const [text, setText] = useState(given);
  const keep = useAction(
    () => api.post<{ about: string }>(base, { text }),
    () => setText(''),
  );
  const drop = useAction((about: string) =>
    api.remove(`${base}?${new URLSearchParams({ about }).toString()}`),
  );
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle>Words for steps and maps</DialogTitle>
      <DialogContent>
        <Box sx={{ color: 'ink2', fontSize: 13, mb: 1.5 }}>
          Scenes and events are often steps of a code and numbers. Say what each code does, which numbers
          stand behind it, which table they mean, and the sentence that it is read as; a number may also be a
          place to go on at (jump). Words that begin with <q>map of</q> say how rows of a table are maps,
          those that begin with <q>parts of</q> how they are parts of a level, and those that begin with{' '}
          <q>values of</q> what numbers of a field are called (<code>values of: people.mood</code>, then{' '}
          <code>
            names: {'{'} 0: calm {'}'}
          </code>
          , or <code>flags</code> with a name for each bit).
        </Box>
        {error && <Failed error={error} />}
        {data.map(({ about, text: kept }) => (
          <Box
            key={about}
            sx={{ display: 'flex', alignItems: 'center', borderBottom: 1, borderColor: 'line', fontSize: 14 }}
          >
            <Box sx={{ flex: 1, overflowWrap: 'anywhere' }}>{about}</Box>
            <Button size="small" onClick={() => setText(kept)} aria-label={`Change the words for ${about}`}>
              Change
            </Button>
            <Button
              size="small"
              disabled={drop.isPending}
              onClick={() => drop.mutate(about)}
              aria-label={`Forget the words for ${about}`}
            >
              Forget
            </Button>
          </Box>
        ))}
        <TextField
          fullWidth
          multiline
          minRows={8}
          maxRows={18}
          label="Words"
          placeholder={EXAMPLE}
          value={text}
          onChange={({ target }) => setText(target.value)}
          sx={{ mt: 2 }}
          slotProps={{
            htmlInput: { spellCheck: false, style: { fontFamily: MONO, fontSize: 13, whiteSpace: 'pre' } },
            inputLabel: { shrink: true },
          }}
        />
        {text === '' && (
          <Button size="small" onClick={() => setText(EXAMPLE)}>
            Begin with an example
          </Button>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
        <Button
          variant="contained"
          disabled={text.trim() === ''}
          loading={keep.isPending}
          onClick={() => keep.mutate(undefined)}
        >
          Keep the words
        </Button>
      </DialogActions>
    </Dialog>
  );
}
