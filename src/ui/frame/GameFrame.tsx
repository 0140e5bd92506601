'use client';
import MenuBookRounded from '@mui/icons-material/MenuBookRounded';
import TranslateRounded from '@mui/icons-material/TranslateRounded';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import type { ReactNode } from 'react';
import { Failed } from '../kit/Blank';
import { PageLink } from '../kit/PageLink';
import { useGame } from '../queries';
import { Chain } from './Chain';
import { ModMenu } from './ModMenu';
import { TopBar } from './TopBar';

/** Everything of one game: the bar with its name, the chain, and below them the screen. */
export function GameFrame({ gameId, children }: { gameId: number; children: ReactNode }) {
  const { data: game, error } = useGame(gameId);
  return (
    <Box sx={{ height: '100dvh', display: 'flex', flexDirection: 'column', minWidth: 900 }}>
      <Box
        component="a"
        href="#content"
        sx={{
          position: 'absolute',
          left: 8,
          top: -60,
          zIndex: 2000,
          px: 2,
          py: 1,
          bgcolor: 'background.paper',
          color: 'text.primary',
          '&:focus': { top: 8 },
        }}
      >
        Skip to the content
      </Box>
      <TopBar
        mod={
          <>
            <Tooltip title="Tables of the game, and where everything is named">
              <IconButton
                component={PageLink}
                href={`/games/${gameId}/read`}
                aria-label="Read tables"
                sx={{ color: 'barInk' }}
                size="small"
              >
                <MenuBookRounded fontSize="small" />
              </IconButton>
            </Tooltip>
            <Tooltip title="Text desk: all lines of the game">
              <IconButton
                component={PageLink}
                href={`/games/${gameId}/desk`}
                aria-label="Text desk"
                sx={{ color: 'barInk' }}
                size="small"
              >
                <TranslateRounded fontSize="small" />
              </IconButton>
            </Tooltip>
            <ModMenu gameId={gameId} />
          </>
        }
      >
        <Box sx={{ fontWeight: 600, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
          {game?.title}
        </Box>
      </TopBar>
      <Chain gameId={gameId} />
      <Box component="main" id="content" tabIndex={-1} sx={{ flex: 1, minHeight: 0, outline: 'none' }}>
        {error && !game ? <Failed error={error} /> : children}
      </Box>
    </Box>
  );
}
