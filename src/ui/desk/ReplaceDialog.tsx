'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import FormControlLabel from '@mui/material/FormControlLabel';
import TextField from '@mui/material/TextField';
import { useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import type { LinesEdited } from '@/server/desk/edit-lines';
import type { WouldReplace } from '@/server/desk/many-lines';
import { api } from '../api';
import { number, plural } from '../format';
import { useAction } from '../queries';
import { linesOf, refOf, type DeskView } from './desk-state';

interface Props {
  readonly path: string;
  readonly view: DeskView;
  readonly by: string;
  readonly onClose: () => void;
  readonly onDone: (done: LinesEdited) => void;
}

/** Finds and replaces in the lines that are listed; what would become of each is seen before. */
export function ReplaceDialog({ path, view, by, onClose, onDone }: Props) {
  const [how, setHow] = useState({ find: view.text, replacement: '', matchesCase: false, isWhole: false });
  const [without, setWithout] = useState<ReadonlySet<string>>(new Set());
  const asked = useDeferredValue(how);
  const query = linesOf({ ...view, text: '' });
  const { data, error } = useQuery({
    queryKey: ['desk-replace', path, JSON.stringify(query), JSON.stringify(asked)],
    enabled: asked.find !== '',
    queryFn: () =>
      api.post<{ count: number; shown: WouldReplace[] }>(`${path}/replace`, {
        query,
        ...asked,
        isLook: true,
      }),
    gcTime: 0,
  });
  const replace = useAction(
    () => {
      const left = (data?.shown ?? []).filter((one) => without.has(refOf(one)));
      const ids = left.map(({ place, key, nth }) => ({ place, key, nth }));
      return api.post<LinesEdited>(`${path}/replace`, { query, ...how, without: ids, isLook: false, by });
    },
    (done) => onDone(done),
  );
  const shown = how.find === '' ? undefined : data;
  const count = (shown?.count ?? 0) - (shown?.shown ?? []).filter((one) => without.has(refOf(one))).length;
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle>Find and replace</DialogTitle>
      <DialogContent>
        <Box sx={{ display: 'flex', gap: 1.5, pt: 1, flexWrap: 'wrap' }}>
          <TextField
            autoFocus
            label="Find"
            value={how.find}
            onChange={(event) => setHow({ ...how, find: event.target.value })}
            sx={{ flex: 1, minWidth: 200 }}
          />
          <TextField
            label="Replace by"
            value={how.replacement}
            onChange={(event) => setHow({ ...how, replacement: event.target.value })}
            sx={{ flex: 1, minWidth: 200 }}
          />
        </Box>
        <FormControlLabel
          control={
            <Checkbox
              checked={how.matchesCase}
              onChange={(_, matchesCase) => setHow({ ...how, matchesCase })}
            />
          }
          label="Capitals as they are"
        />
        <FormControlLabel
          control={<Checkbox checked={how.isWhole} onChange={(_, isWhole) => setHow({ ...how, isWhole })} />}
          label="Whole words only"
        />
        <Box sx={{ color: 'ink2', mb: 1 }} role="status">
          {error
            ? error.message
            : shown
              ? `${plural(shown.count, 'line')} would change, of those that are listed${shown.count > shown.shown.length ? `; the first ${number(shown.shown.length)} are shown` : ''}.`
              : 'In the texts of the lines that are listed now: what is narrowed there is narrowed here.'}
        </Box>
        <Box sx={{ maxHeight: 320, overflow: 'auto' }}>
          {(shown?.shown ?? []).map((one) => (
            <Box
              key={refOf(one)}
              component="label"
              sx={{
                display: 'grid',
                gridTemplateColumns: '34px 1fr 1fr',
                gap: 1,
                py: 0.5,
                alignItems: 'start',
                borderBottom: 1,
                borderColor: 'line',
                fontSize: 13,
                overflowWrap: 'anywhere',
              }}
            >
              <Checkbox
                size="small"
                checked={!without.has(refOf(one))}
                slotProps={{ input: { 'aria-label': `Replace in ${one.key}` } }}
                onChange={(_, isOn) => {
                  const now = new Set(without);
                  if (isOn) now.delete(refOf(one));
                  else now.add(refOf(one));
                  setWithout(now);
                }}
                sx={{ p: 0.25 }}
              />
              <Box sx={{ color: 'ink2' }} dir="auto">
                {one.now}
              </Box>
              <Box dir="auto">{one.text}</Box>
            </Box>
          ))}
        </Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
        <Button
          variant="contained"
          disabled={count === 0}
          loading={replace.isPending}
          onClick={() => replace.mutate(undefined)}
        >
          Replace in {plural(count, 'line')}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
