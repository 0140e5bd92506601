'use client';
import Box from '@mui/material/Box';
import { PageLink } from '../kit/PageLink';
import { usePathname, useRouter } from 'next/navigation';
import { useEffect } from 'react';
import type { Link as ChainLink, LinkState } from '@/server/entries/chain';
import { useChain } from '../queries';
import { useMod } from '../use-mod';

const TITLES: Record<ChainLink['name'], string> = {
  folder: 'Folder',
  locks: 'Locks',
  contents: 'Contents',
  changes: 'Changes',
  build: 'Build',
  installed: 'Installed',
  trial: 'Trial',
};
const COLOURS: Record<LinkState, string> = { good: 'good', look: 'look', bad: 'bad', none: 'mute' };
const WORDS: Record<LinkState, string> = {
  good: 'in order',
  look: 'to look at',
  bad: 'broken',
  none: 'not begun',
};
const ALL = Object.keys(TITLES) as ChainLink['name'][];

/** The game's own progress strip: every link of the work with its state and one line of fact; the navigation. */
export function Chain({ gameId }: { gameId: number }) {
  const { mod } = useMod(gameId);
  const { data } = useChain(gameId, mod?.id);
  const path = usePathname();
  const router = useRouter();
  const at = ALL.findIndex((name) => path.startsWith(`/games/${gameId}/${name}`));
  useEffect(() => {
    const press = (event: KeyboardEvent): void => {
      const by = event.key === ']' ? 1 : event.key === '[' ? -1 : 0;
      const target = event.target as HTMLElement;
      if (by === 0 || event.ctrlKey || event.metaKey || event.altKey) return;
      if (target.closest('input:not([type=checkbox]), textarea, [contenteditable], [role=dialog]')) return;
      const next = ALL[at + by];
      if (next) router.push(`/games/${gameId}/${next}`);
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, [at, gameId, router]);
  return (
    <Box
      component="nav"
      aria-label="Chain"
      sx={{
        flexShrink: 0,
        height: 60,
        display: 'flex',
        px: 1,
        bgcolor: 'panel',
        borderBottom: 1,
        borderColor: 'line',
      }}
    >
      {ALL.map((name) => {
        const link = data?.find((one) => one.name === name);
        const here = path.startsWith(`/games/${gameId}/${name}`);
        const state = link?.state ?? 'none';
        return (
          <Box
            key={name}
            component={PageLink}
            href={`/games/${gameId}/${name}`}
            aria-current={here ? 'page' : undefined}
            data-state={state}
            sx={{
              flex: '1 1 0',
              minWidth: 0,
              maxWidth: 184,
              px: 1.25,
              pt: 1,
              color: 'text.primary',
              textDecoration: 'none',
              borderBottom: 3,
              borderColor: here ? 'brass' : 'transparent',
              '&:hover': { bgcolor: 'tint' },
            }}
          >
            <Box
              sx={{
                display: 'flex',
                alignItems: 'center',
                gap: 1,
                fontWeight: 700,
                color: here ? 'brass' : 'inherit',
              }}
            >
              <Box
                role="img"
                aria-label={WORDS[state]}
                sx={{
                  width: 10,
                  height: 10,
                  borderRadius: '50%',
                  border: 1.5,
                  borderColor: COLOURS[state],
                  bgcolor: state === 'none' ? 'transparent' : COLOURS[state],
                }}
              />
              {TITLES[name]}
            </Box>
            <Box
              sx={{
                fontSize: 12.5,
                color: 'ink2',
                whiteSpace: 'nowrap',
                overflow: 'hidden',
                textOverflow: 'ellipsis',
              }}
            >
              {link?.fact ?? '…'}
            </Box>
          </Box>
        );
      })}
    </Box>
  );
}
