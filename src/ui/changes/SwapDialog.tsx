'use client';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { enqueueSnackbar } from 'notistack';
import { useDeferredValue, useState } from 'react';
import type { SwapPlan } from '@/core/mod';
import { api } from '../api';
import { plural } from '../format';
import { StateMark } from '../kit/StateMark';
import { useAction } from '../queries';

/** One set of entries takes the names of another; the pairs are shown before anything is done. */
export function SwapDialog({
  gameId,
  modId,
  onClose,
}: {
  gameId: number;
  modId: number;
  onClose: () => void;
}) {
  const [target, setTarget] = useState('');
  const [source, setSource] = useState('');
  const url = `games/${gameId}/mods/${modId}/swap`;
  const sets = useDeferredValue(`${new URLSearchParams({ target: target.trim(), source: source.trim() })}`);
  const ready = target.trim() !== '' && source.trim() !== '';
  const { data, error } = useQuery({
    queryKey: ['swap', url, sets],
    queryFn: ({ signal }) => api.get<SwapPlan>(`${url}?${sets}`, signal),
    enabled: ready,
    retry: false,
    placeholderData: keepPreviousData,
  });
  const swap = useAction(
    () => api.post<{ swapped: number; fit: string }>(url, { target: target.trim(), source: source.trim() }),
    ({ swapped, fit }) => {
      enqueueSnackbar(
        `${plural(swapped, 'entry', 'entries')} taken over; ${fit === 'fits' ? 'all fit' : 'see what is pointed out'}.`,
      );
      onClose();
    },
  );
  const found = ready ? data : undefined;
  const matched = found?.pairs.filter((pair) => pair.source !== undefined).length ?? 0;
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle sx={{ fontSize: 17 }}>Swap a set</DialogTitle>
      <DialogContent>
        <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1.5 }}>
          <TextField
            margin="dense"
            label="In the place of what begins with"
            placeholder="actors/odd/coat/"
            value={target}
            onChange={(event) => setTarget(event.target.value)}
            autoFocus
          />
          <TextField
            margin="dense"
            label="Take what begins with"
            placeholder="actors/ibis/coat/"
            value={source}
            onChange={(event) => setSource(event.target.value)}
          />
        </Box>
        {error && <Alert severity="error">{error.message}</Alert>}
        {!ready && (
          <Box sx={{ color: 'ink2', mt: 1 }}>
            Write how the paths of both sets begin; what stands behind is matched.
          </Box>
        )}
        {found && found.pairs.length === 0 && <Box sx={{ mt: 1 }}>Nothing begins with {target}.</Box>}
        <Box role="list" aria-label="Pairs of the swap" sx={{ maxHeight: 320, overflowY: 'auto', mt: 1 }}>
          {found?.pairs.map(({ target: to, source: from }) => (
            <Row
              key={to}
              left={to}
              right={from}
              tone={from === undefined ? 'look' : 'good'}
              word={from === undefined ? 'no counterpart' : 'pair'}
            />
          ))}
          {found?.left.map((path) => (
            <Row key={path} left={undefined} right={path} tone="look" word="no place" />
          ))}
        </Box>
        {swap.isError && <Alert severity="error">{swap.error.message}</Alert>}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button
          variant="contained"
          disabled={matched === 0}
          loading={swap.isPending}
          onClick={() => swap.mutate(undefined)}
        >
          {matched === 0 ? 'Take over' : `Take over ${matched}`}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function Row({
  left,
  right,
  tone,
  word,
}: {
  left: string | undefined;
  right: string | undefined;
  tone: 'good' | 'look';
  word: string;
}) {
  return (
    <Box
      role="listitem"
      sx={{
        display: 'grid',
        gridTemplateColumns: '1fr 1fr 140px',
        gap: 1,
        py: 0.5,
        borderBottom: 1,
        borderColor: 'line',
        fontSize: 13,
        overflowWrap: 'anywhere',
      }}
    >
      <span className="mono">{left ?? '–'}</span>
      <span className="mono">{right ?? '–'}</span>
      <StateMark tone={tone}>{word}</StateMark>
    </Box>
  );
}
