'use client';
import BookmarkBorderRounded from '@mui/icons-material/BookmarkBorderRounded';
import DeleteOutlineRounded from '@mui/icons-material/DeleteOutlineRounded';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Popover from '@mui/material/Popover';
import TextField from '@mui/material/TextField';
import Tooltip from '@mui/material/Tooltip';
import { useQuery } from '@tanstack/react-query';
import { memo, useEffect, useState } from 'react';
import type { SavedSearch } from '@/server/entries/saved-searches';
import { api } from '../api';
import { useAction } from '../queries';

const EXAMPLES = [
  ['cape odd', 'both words in the path'],
  ['*_hull.sheet', 'a pattern for the name'],
  ['/^actors.*ibis/', 'an expression for the path'],
  ['kind:sound size:>1MB', 'a kind and a size'],
  ['in:amends is:hidden', 'in an archive, hidden by others'],
  ['hash:00afa0', 'a hash or its first digits'],
  ['tag:done -cape', 'a tag, without a word'],
] as const;

const RECENT = 'zero-latch-searches';
const MOST_RECENT = 8;
/** A search that stands so long was meant. */
const SETTLED_MS = 1500;

function recentOf(gameId: number): string[] {
  try {
    return JSON.parse(localStorage.getItem(`${RECENT}-${gameId}`) ?? '[]') as string[];
  } catch {
    return [];
  }
}

/** Keeps what was searched for, once it has stood for a moment. */
export function useRecentSearch(gameId: number, search: string): void {
  useEffect(() => {
    if (search.trim() === '') return;
    const settled = setTimeout(() => {
      const next = [search, ...recentOf(gameId).filter((one) => one !== search)].slice(0, MOST_RECENT);
      localStorage.setItem(`${RECENT}-${gameId}`, JSON.stringify(next));
    }, SETTLED_MS);
    return () => clearTimeout(settled);
  }, [gameId, search]);
}

/** How to search, what was searched for last, and searches that were kept. */
export const SearchMenu = memo(function SearchMenu({
  gameId,
  onSearch,
  onAddress,
}: {
  gameId: number;
  onSearch: (search: string) => void;
  onAddress: (address: string) => void;
}) {
  const [at, setAt] = useState<HTMLElement | null>(null);
  const [title, setTitle] = useState('');
  const { data: saved = [] } = useQuery({
    queryKey: ['searches', gameId],
    queryFn: () => api.get<SavedSearch[]>(`games/${gameId}/searches`),
  });
  const keep = useAction(
    () => api.post(`games/${gameId}/searches`, { title, address: window.location.search.replace(/^\?/, '') }),
    () => setTitle(''),
  );
  const drop = useAction((id: number) => api.remove(`games/${gameId}/searches?id=${id}`));
  const close = (): void => setAt(null);
  const recent = at ? recentOf(gameId) : [];
  const line = (key: string, text: string, note: string, go: () => void) => (
    <Box
      key={key}
      component="button"
      onClick={() => {
        go();
        close();
      }}
      sx={{
        all: 'unset',
        boxSizing: 'border-box',
        width: '100%',
        display: 'flex',
        gap: 2,
        py: 0.4,
        cursor: 'pointer',
        '&:hover, &:focus-visible': { bgcolor: 'tint' },
      }}
    >
      <Box className="mono" sx={{ flex: 1, overflowWrap: 'anywhere' }}>
        {text}
      </Box>
      <Box sx={{ color: 'ink2', fontSize: 13 }}>{note}</Box>
    </Box>
  );
  const head = (text: string) => (
    <Box sx={{ fontWeight: 700, fontSize: 13, mt: 1.5, mb: 0.5, '&:first-of-type': { mt: 0 } }}>{text}</Box>
  );
  return (
    <>
      <Tooltip title="Kept and recent searches, and how to search">
        <IconButton size="small" aria-label="Searches" onClick={(event) => setAt(event.currentTarget)}>
          <BookmarkBorderRounded fontSize="small" />
        </IconButton>
      </Tooltip>
      <Popover
        open={at !== null}
        anchorEl={at}
        onClose={close}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
      >
        <Box role="region" aria-label="Searches" sx={{ p: 2, width: 460 }}>
          {saved.length > 0 && head('Kept')}
          {saved.map((one) => (
            <Box key={one.id} sx={{ display: 'flex', alignItems: 'center' }}>
              {line(`kept ${one.id}`, one.title, '', () => onAddress(one.address))}
              <IconButton size="small" aria-label={`Drop ${one.title}`} onClick={() => drop.mutate(one.id)}>
                <DeleteOutlineRounded fontSize="small" />
              </IconButton>
            </Box>
          ))}
          <Box
            component="form"
            sx={{ display: 'flex', gap: 1, mt: 1 }}
            onSubmit={(event) => {
              event.preventDefault();
              keep.mutate(undefined);
            }}
          >
            <TextField
              fullWidth
              value={title}
              onChange={({ target }) => setTitle(target.value)}
              placeholder="Keep what is shown now as…"
              slotProps={{ htmlInput: { 'aria-label': 'Title of the search' } }}
            />
            <Button type="submit" variant="outlined" disabled={title.trim() === ''}>
              Keep
            </Button>
          </Box>
          {recent.length > 0 && head('Recent')}
          {recent.map((one) => line(`recent ${one}`, one, '', () => onSearch(one)))}
          {head('How to search')}
          {EXAMPLES.map(([text, note]) => line(text, text, note, () => onSearch(text)))}
        </Box>
      </Popover>
    </>
  );
});
