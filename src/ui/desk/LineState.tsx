import BlockRounded from '@mui/icons-material/BlockRounded';
import CheckRounded from '@mui/icons-material/CheckRounded';
import DoneAllRounded from '@mui/icons-material/DoneAllRounded';
import EditRounded from '@mui/icons-material/EditRounded';
import PriorityHighRounded from '@mui/icons-material/PriorityHighRounded';
import Box from '@mui/material/Box';
import type { DeskRow } from '@/server/desk/desk-view';

/** How a line is, by what is most to be known of it. */
export function stateOf({
  wrong,
  look,
  state,
  found,
  text,
  was,
}: DeskRow): { Icon: typeof CheckRounded; colour: string; said: string } | undefined {
  if (wrong > 0) return { Icon: BlockRounded, colour: 'bad', said: found ?? 'fails a check' };
  if (state === 'reviewed') return { Icon: DoneAllRounded, colour: 'good', said: 'reviewed' };
  if (state === 'done') return { Icon: CheckRounded, colour: 'good', said: 'done' };
  if (look > 0) return { Icon: PriorityHighRounded, colour: 'look', said: found ?? 'worth a look' };
  if (state === 'draft' && text !== (was ?? ''))
    return { Icon: EditRounded, colour: 'brass', said: 'changed' };
  return undefined;
}

export function LineState({ row }: { row: DeskRow }) {
  const state = stateOf(row);
  if (!state) return null;
  const { Icon, colour, said } = state;
  return (
    <Box component="span" title={said} sx={{ color: colour, display: 'inline-flex' }}>
      <Icon sx={{ fontSize: 17 }} aria-label={said} />
    </Box>
  );
}
