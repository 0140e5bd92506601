'use client';
import DeleteOutlineRounded from '@mui/icons-material/DeleteOutlineRounded';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import IconButton from '@mui/material/IconButton';
import Tab from '@mui/material/Tab';
import Tabs from '@mui/material/Tabs';
import { useQuery } from '@tanstack/react-query';
import { enqueueSnackbar } from 'notistack';
import { useState } from 'react';
import { useDropzone } from 'react-dropzone';
import type { IdTableView } from '@/server/entries/id-tables';
import { api } from '../api';
import { plural } from '../format';
import { useAction } from '../queries';
import { Affixes } from './Affixes';

interface Added {
  count: number;
  doubled: readonly string[];
}

/** Tables that say what people call a code: given as a file, or read from the chosen entry. */
export function IdTablesDialog({
  gameId,
  chosen,
  onClose,
}: {
  gameId: number;
  chosen: { archiveId: number; index: number } | undefined;
  onClose: () => void;
}) {
  const { data: tables = [] } = useQuery({
    queryKey: ['id-tables', gameId],
    queryFn: () => api.get<IdTableView[]>(`games/${gameId}/id-tables`),
  });
  const add = useAction(
    (input: object) => api.post<Added>(`games/${gameId}/id-tables`, input),
    ({ count, doubled }) =>
      enqueueSnackbar(
        doubled.length === 0
          ? `${plural(count, 'code')} read`
          : `${plural(count, 'code')} read; ${plural(doubled.length, 'code stands', 'codes stand')} there with two names, of which the first counts: ${doubled.slice(0, 4).join(', ')}`,
        { variant: doubled.length > 0 ? 'warning' : 'default', autoHideDuration: 9000 },
      ),
  );
  const [tab, setTab] = useState<'tables' | 'affixes'>('tables');
  const remove = useAction((id: number) => api.remove(`games/${gameId}/id-tables/${id}`));
  const drop = useDropzone({
    noClick: true,
    multiple: false,
    onDrop: ([file]) => file && void file.text().then((text) => add.mutate({ title: file.name, text })),
  });
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle sx={{ fontSize: 17, pb: 0 }}>Codes and names</DialogTitle>
      <Tabs
        value={tab}
        onChange={(_event, next: typeof tab) => setTab(next)}
        sx={{ px: 3, borderBottom: 1, borderColor: 'line' }}
        slotProps={{ indicator: { sx: { bgcolor: 'brass', height: 3 } } }}
      >
        <Tab value="tables" label="Id tables" />
        <Tab value="affixes" label="Beginnings and ends" />
      </Tabs>
      <DialogContent>
        {tab === 'affixes' && <Affixes gameId={gameId} />}
        <Box
          hidden={tab !== 'tables'}
          {...drop.getRootProps()}
          sx={{ outline: drop.isDragActive ? '2px dashed' : 'none', outlineColor: 'brass' }}
        >
          <input {...drop.getInputProps({ 'aria-label': 'File with an id table' })} />
          <Box sx={{ color: 'ink2', mb: 1.5 }}>
            A table of codes and what people call them, as CSV or JSON. The names stand beside every path with
            such a code, and can be searched for; by its further columns lists are narrowed.
          </Box>
          {tables.map(({ id, title, origin, count, sample, more }) => (
            <Box
              key={id}
              sx={{ display: 'flex', alignItems: 'center', py: 0.75, borderBottom: 1, borderColor: 'line' }}
            >
              <Box sx={{ flex: 1, minWidth: 0 }}>
                <Box sx={{ fontWeight: 600 }}>
                  {title}, {plural(count, 'code')}
                </Box>
                <Box sx={{ color: 'ink2', overflowWrap: 'anywhere' }}>
                  {origin}: {sample.map(([code, name]) => `${code} is ${name}`).join(', ')}
                  {more.length > 0 && `. Lists are narrowed by its ${more.join(', ')}`}
                </Box>
              </Box>
              <IconButton size="small" aria-label={`Remove ${title}`} onClick={() => remove.mutate(id)}>
                <DeleteOutlineRounded fontSize="small" />
              </IconButton>
            </Box>
          ))}
          <Box sx={{ display: 'flex', gap: 1, mt: 2 }}>
            <Button variant="contained" onClick={drop.open} loading={add.isPending}>
              Choose a file…
            </Button>
            <Button
              variant="outlined"
              disabled={!chosen || add.isPending}
              onClick={() => add.mutate(chosen!)}
            >
              Read the chosen entry
            </Button>
          </Box>
        </Box>
      </DialogContent>
    </Dialog>
  );
}
