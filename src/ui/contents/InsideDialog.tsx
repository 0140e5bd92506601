'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { JobView } from '@/server/running/jobs';
import type { InsideResult } from '@/server/entries/search-inside';
import { api } from '../api';
import { folderOf, hex as hexOf, nameOf } from '../format';
import { JobLine } from '../frame/JobLine';
import { useAction, useJobs } from '../queries';
import type { ContentsView } from './url-state';

/** Searches the plain bytes of what the list shows for a text or for bytes; the job goes on when this is closed. */
export function InsideDialog({
  gameId,
  view,
  onShow,
  onClose,
}: {
  gameId: number;
  view: ContentsView;
  onShow: (archiveId: number, index: number) => void;
  onClose: () => void;
}) {
  const [wanted, setWanted] = useState('');
  const [as, setAs] = useState<'text' | 'hex'>('text');
  const { data: jobs } = useJobs();
  const last = jobs?.find((job) => job.gameId === gameId && job.kind === 'search-inside');
  const { data: full } = useQuery({
    queryKey: ['job', last?.id, last?.state],
    enabled: last?.state === 'done',
    queryFn: () => api.get<JobView>(`jobs/${last!.id}`),
  });
  const start = useAction(() =>
    api.post(`games/${gameId}/jobs`, {
      kind: 'search-inside',
      [as]: wanted,
      folder: view.folder,
      search: view.search,
    }),
  );
  const result = full?.result as InsideResult | undefined;
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle sx={{ fontSize: 17 }}>
        Search inside {view.folder || view.search ? 'what the list shows' : 'all entries'}
      </DialogTitle>
      <DialogContent>
        <Box
          component="form"
          sx={{ display: 'flex', gap: 1, mt: 1, mb: 1 }}
          onSubmit={(event) => {
            event.preventDefault();
            start.mutate(undefined);
          }}
        >
          <TextField
            autoFocus
            fullWidth
            label={as === 'text' ? 'Text' : 'Bytes, such as 52 49 46 46'}
            value={wanted}
            onChange={({ target }) => setWanted(target.value)}
            slotProps={{ htmlInput: { className: 'mono', spellCheck: false } }}
          />
          <TextField
            select
            value={as}
            label="As"
            onChange={({ target }) => setAs(target.value as 'text' | 'hex')}
            sx={{ width: 120 }}
          >
            <MenuItem value="text">text</MenuItem>
            <MenuItem value="hex">bytes</MenuItem>
          </TextField>
          <Button type="submit" variant="contained" loading={start.isPending} disabled={wanted === ''}>
            Search
          </Button>
        </Box>
        {last && <JobLine job={last} />}
        <Box role="list" aria-label="Found inside">
          {result?.hits.map((hit) => (
            <Box
              key={`${hit.archiveId}:${hit.index}:${hit.byteOffset}:${hit.encoding}`}
              role="listitem"
              component="button"
              title={hit.path}
              onClick={() => {
                onShow(hit.archiveId, hit.index);
                onClose();
              }}
              sx={{
                all: 'unset',
                boxSizing: 'border-box',
                width: '100%',
                display: 'grid',
                gridTemplateColumns: 'minmax(0, 1fr) 90px minmax(0, 1.6fr)',
                gap: 1.5,
                py: 0.5,
                cursor: 'pointer',
                borderBottom: 1,
                borderColor: 'line',
                '&:hover, &:focus-visible': { bgcolor: 'tint' },
              }}
            >
              <Box
                className="mono"
                sx={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
              >
                {nameOf(hit.path)}{' '}
                <Box component="span" sx={{ color: 'ink2', fontWeight: 400 }}>
                  {folderOf(hit.path)}
                </Box>
              </Box>
              <Box className="mono" sx={{ color: 'ink2' }}>
                0x{hexOf(hit.byteOffset, 6)}
              </Box>
              <Box className="mono" sx={{ color: 'ink2', overflowWrap: 'anywhere' }}>
                {hit.around}
              </Box>
            </Box>
          ))}
        </Box>
      </DialogContent>
    </Dialog>
  );
}
