'use client';
import ArrowUpwardRounded from '@mui/icons-material/ArrowUpwardRounded';
import FolderRounded from '@mui/icons-material/FolderRounded';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState, type KeyboardEvent } from 'react';
import type { BrowsedFolder } from '@/server/games/browse-folders';
import { api } from '../api';
import { number, plural } from '../format';
import { useAction } from '../queries';
import { Loading } from './Blank';

const RECENT = 'zero-latch-recent-folders';
const MOST_RECENT = 6;

function recentFolders(): string[] {
  try {
    return JSON.parse(localStorage.getItem(RECENT) ?? '[]') as string[];
  } catch {
    return [];
  }
}

const rowStyle = {
  all: 'unset',
  boxSizing: 'border-box',
  display: 'flex',
  alignItems: 'center',
  gap: 1,
  width: '100%',
  px: 1,
  py: 0.5,
  cursor: 'pointer',
  overflowWrap: 'anywhere',
  '&:hover': { bgcolor: 'tint' },
  '&:focus-visible': { outline: '2px solid', outlineColor: 'brass', outlineOffset: -2 },
} as const;

/** Looks around in the folders of the machine; by mouse, or by arrows, Enter and Backspace. */
export function FolderChooser({
  title,
  start,
  onChoose,
  onClose,
}: {
  title: string;
  start: string;
  onChoose: (folder: string) => void;
  onClose: () => void;
}) {
  const [at, setAt] = useState(start);
  const [active, setActive] = useState(0);
  const [making, setMaking] = useState<string>();
  const [recent] = useState(recentFolders);
  const rows = useRef<HTMLDivElement>(null);
  const { data, error } = useQuery({
    queryKey: ['folders-of-machine', at],
    retry: false,
    queryFn: () => api.get<BrowsedFolder>(`folders${at ? `?path=${encodeURIComponent(at)}` : ''}`),
  });
  const go = (to: string): void => {
    setAt(to);
    setActive(0);
  };
  const make = useAction(
    (name: string) => api.post<{ path: string }>('folders', { path: `${data!.path}/${name}` }),
    ({ path }) => {
      setMaking(undefined);
      go(path);
    },
  );
  const choose = (): void => {
    if (!data) return;
    const kept = [data.path, ...recent.filter((one) => one !== data.path)].slice(0, MOST_RECENT);
    localStorage.setItem(RECENT, JSON.stringify(kept));
    onChoose(data.path);
  };
  const folders = data?.folders ?? [];
  useEffect(() => {
    rows.current?.querySelector<HTMLElement>('[tabindex="0"]')?.focus();
  }, [data?.path, active]);
  const press = (event: KeyboardEvent): void => {
    const to: Record<string, number> = {
      ArrowDown: Math.min(folders.length - 1, active + 1),
      ArrowUp: Math.max(0, active - 1),
      Home: 0,
      End: folders.length - 1,
    };
    if (event.key in to) {
      event.preventDefault();
      setActive(to[event.key]!);
    } else if (event.key === 'Backspace' && data?.parent) {
      event.preventDefault();
      go(data.parent);
    } else if (event.key.length === 1 && /\S/.test(event.key) && !event.ctrlKey && !event.metaKey) {
      const found = folders.findIndex(
        ({ name }, i) => i > active && name.toLowerCase().startsWith(event.key.toLowerCase()),
      );
      const first = folders.findIndex(({ name }) => name.toLowerCase().startsWith(event.key.toLowerCase()));
      if (found >= 0 || first >= 0) setActive(found >= 0 ? found : first);
    }
  };
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle sx={{ fontSize: 17 }}>{title}</DialogTitle>
      <DialogContent sx={{ display: 'flex', gap: 2, height: 440 }}>
        <Box component="nav" aria-label="Places" sx={{ width: 210, flexShrink: 0, overflow: 'auto' }}>
          {recent.length > 0 && <Heading>Used last</Heading>}
          {recent.map((path) => (
            <Box key={path} component="button" title={path} onClick={() => go(path)} sx={rowStyle}>
              {path.split('/').at(-1) || path}
            </Box>
          ))}
          <Heading>Begin at</Heading>
          {data?.places.map((place) => (
            <Box
              key={place.path}
              component="button"
              title={place.path}
              onClick={() => go(place.path)}
              sx={rowStyle}
            >
              {place.title}
            </Box>
          ))}
        </Box>
        <Box sx={{ flex: 1, minWidth: 0, display: 'flex', flexDirection: 'column' }}>
          <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, mb: 1 }}>
            <Button
              size="small"
              startIcon={<ArrowUpwardRounded />}
              disabled={!data?.parent}
              onClick={() => data?.parent && go(data.parent)}
            >
              Up
            </Button>
            <Box className="mono" sx={{ flex: 1, overflowWrap: 'anywhere', fontWeight: 600 }}>
              {data?.path}
            </Box>
            <Button size="small" disabled={!data} onClick={() => setMaking('')}>
              New folder
            </Button>
          </Box>
          {making !== undefined && (
            <Box
              component="form"
              sx={{ display: 'flex', gap: 1, mb: 1 }}
              onSubmit={(event) => {
                event.preventDefault();
                if (making.trim()) make.mutate(making.trim());
              }}
            >
              <TextField
                autoFocus
                size="small"
                fullWidth
                label="Name of the new folder"
                value={making}
                onChange={(event) => setMaking(event.target.value)}
              />
              <Button type="submit" disabled={making.trim() === ''} loading={make.isPending}>
                Make
              </Button>
            </Box>
          )}
          {error && <Box sx={{ color: 'bad' }}>{error.message}</Box>}
          {!data && !error && <Loading what="Looking" />}
          <Box
            ref={rows}
            role="listbox"
            aria-label="Folders in it"
            onKeyDown={press}
            sx={{ flex: 1, overflow: 'auto', border: 1, borderColor: 'line', borderRadius: 1 }}
          >
            {folders.map((folder, i) => (
              <Box
                key={folder.path}
                component="div"
                role="option"
                aria-selected={i === active}
                tabIndex={i === active ? 0 : -1}
                onClick={() => setActive(i)}
                onDoubleClick={() => go(folder.path)}
                onKeyDown={(event: KeyboardEvent) => {
                  if (event.key === 'Enter') {
                    event.preventDefault();
                    go(folder.path);
                  }
                }}
                sx={{ ...rowStyle, bgcolor: i === active ? 'tint' : 'transparent' }}
              >
                <FolderRounded sx={{ fontSize: 18, color: 'ink2' }} />
                {folder.name}
              </Box>
            ))}
            {data && folders.length === 0 && <Box sx={{ p: 1, color: 'ink2' }}>No folders in it.</Box>}
          </Box>
          <Box sx={{ color: 'ink2', fontSize: 12.5, mt: 0.5 }}>
            {data &&
              `${plural(folders.length, 'folder')}${data.isCut ? ' of more' : ''}, ${number(data.files)} files. `}
            Enter opens one, Backspace goes up.
          </Box>
        </Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button disabled={!folders[active]} onClick={() => folders[active] && go(folders[active].path)}>
          Open {folders[active]?.name ?? ''}
        </Button>
        <Button variant="contained" disabled={!data} onClick={choose}>
          Choose {data?.path.split('/').at(-1) || 'this folder'}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function Heading({ children }: { children: string }) {
  return <Box sx={{ fontSize: 12.5, fontWeight: 700, color: 'ink2', px: 1, pt: 1, pb: 0.5 }}>{children}</Box>;
}
