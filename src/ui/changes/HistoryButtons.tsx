'use client';
import RedoIcon from '@mui/icons-material/Redo';
import UndoIcon from '@mui/icons-material/Undo';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { useQuery } from '@tanstack/react-query';
import { enqueueSnackbar } from 'notistack';
import { useEffect } from 'react';
import type { History } from '@/server/mods/history';
import { api } from '../api';
import { useAction } from '../queries';

type Direction = 'undo' | 'redo';

/** Takes steps of the mod back and does them again; Ctrl Z and Ctrl Shift Z do the same. */
export function HistoryButtons({
  gameId,
  modId,
  watched,
  isKeyed = true,
}: {
  gameId: number;
  modId: number;
  /** Whether changes may come without anybody's asking. */
  watched: boolean;
  /** Whether keys do it as well; not where buttons of the same mod stand behind, which listen already. */
  isKeyed?: boolean;
}) {
  const url = `games/${gameId}/mods/${modId}/history`;
  const { data } = useQuery({
    queryKey: ['changes', gameId, modId, 'history'],
    queryFn: () => api.get<History>(url),
    refetchInterval: watched ? 1500 : false,
  });
  const travel = useAction(
    (direction: Direction) => api.post<{ what: string }>(url, { direction }),
    ({ what }, direction) => enqueueSnackbar(`${direction === 'undo' ? 'Undone' : 'Done again'}: ${what}.`),
  );
  const { mutate } = travel;
  useEffect(() => {
    if (!isKeyed) return;
    const onKey = (event: KeyboardEvent): void => {
      const typing = (event.target as HTMLElement).closest('input, textarea, [contenteditable=true]');
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z' || typing) return;
      event.preventDefault();
      mutate(event.shiftKey ? 'redo' : 'undo');
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [isKeyed, mutate]);
  const buttons = [
    ['undo', 'Undo a step', UndoIcon, data?.undo],
    ['redo', 'Do a step again', RedoIcon, data?.redo],
  ] as const;
  return buttons.map(([direction, label, Icon, what]) => (
    <Tooltip key={direction} title={what ? `${label}: ${what}` : `Nothing to ${direction}`}>
      <span>
        <IconButton aria-label={label} disabled={!what || travel.isPending} onClick={() => mutate(direction)}>
          <Icon fontSize="small" />
        </IconButton>
      </span>
    </Tooltip>
  ));
}
