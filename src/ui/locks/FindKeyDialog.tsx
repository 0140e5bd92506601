'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import FormControlLabel from '@mui/material/FormControlLabel';
import Radio from '@mui/material/Radio';
import RadioGroup from '@mui/material/RadioGroup';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import type { ArchiveView } from '@/server/games/archives';
import { api } from '../api';
import { bytes } from '../format';
import { Loading } from '../kit/Blank';
import { useAction, usePrograms } from '../queries';

/** Chooses the program in which the key of a locked archive is looked for. */
export function FindKeyDialog({
  gameId,
  archive,
  open,
  onClose,
}: {
  gameId: number;
  archive: ArchiveView | undefined;
  open: boolean;
  onClose: () => void;
}) {
  const { data: programs, isLoading } = usePrograms(gameId, open);
  const [chosen, setChosen] = useState<string>();
  const [all, setAll] = useState(false);
  const program = chosen ?? programs?.[0]?.path;
  const search = useAction(
    (input: { archiveId: number; program: string; all: boolean }) =>
      api.post(`games/${gameId}/jobs`, { kind: 'find-key', ...input }),
    onClose,
  );
  return (
    <Dialog open={open} onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle sx={{ fontSize: 17 }}>Find the key in a program</DialogTitle>
      <DialogContent>
        <Typography sx={{ mb: 1.5, overflowWrap: 'anywhere' }}>
          Games that open an archive carry its key. Every place of the program is tried against{' '}
          <span className="mono">{archive?.path}</span>: as it lies, reversed, spelled as text, in halves and
          expanded for use.
        </Typography>
        {isLoading && <Loading what="Looking for programs" />}
        {programs?.length === 0 && (
          <Typography sx={{ color: 'ink2' }}>
            There is no program in this game folder. The key may lie in one a folder higher; register that
            folder, or paste the key.
          </Typography>
        )}
        <RadioGroup
          aria-label="Program"
          value={program ?? ''}
          onChange={(_event, value) => setChosen(value)}
          sx={{ flexWrap: 'nowrap', maxHeight: 300, overflow: 'auto' }}
        >
          {programs?.map(({ path, size, sort, doubt }) => (
            <FormControlLabel
              key={path}
              value={path}
              control={<Radio size="small" />}
              sx={{ alignItems: 'flex-start', py: 0.5 }}
              label={
                <Box>
                  <Box className="mono" sx={{ overflowWrap: 'anywhere' }}>
                    {path}
                  </Box>
                  <Box sx={{ color: 'ink2', fontSize: 12.5 }}>
                    {bytes(size)}, {sort}
                    {doubt && `; ${doubt}`}
                  </Box>
                </Box>
              }
            />
          ))}
        </RadioGroup>
        <FormControlLabel
          control={<Checkbox size="small" checked={all} onChange={(_event, checked) => setAll(checked)} />}
          label="List every key, instead of stopping at the first"
        />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button
          variant="contained"
          disabled={!program || !archive}
          loading={search.isPending}
          onClick={() => search.mutate({ archiveId: archive!.id, program: program!, all })}
        >
          Search
        </Button>
      </DialogActions>
    </Dialog>
  );
}
