'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { uiOf } from '@/media/ui';
import { bytes, number } from '../format';
import type { ContentsDialog } from './ContentsDialogs';
import type { EntryItem } from './use-entries';

/** What is picked, and what can be done with it. */
export function PicksBar({
  gameId,
  picks,
  onClear,
  onDialog,
  onExtract,
}: {
  gameId: number;
  picks: ReadonlyMap<string, EntryItem>;
  onClear: () => void;
  onDialog: (dialog: ContentsDialog) => void;
  onExtract: () => void;
}) {
  const items = [...picks.values()];
  const [kind, ...others] = new Set(items.map((item) => item.kind));
  const Picked = kind && others.length === 0 ? uiOf(kind)?.Picked : undefined;
  return (
    <Box
      role="region"
      aria-label="Picked"
      sx={{
        ...{ display: 'flex', alignItems: 'center', gap: 1.5, px: 2, py: 1 },
        ...{ borderTop: 1, borderColor: 'line', bgcolor: 'panel' },
      }}
    >
      <Box sx={{ fontWeight: 700 }}>Picked {number(picks.size)}</Box>
      <Box sx={{ flex: 1, color: 'ink2' }}>{bytes(items.reduce((sum, { size }) => sum + size, 0))}</Box>
      <Button onClick={onClear}>Clear</Button>
      <Button onClick={() => onDialog('lines')}>Keep as a list…</Button>
      <Button onClick={() => onDialog('recipe')}>Recipe…</Button>
      {Picked && <Picked gameId={gameId} items={items} />}
      {picks.size === 2 && (
        <Button variant="outlined" onClick={() => onDialog('compare')}>
          Compare
        </Button>
      )}
      <Button variant="contained" onClick={onExtract}>
        Extract
      </Button>
    </Box>
  );
}
