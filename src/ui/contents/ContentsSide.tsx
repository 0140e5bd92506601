'use client';
import Box from '@mui/material/Box';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { useQuery } from '@tanstack/react-query';
import { memo } from 'react';
import type { EntryPage } from '@/server/entries/entries';
import { api } from '../api';
import { number } from '../format';
import { keepText, useKeptText } from '../kept-text';
import { useArchives } from '../queries';
import { ArchiveRoots } from './ArchiveRoots';
import { FolderTree } from './FolderTree';
import type { ContentsView } from './url-state';

const KEPT = 'zero-latch-contents-side';

interface Props {
  readonly gameId: number;
  readonly view: Pick<ContentsView, 'folder' | 'archive' | 'kind' | 'search'>;
  readonly onView: (change: Partial<ContentsView>) => void;
}

/** Where one is: the folders as the game sees them, or each archive as a root of its own; below, what is easily overlooked. */
export const ContentsSide = memo(function ContentsSide({ gameId, view, onView }: Props) {
  const kept = useKeptText(KEPT);
  const by = kept === 'archives' ? 'archives' : 'folders';
  return (
    <Box
      component="nav"
      aria-label="Folders"
      sx={{ height: '100%', bgcolor: 'panel', display: 'flex', flexDirection: 'column', pt: 1, minWidth: 0 }}
    >
      <ToggleButtonGroup
        exclusive
        size="small"
        fullWidth
        value={by}
        aria-label="Tree"
        onChange={(_event, next: string | null) => next && keepText(KEPT, next)}
        sx={{ px: 1, mb: 0.75 }}
      >
        <ToggleButton value="folders" sx={{ py: 0.1 }} title="One tree, as the game sees it">
          One tree
        </ToggleButton>
        <ToggleButton value="archives" sx={{ py: 0.1 }} title="Each archive as a root of its own">
          Archives
        </ToggleButton>
      </ToggleButtonGroup>
      {by === 'folders' ? (
        <FolderTree gameId={gameId} chosen={view.folder} onChoose={(folder) => onView({ folder })} />
      ) : (
        <ArchiveRoots
          gameId={gameId}
          chosen={view.archive}
          onChoose={(archive) => onView({ archive, folder: '' })}
        />
      )}
      <Overlooked gameId={gameId} view={view} onView={onView} />
    </Box>
  );
});

const HIDDEN = 'is:hidden';

/** What a tree of winners does not show of itself, with how much of it there is. */
function Overlooked({ gameId, view, onView }: Props) {
  const { data: archives } = useArchives(gameId);
  const { data: hidden } = useQuery({
    queryKey: ['hidden-count', gameId],
    queryFn: () => api.get<EntryPage>(`games/${gameId}/entries?search=${HIDDEN}&limit=1`),
  });
  const { data: programs } = useQuery({
    queryKey: ['program-count', gameId],
    queryFn: () => api.get<EntryPage>(`games/${gameId}/entries?kind=program&limit=1`),
  });
  const loose = archives?.find(({ sort }) => sort === 'loose');
  const rows: [string, number, boolean, () => void][] = [
    [
      'Loose files',
      loose?.entries ?? 0,
      loose !== undefined && view.archive === String(loose.id),
      () =>
        onView({ archive: view.archive === String(loose?.id) ? '' : String(loose?.id ?? ''), folder: '' }),
    ],
    [
      'Programs',
      programs?.total ?? 0,
      view.kind === 'program',
      () => onView({ kind: view.kind === 'program' ? '' : 'program' }),
    ],
    [
      'Hidden by others',
      hidden?.total ?? 0,
      view.search === HIDDEN,
      () => onView({ search: view.search === HIDDEN ? '' : HIDDEN, folder: '' }),
    ],
  ];
  return (
    <Box sx={{ borderTop: 1, borderColor: 'line', py: 0.5, flexShrink: 0 }}>
      {rows
        .filter(([, count]) => count > 0)
        .map(([title, count, isOn, go]) => (
          <Box
            key={title}
            component="button"
            aria-pressed={isOn}
            onClick={go}
            sx={{
              all: 'unset',
              boxSizing: 'border-box',
              width: '100%',
              height: 26,
              display: 'flex',
              alignItems: 'center',
              px: 1.5,
              cursor: 'pointer',
              fontWeight: isOn ? 700 : 400,
              bgcolor: isOn ? 'tint' : 'transparent',
              '&:hover': { bgcolor: 'tint' },
              '&:focus-visible': { outline: '2px solid', outlineColor: 'brass', outlineOffset: -2 },
            }}
          >
            <Box sx={{ flex: 1 }}>{title}</Box>
            <Box sx={{ color: 'ink2', fontSize: 12.5 }}>{number(count)}</Box>
          </Box>
        ))}
    </Box>
  );
}
